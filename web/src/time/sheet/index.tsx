/** A time sheet: one person's hours of a week. One's own on the desk; another's for who leads their projects. */
import { addDays, format, parseISO } from "date-fns";
import { ChevronLeft, ChevronRight, Plus } from "lucide-react";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { type Schemas, sentence } from "../../data/api";
import { useMe, usePeople } from "../../data/hooks";
import { note, orTell } from "../../data/notes";
import { Button, Empty, Failed, IconButton, Loading, Modal, Pop, Tick, Wrong } from "../../parts/basics";
import { Tile } from "../../parts/tile";
import { type Sheet, SheetBar } from "../../shell/sheet-bar";
import { TitleLine } from "../../shell/title-line";
import { TaskFinder } from "../../tasks/folio/task-finder";
import { sayTime, WEEK_WORDS } from "../say";
import { type SheetRow, type TimeSheet, useTimeSheet, useWeekActions } from "../time";
import { SheetGrid } from "./grid";

const iso = (day: Date) => format(day, "yyyy-MM-dd");

export function sayWeek(monday: string): string {
  const first = parseISO(monday);
  const last = addDays(first, 6);
  return `${format(first, first.getMonth() === last.getMonth() ? "d" : "d MMM")} to ${format(last, "d MMM yyyy")}`;
}

export function SheetPage({ person, sheets, current }: { person: string | null; sheets: Sheet[]; current: string }) {
  const me = useMe();
  const { byId } = usePeople();
  const [params, setParams] = useSearchParams();
  const day = params.get("week") ?? iso(me.now);
  const { data, error, refetch } = useTimeSheet(person, day);
  const who = person ? (byId.get(person)?.name ?? "somebody") : "";
  const goTo = (next: string) =>
    setParams((now) => {
      const after = new URLSearchParams(now);
      after.set("week", next);
      return after;
    });
  return (
    <>
      <TitleLine title={person ? `Time sheet of ${who}` : "Time sheet"}>{data && <Standing sheet={data} />}</TitleLine>
      {error && !data ? (
        <Failed error={error} retry={refetch} />
      ) : !data ? (
        <Loading what="the week" rows={8} />
      ) : (
        <Week key={`${person} ${data.monday}`} sheet={data} goTo={goTo} />
      )}
      <SheetBar sheets={sheets} current={current} />
    </>
  );
}

/** How much is entered, and how the week stands. */
function Standing({ sheet }: { sheet: TimeSheet }) {
  const entered =
    sheet.rows.flatMap((row) => row.entries).reduce((sum, one) => sum + one.minutes, 0) +
    sheet.other.reduce((sum, one) => sum + one, 0);
  return (
    <>
      <span>
        <b>{sayTime(entered)}</b> entered of {sayTime(sheet.capacity.reduce((sum, one) => sum + one, 0))}
      </span>
      {entered > 0 && (
        <span className={sheet.state === "returned" ? "text-ember" : ""}>
          <b className={sheet.state === "returned" ? "!text-ember" : ""}>{WEEK_WORDS[sheet.state]}</b>
        </span>
      )}
    </>
  );
}

function Week({ sheet, goTo }: { sheet: TimeSheet; goTo: (day: string) => void }) {
  const me = useMe();
  const [added, setAdded] = useState<SheetRow[]>([]);
  const [weekends, setWeekends] = useState(false);
  const known = new Set([...sheet.rows, ...sheet.offered].map((one) => one.task_id));
  const more = added.filter((one) => !known.has(one.task_id));
  const monday = parseISO(sheet.monday);
  const nothing = !sheet.rows.length && !sheet.offered.length && !more.length;
  return (
    <>
      <div className="flex flex-none flex-wrap items-center gap-x-2 gap-y-1 px-3 pb-2 text-[13.5px] text-ink-2 sm:px-[18px]">
        <span className="flex items-center gap-0.5">
          <IconButton label="The week before" onClick={() => goTo(iso(addDays(monday, -7)))}>
            <ChevronLeft size={15} />
          </IconButton>
          <b className="font-[550] text-ink" aria-live="polite">
            {sayWeek(sheet.monday)}
          </b>
          <IconButton label="The next week" onClick={() => goTo(iso(addDays(monday, 7)))}>
            <ChevronRight size={15} />
          </IconButton>
          <Button look="quiet" className="px-1.5" onClick={() => goTo(iso(me.now))}>
            This week
          </Button>
        </span>
        <Tick checked={weekends} onChange={setWeekends}>
          with the weekend
        </Tick>
        <span className="ml-auto flex items-center gap-2">
          <Acts sheet={sheet} />
        </span>
      </div>
      <Words sheet={sheet} />
      <div className="min-h-0 flex-1 overflow-auto border-t border-rule-2 bg-sheet px-3 sm:px-[18px]">
        {nothing ? (
          <Empty title="Nothing entered in this week">
            {sheet.mine
              ? "Add a task below and type hours into its days, or start the timer on a task."
              : "Nothing of this week lies in the projects that you lead."}
          </Empty>
        ) : (
          <SheetGrid sheet={sheet} added={more} weekends={weekends} />
        )}
        {!nothing && (
          <p className="pt-2 text-[12px] text-ink-2">
            Type hours into a cell: 2, 1:30, 45 min or 9:15-11. Space shows the entries of a cell, with their notes.
          </p>
        )}
        {sheet.mine && <AddTask sheet={sheet} add={(row) => setAdded((now) => [...now, row])} />}
      </div>
    </>
  );
}

/** What was said of the week, project by project. */
function Words({ sheet }: { sheet: TimeSheet }) {
  const { byId } = usePeople();
  const said = sheet.projects.filter((one) => one.word);
  if (!said.length) return null;
  return (
    <ul className="px-3 pb-2 sm:px-[18px]">
      {said.map((one) => (
        <li key={one.code} className="flex items-center gap-2">
          <Tile person={byId.get(one.by_id ?? "")} size={18} />
          <span className={one.state === "returned" ? "font-semibold text-ember" : "text-ink-2"}>
            {one.code} {WEEK_WORDS[one.state]}: {one.word}
          </span>
        </li>
      ))}
    </ul>
  );
}

function AddTask({ sheet, add }: { sheet: TimeSheet; add: (row: SheetRow) => void }) {
  const [open, setOpen] = useState(false);
  const known = new Set([...sheet.rows, ...sheet.offered].map((one) => one.task_id));
  return (
    <div className="py-2">
      <Pop
        label="Add a task"
        open={open}
        onOpenChange={setOpen}
        trigger={
          <button type="button" className="inline-flex min-h-8 items-center gap-1 text-rose hover:underline">
            <Plus size={14} aria-hidden="true" /> add a task
          </button>
        }
      >
        <TaskFinder
          without=""
          fits={(id) => !known.has(id)}
          onChoose={(task) => {
            setOpen(false);
            add({
              code: task.code,
              task_id: task.id,
              number: task.number,
              title: task.title,
              finished: false,
              in_bin: false,
              entries: [],
              may_enter: true,
              why: "",
            });
          }}
        />
      </Pop>
    </div>
  );
}

/** What can be done with the week as it stands. */
function Acts({ sheet }: { sheet: TimeSheet }) {
  const { turn } = useWeekActions();
  const [returning, setReturning] = useState(false);
  const states = sheet.projects.map((one) => one.state);
  const judged = sheet.projects.filter(
    (one) => one.may_judge && (one.state === "handed_in" || one.state === "accepted"),
  );
  const open = sheet.projects.filter((one) => one.minutes && (one.state === "open" || one.state === "returned"));
  return (
    <>
      {judged.length > 0 && <Judge sheet={sheet} judged={judged} returning={returning} setReturning={setReturning} />}
      {sheet.mine && states.includes("handed_in") && (
        <Button onClick={() => orTell(turn("/api/time-sheet/take-back", sheet.monday))}>Take it back</Button>
      )}
      {sheet.mine && open.length > 0 && (
        <Button look="go" onClick={() => orTell(turn("/api/time-sheet/hand-in", sheet.monday))}>
          Hand in the week
        </Button>
      )}
    </>
  );
}

function Judge({
  sheet,
  judged,
  returning,
  setReturning,
}: {
  sheet: TimeSheet;
  judged: Schemas["InProjectOut"][];
  returning: boolean;
  setReturning: (on: boolean) => void;
}) {
  const { judge } = useWeekActions();
  const [word, setWord] = useState("");
  const [wrong, setWrong] = useState("");
  const waits = judged.some((one) => one.state === "handed_in");
  const asked = { person_id: sheet.person_id, day: sheet.monday, codes: judged.map((one) => one.code) };
  return (
    <>
      <Button onClick={() => setReturning(true)}>Return it …</Button>
      {waits && (
        <Button
          look="go"
          onClick={() => judge({ ...asked, accept: true, word: "" }).catch((error) => note(sentence(error), "wrong"))}
        >
          Accept {judged.map((one) => one.code).join(", ")}
        </Button>
      )}
      {returning && (
        <Modal open onOpenChange={() => setReturning(false)} title="Return the week">
          <form
            noValidate
            onSubmit={async (event) => {
              event.preventDefault();
              try {
                await judge({ ...asked, accept: false, word });
                setReturning(false);
              } catch (error) {
                setWrong(sentence(error));
              }
            }}
          >
            <label className="mb-2 block">
              <span className="mb-1 block text-ink-2">What is to be mended</span>
              <textarea
                className="input h-20 w-full py-1"
                maxLength={500}
                value={word}
                onChange={(event) => {
                  setWord(event.target.value);
                  setWrong("");
                }}
              />
            </label>
            <Wrong text={wrong} />
            <Button look="go" type="submit">
              Return it
            </Button>
          </form>
        </Modal>
      )}
    </>
  );
}
