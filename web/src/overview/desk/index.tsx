/** The desk: what I own or help with over all projects, in order of consequence. */

import { useQueryClient } from "@tanstack/react-query";
import { addDays, format, isSameDay, parseISO } from "date-fns";
import { useState } from "react";
import { Link } from "react-router";
import { client, type Schemas, send, sentence } from "../../data/api";
import { useDesk, useMe } from "../../data/hooks";
import { allKey, refreshProject } from "../../data/keys";
import { note } from "../../data/notes";
import { remember } from "../../data/undo";
import { useDueNotes } from "../../goals/goals";
import { Empty, Failed, Loading, Tick } from "../../parts/basics";
import { Facet } from "../../parts/facet";
import { count, sayDay, sayFull, sayTaskDue, times } from "../../parts/format";
import { useNewestReports } from "../../reports/reports";
import { Horizon } from "../../shell/horizon";
import { SheetBar } from "../../shell/sheet-bar";
import { TitleLine } from "../../shell/title-line";
import { useWeeks } from "../../time/time";
import { TimerButton } from "../../time/timer-button";
import { useSheetTabs } from "../../views/sheets";
import { ALL_PROJECTS } from "../../views/view";
import { Word } from "../../views/word";
import { DESK_LENSES } from "./lenses";

type Item = Schemas["DeskItemOut"];

const SECTIONS = [
  ["late", "Late"],
  ["today", "Today"],
  ["this_week", "This week"],
  ["later", "Later"],
  ["undated", "Without a date"],
] as const;

export default function Desk() {
  const { now } = useMe();
  const { data, error, refetch } = useDesk();
  const [whose, setWhose] = useState<"both" | "own" | "help">("both");
  const [code, setCode] = useState<string | null>(null);
  const tabs = useSheetTabs(ALL_PROJECTS, null);
  const all = data?.items ?? [];
  const items = all.filter(
    (item) => (whose === "both" || (whose === "own") === item.mine) && (!code || item.code === code),
  );
  const codes = [...new Set(all.map((item) => item.code))].sort();
  const late = items.filter((item) => item.section === "late").length;
  const said = { both: "I own or help with", own: "I own", help: "I help with" };
  return (
    <>
      <TitleLine title={format(now, "EEEE d MMMM")}>
        <span className={late ? "text-ember" : ""}>
          <b className={late ? "!text-ember" : ""}>{late}</b> late
        </span>
        <span>
          <b>{items.filter((item) => item.section === "today").length}</b> due today
        </span>
        <span>
          <b>{items.length}</b> open
        </span>
      </TitleLine>
      <div className="px-3 pb-2.5 text-[13.5px] text-ink-2 sm:px-[18px]">
        Showing work{" "}
        <Word
          label="Whose work"
          chooser={(["both", "own", "help"] as const).map((one) => (
            <Tick key={one} checked={whose === one} onChange={() => setWhose(one)}>
              {said[one]}
            </Tick>
          ))}
        >
          {said[whose]}
        </Word>{" "}
        in{" "}
        <Word
          label="Projects shown"
          chooser={
            <>
              <Tick checked={!code} onChange={() => setCode(null)}>
                every project
              </Tick>
              {codes.map((one) => (
                <Tick key={one} checked={code === one} onChange={() => setCode(one)}>
                  {one}
                </Tick>
              ))}
            </>
          }
        >
          {code ?? "every project"}
        </Word>
        , in order of consequence
        <Weeks />
        <DueToTell />
        {data?.over && (
          <Link to="/people/load" className="ml-3 font-semibold text-ember underline decoration-ember/40">
            {data.over}
          </Link>
        )}
      </div>
      <div className="hidden sm:block">
        <Horizon data={data?.horizon} window={{ since: null, until: null }} />
      </div>
      <div className="min-h-0 flex-1 overflow-auto bg-sheet" tabIndex={-1}>
        {error ? (
          <Failed error={error} retry={refetch} />
        ) : !data ? (
          <Loading what="your desk" />
        ) : items.length ? (
          <div className="grid lg:min-h-full lg:grid-cols-[minmax(0,1.75fr)_minmax(0,1fr)]">
            <div className="border-rule-2 px-3 py-3 sm:px-[18px] lg:border-r">
              {SECTIONS.map(([section, title]) => {
                const here = items.filter((item) => item.section === section);
                if (!here.length) return null;
                return (
                  <section key={section} className="mb-4">
                    <h2 className="text-[15px]">
                      {title} <span className="font-normal text-ink-2">{here.length}</span>
                    </h2>
                    <ul>
                      {here.map((item) => (
                        <DeskLine key={item.row.id} item={item} />
                      ))}
                    </ul>
                  </section>
                );
              })}
            </div>
            <DayByDay items={items} />
          </div>
        ) : (
          <Empty title="Nothing waits for you">
            <p>
              Tasks that you own or help with, in any project, are here in the order in which they matter.{" "}
              <Link className="font-semibold text-rose underline" to="/work">
                Look at all work
              </Link>
            </p>
          </Empty>
        )}
      </div>
      <SheetBar sheets={DESK_LENSES} current="Next" {...tabs} />
    </>
  );
}

/** A week that was returned for the same reason in several projects is told of once. */
function oneLineEach(returned: Schemas["HandedWeekOut"][]) {
  const lines = new Map<string, { monday: string; word: string; codes: string[] }>();
  for (const { monday, word, code } of returned) {
    const line = lines.get(`${monday} ${word}`);
    if (line) line.codes.push(code);
    else lines.set(`${monday} ${word}`, { monday, word, codes: [code] });
  }
  return [...lines.values()];
}

/** Goals of one's own of which a progress note is due, and projects that one leads of which a report is. */
function DueToTell() {
  const { data: notes = [] } = useDueNotes();
  const { data: reports = [] } = useNewestReports();
  const { now } = useMe();
  const today = format(now, "yyyy-MM-dd");
  const due = [
    ...notes.map((one) => ({ to: `/goals?open=${one.id}`, what: `A note on “${one.title}”`, since: one.due })),
    ...reports.flatMap(({ code, leads, due: since }) =>
      leads && since && since <= today
        ? [{ to: `/p/${code}/reports/draft`, what: `A status report of ${code}`, since }]
        : [],
    ),
  ];
  return due.map(({ to, what, since }) => (
    <Link key={to} to={to} className="ml-3 font-semibold text-rose underline decoration-rose/40">
      {what} is due since {sayDay(since, now)}
    </Link>
  ));
}

/** Weeks that wait for one to be accepted, and one's own that were returned. */
function Weeks() {
  const { data } = useWeeks();
  const { now } = useMe();
  if (!data) return null;
  return (
    <>
      {oneLineEach(data.returned).map((one) => (
        <Link
          key={`${one.monday} ${one.word}`}
          to={`/desk/time?week=${one.monday}`}
          className="ml-3 font-semibold text-ember underline decoration-ember/40"
        >
          Your week of {sayDay(one.monday, now)} was returned ({one.codes.join(", ")}): {one.word}
        </Link>
      ))}
      {data.waiting.length > 0 && (
        <Link to="/people/time-sheets" className="ml-3 font-semibold text-rose underline decoration-rose/40">
          {count(data.waiting.length, "time sheet")} to accept
        </Link>
      )}
    </>
  );
}

/** The two weeks ahead, day by day: what is due when. */
function DayByDay({ items }: { items: Item[] }) {
  const { now } = useMe();
  const days = Array.from({ length: 14 }, (_, index) => addDays(now, index)).map((day) => ({
    day,
    due: items.filter((item) => item.row.finish && isSameDay(parseISO(item.row.finish), day) && !item.row.late_days),
  }));
  const beyond = items.filter(
    (item) => item.section === "later" && item.row.finish && parseISO(item.row.finish) > addDays(now, 14),
  );
  return (
    <aside aria-label="Day by day" className="px-3 py-3 sm:px-[18px]">
      <h2 className="mb-1 text-[15px]">Day by day</h2>
      <ol>
        {days
          .filter(({ day, due }) => due.length || ![0, 6].includes(day.getDay()))
          .map(({ day, due }) => (
            <li key={day.toISOString()} className="flex gap-3 border-b border-rule py-1.5">
              <span className={`w-20 flex-none ${isSameDay(day, now) ? "font-semibold text-rose" : "text-ink-2"}`}>
                {isSameDay(day, now) ? "Today" : format(day, "EEE d MMM")}
              </span>
              <span className="min-w-0 flex-1">
                {due.length ? (
                  due.map((item) => (
                    <Link
                      key={item.row.id}
                      to={`/p/${item.code}/outline?open=${item.row.id}`}
                      className="block truncate hover:underline"
                    >
                      {item.row.kind === "milestone" && "◆ "}
                      {item.row.title}
                    </Link>
                  ))
                ) : (
                  <span className="text-ink-3">nothing due</span>
                )}
              </span>
            </li>
          ))}
      </ol>
      {beyond.length > 0 && <p className="mt-2 text-ink-2">{count(beyond.length, "task")} further on.</p>}
    </aside>
  );
}

function reason(item: Item, now: Date): { text: string; wrong: boolean } {
  const { row } = item;
  const parts: string[] = [];
  if (row.late_days) parts.push(`${count(row.late_days, "day")} late`);
  else if (row.finish) parts.push(`due ${sayTaskDue(row, now)}`);
  else parts.push("no date yet");
  if (row.pushes) parts.push(`pushed ${times(row.pushes)}`);
  if (row.breaks_deadline) parts.push("past its deadline");
  return { text: parts.join(", "), wrong: row.late_days > 0 || row.breaks_deadline };
}

function DeskLine({ item }: { item: Item }) {
  const { now } = useMe();
  const queries = useQueryClient();
  const [busy, setBusy] = useState(false);
  const { row, code } = item;
  const why = reason(item, now);

  async function change(what: string, fields: Record<string, unknown>) {
    setBusy(true);
    try {
      const answer = await send((headers) =>
        client.PATCH("/api/projects/{code}/tasks", {
          params: { path: { code }, query: { since: "9999999.0" } },
          body: { tasks: [{ id: row.id, revision: row.revision, fields }] },
          headers,
        }),
      );
      if (answer.change) remember(queries, { change: answer.change, code, what });
      await queries.invalidateQueries({ queryKey: allKey("desk") });
      refreshProject(queries, code);
      note(what);
    } catch (error) {
      note(sentence(error), "wrong");
    } finally {
      setBusy(false);
    }
  }
  // a button that would bring a task forward is not offered
  const soon = item.section === "late" || item.section === "today" || item.section === "undated";
  const push = (to: string, words: string) => change(`Pushed “${row.title}” to ${words}`, { push_to: to });
  // quiet until the row is pointed at or has the focus: the work is what one looks at
  const button =
    "h-7 border border-transparent px-2 text-[12px] whitespace-nowrap text-ink-2 lights hover:!border-ink disabled:opacity-50";
  return (
    <li data-task={row.id} className="reveals flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-rule py-1.5">
      <Facet row={row} size={18} />
      <div className="min-w-0 flex-1 basis-60">
        <Link to={`/p/${code}/outline?open=${row.id}`} className="font-semibold hover:underline">
          {row.title}
        </Link>
        <p className="text-[12.5px] text-ink-2">
          <span className={why.wrong ? "font-semibold text-ember" : ""} title={sayFull(row.finish)}>
            {why.text}.
          </span>{" "}
          {item.state}
          {row.percent > 0 && `, ${row.percent} % done`}
          {row.held && <span className="hatched ml-1.5 px-1">held: {row.held}</span>}
          {!item.mine && ". You help"}
        </p>
      </div>
      <span className="w-14 text-right text-[12px] text-ink-3">
        {code} {row.number}
      </span>
      <span className="flex gap-1.5">
        {item.time && <TimerButton task={row} words className={button} />}
        {soon && (
          <button
            type="button"
            className={button}
            disabled={busy}
            onClick={() => push("tomorrow", "tomorrow")}
            aria-label={`${row.title}: to tomorrow`}
          >
            to tomorrow
          </button>
        )}
        {(soon || item.section === "this_week") && (
          <button
            type="button"
            className={button}
            disabled={busy}
            onClick={() => push("next mon", "Monday")}
            aria-label={`${row.title}: to Monday`}
          >
            to Monday
          </button>
        )}
        <button
          type="button"
          className={`${button} lights-first`}
          disabled={busy}
          onClick={() => change(`Finished “${row.title}”`, { percent: 100 })}
          aria-label={`Finish ${row.title}`}
        >
          Finish
        </button>
      </span>
    </li>
  );
}
