/** People › Time report: hours by whom, where, on what and when, with their sums; kept as sheets. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { format, parseISO } from "date-fns";
import { useEffect, useState } from "react";
import { Link, useNavigate } from "react-router";
import { ask, client, type Schemas } from "../../data/api";
import { useMe, usePeople, useWork } from "../../data/hooks";
import { allKey } from "../../data/keys";
import { Button, Empty, Failed, Loading, Tick } from "../../parts/basics";
import { DateField } from "../../parts/dates/field";
import { count } from "../../parts/format";
import { AsTable, type TableKind } from "../../parts/table-file";
import { peopleSheets } from "../../people/people";
import { SheetBar } from "../../shell/sheet-bar";
import { TitleLine } from "../../shell/title-line";
import { useSheetTabs } from "../../views/sheets";
import { ALL_PROJECTS } from "../../views/view";
import { Word } from "../../views/word";
import { sayTime } from "../say";
import { type Asked, BYS, type By, PERIODS, queryOf, useAsked } from "./asked";

type Report = Schemas["ReportOut"];
type Line = Schemas["ReportLineOut"];
type Change = (next: Partial<Asked>) => void;

function useReport(asked: Asked) {
  return useQuery({
    queryKey: allKey("time", "report", queryOf(asked)),
    queryFn: () => ask(client.GET("/api/time-report", { params: { query: queryOf(asked) } })),
    placeholderData: keepPreviousData,
  });
}

/** Where a report, or the entries behind it, lies as a table. */
function address(path: string, asked: Asked, kind: TableKind): string {
  const query = new URLSearchParams();
  for (const [name, value] of Object.entries(queryOf(asked)))
    for (const one of Array.isArray(value) ? value : value === undefined ? [] : [String(value)])
      query.append(name, one);
  return `${path}.${kind}?${query}`;
}

export default function TimeReport() {
  const me = useMe();
  const [asked, change] = useAsked(me.now);
  const { data, error, refetch } = useReport(asked);
  const tabs = useSheetTabs(ALL_PROJECTS, "time");
  useEffect(() => {
    document.title = "Time report · People";
  }, []);
  return (
    <>
      <TitleLine title="Time report">
        {data && (
          <>
            <span>
              <b>{sayTime(data.total.minutes)}</b> hours
            </span>
            <span>
              <b>{sayTime(data.total.billable)}</b> to be charged
            </span>
          </>
        )}
      </TitleLine>
      <Sentence {...{ asked, change }}>
        {data && (
          <>
            {count(data.total.entries, "entry", "entries")} ·{" "}
            <AsTable what="report " address={(kind) => address("/api/time-report", asked, kind)} /> ·{" "}
            <AsTable what="entries " address={(kind) => `/api/time.${kind}?first=${asked.first}&last=${asked.last}`} />
          </>
        )}
      </Sentence>
      <div className="min-h-0 flex-1 overflow-auto border-t border-rule-2 bg-sheet px-3 sm:px-[18px]" tabIndex={-1}>
        {error && !data ? (
          <Failed error={error} retry={refetch} />
        ) : !data ? (
          <Loading what="the report" rows={12} />
        ) : data.lines.length ? (
          <ReportTable report={data} change={change} />
        ) : (
          <Empty title="No hours in these days">
            Choose other days or people in the sentence above. Hours are entered in time sheets, in the folio of a task,
            or by the timer.
          </Empty>
        )}
      </div>
      <SheetBar sheets={peopleSheets(me.person)} current="Time report" {...tabs} />
    </>
  );
}

function Sentence({ asked, change, children }: { asked: Asked; change: Change; children: React.ReactNode }) {
  const { all, byId } = usePeople();
  const work = useWork();
  const projects = work.data ?? [];
  const toggle = (list: string[], one: string, on: boolean) =>
    on ? [...list, one] : list.filter((each) => each !== one);
  const nameOf = (by: By) => BYS.find(([one]) => one === by)?.[1] ?? by;
  const period = PERIODS.find(([one]) => one === asked.period)?.[1];
  const days = `${format(parseISO(asked.first), "d MMM yyyy")} to ${format(parseISO(asked.last), "d MMM yyyy")}`;
  return (
    <search
      aria-label="What is shown"
      className="flex flex-none flex-wrap items-center gap-x-1.5 gap-y-1 px-3 pt-1 pb-2 text-[13.5px] text-ink-2 sm:px-[18px]"
    >
      <span>
        Showing hours by{" "}
        <Word label="Grouped by" chooser={<Groups {...{ asked, change }} />}>
          {asked.by.map(nameOf).join(", then ")}
        </Word>{" "}
        of{" "}
        <Word
          label="Of whom"
          chooser={
            <>
              <Tick checked={!asked.who.length} onChange={() => change({ who: [] })}>
                everybody
              </Tick>
              {all.map((one) => (
                <Tick
                  key={one.id}
                  checked={asked.who.includes(one.id)}
                  onChange={(on) => change({ who: toggle(asked.who, one.id, on) })}
                >
                  {one.name}
                </Tick>
              ))}
            </>
          }
        >
          {asked.who.length ? asked.who.map((one) => byId.get(one)?.name ?? "somebody").join(", ") : "everybody"}
        </Word>{" "}
        in{" "}
        <Word
          label="In which projects"
          chooser={
            <>
              <Tick checked={!asked.projects.length} onChange={() => change({ projects: [] })}>
                every project
              </Tick>
              {projects.map((one) => (
                <Tick
                  key={one.code}
                  checked={asked.projects.includes(one.code)}
                  onChange={(on) => change({ projects: toggle(asked.projects, one.code, on) })}
                >
                  {one.code} {one.name}
                </Tick>
              ))}
            </>
          }
        >
          {asked.projects.length ? asked.projects.join(", ") : "every project"}
        </Word>
        ,{" "}
        <Word
          label="Whether charged"
          chooser={(
            [
              ["", "charged or not"],
              ["yes", "to be charged"],
              ["no", "not to be charged"],
            ] as const
          ).map(([id, words]) => (
            <Tick key={id} checked={asked.charged === id} onChange={() => change({ charged: id })}>
              {words}
            </Tick>
          ))}
        >
          {asked.charged === "yes" ? "to be charged" : asked.charged === "no" ? "not to be charged" : "charged or not"}
        </Word>
        , in{" "}
        <Word label="In which days" chooser={<Days {...{ asked, change }} />}>
          {period ?? days}
        </Word>
        {period && <span className="text-ink-3"> ({days})</span>}
      </span>
      <span className="ml-auto text-[12.5px]">{children}</span>
    </search>
  );
}

/** Up to three groups, in their order: what is ticked comes last. */
function Groups({ asked, change }: { asked: Asked; change: Change }) {
  return (
    <>
      <p className="px-2 py-1 text-[12px] text-ink-2">Up to three, in the order in which they are ticked.</p>
      {BYS.map(([by, name]) => {
        const at = asked.by.indexOf(by);
        return (
          <Tick
            key={by}
            checked={at >= 0}
            onChange={(on) => {
              const rest = asked.by.filter((one) => one !== by);
              if (on) change({ by: [...rest.slice(0, 2), by] });
              else if (rest.length) change({ by: rest });
            }}
          >
            {name}
            {at >= 0 && <span className="ml-auto text-[11.5px] text-ink-2">{at + 1}</span>}
          </Tick>
        );
      })}
    </>
  );
}

function Days({ asked, change }: { asked: Asked; change: Change }) {
  const [first, setFirst] = useState(asked.first);
  const [last, setLast] = useState(asked.last);
  return (
    <>
      {PERIODS.map(([id, name]) => (
        <Tick key={id} checked={asked.period === id} onChange={() => change({ period: id })}>
          {name}
        </Tick>
      ))}
      <form
        className="mt-1 flex flex-wrap items-center gap-1.5 border-t border-rule px-2 pt-2 pb-1"
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          if (first && last) change({ period: "own", first, last });
        }}
      >
        <DateField label="From" value={first} onChange={setFirst} /> to
        <DateField label="To" value={last} onChange={setLast} />
        <Button type="submit">Show</Button>
      </form>
    </>
  );
}

function ReportTable({ report, change }: { report: Report; change: Change }) {
  const most = Math.max(1, ...report.lines.filter((one) => one.keys.length === 1).map((one) => one.minutes));
  const estimates = report.lines.some((one) => one.estimate !== null);
  return (
    <table className="w-full border-collapse">
      <thead>
        <tr className="h-8 border-b border-rule-2 text-[12px] text-ink-2">
          <th scope="col" className="text-left font-semibold">
            <span className="inline-block first-letter:uppercase">
              {report.by.map((by) => BYS.find(([one]) => one === by)?.[1]).join(", ")}
            </span>
          </th>
          <th scope="col" className="w-24 text-right font-semibold">
            Hours
          </th>
          <th scope="col" className="hidden w-[22%] pl-4 text-left font-semibold sm:table-cell">
            To be charged is filled
          </th>
          <th scope="col" className="w-24 text-right font-semibold">
            To charge
          </th>
          {estimates && (
            <th scope="col" className="w-28 text-right font-semibold">
              Estimate
            </th>
          )}
          <th scope="col" className="hidden w-16 text-right font-semibold sm:table-cell">
            Entries
          </th>
        </tr>
      </thead>
      <tbody>
        {report.lines.map((line) => (
          <ReportRow key={line.keys.join(" ")} {...{ line, report, change, most, estimates }} />
        ))}
      </tbody>
      <tfoot>
        <tr className="h-9 border-t border-rule-2 font-semibold">
          <th scope="row" className="text-left font-semibold">
            All of it
          </th>
          <td className="text-right tabular-nums">{sayTime(report.total.minutes)}</td>
          <td className="hidden sm:table-cell" />
          <td className="text-right tabular-nums">{sayTime(report.total.billable)}</td>
          {estimates && (
            <td className="text-right tabular-nums">
              {report.total.estimate === null ? "" : sayTime(report.total.estimate)}
            </td>
          )}
          <td className="hidden text-right tabular-nums sm:table-cell">{report.total.entries}</td>
        </tr>
      </tfoot>
    </table>
  );
}

function ReportRow({
  line,
  report,
  change,
  most,
  estimates,
}: {
  line: Line;
  report: Report;
  change: Change;
  most: number;
  estimates: boolean;
}) {
  const depth = line.keys.length - 1;
  const outer = depth === 0 && report.by.length > 1;
  const over = line.estimate !== null && line.minutes > line.estimate;
  const share = (minutes: number) => `${(100 * minutes) / most}%`;
  return (
    <tr className={`h-[29px] border-b border-rule ${outer ? "font-semibold" : ""}`}>
      <th
        scope="row"
        className={`max-w-0 truncate text-left ${outer ? "font-semibold" : "font-normal"}`}
        style={{ paddingLeft: depth * 18 }}
      >
        <Name {...{ line, report, change }} />
      </th>
      <td className="text-right tabular-nums">{sayTime(line.minutes)}</td>
      <td className="hidden pl-4 sm:table-cell" aria-hidden="true">
        <span className="relative block h-2.5 border border-ink-2" style={{ width: share(line.minutes) }}>
          <span
            className="absolute inset-y-0 left-0 bg-ink-2"
            style={{ width: `${line.minutes ? (100 * line.billable) / line.minutes : 0}%` }}
          />
        </span>
      </td>
      <td className="text-right font-normal tabular-nums">{line.billable ? sayTime(line.billable) : "–"}</td>
      {estimates && (
        <td className={`text-right font-normal tabular-nums ${over ? "text-ember" : ""}`}>
          {line.estimate === null ? "" : sayTime(line.estimate)}
          {over && <span className="sr-only">, more was spent</span>}
        </td>
      )}
      <td className="hidden text-right font-normal tabular-nums sm:table-cell">{line.entries}</td>
    </tr>
  );
}

/** What a group is called; it opens what it counts: a task its folio, a person or project their tasks. */
function Name({ line, report, change }: { line: Line; report: Report; change: Change }) {
  const navigate = useNavigate();
  const work = useWork();
  const by = report.by[line.keys.length - 1] as By;
  const key = line.keys.at(-1) ?? "";
  const label = report.labels[by]?.[key] ?? key;
  const code = report.tasks[key];
  if (by === "task" && code)
    return (
      <Link to={`/p/${code}/outline?open=${key}`} className="hover:underline" title={label}>
        {label}
      </Link>
    );
  const project = work.data?.find((one) => one.id === key);
  const into: Partial<Asked> | null =
    by === "person"
      ? { who: [key], by: ["project", "task"] }
      : by === "project" && project
        ? { projects: [project.code], by: ["task", "person"] }
        : by === "week" || by === "day" || by === "month"
          ? { ...spanOf(by, key), period: "own", by: ["person", "task"] }
          : null;
  if (!into) return <span title={label}>{label}</span>;
  return (
    <button
      type="button"
      className="max-w-full truncate font-[inherit] hover:underline"
      title={`${label}: what it counts`}
      onClick={() => {
        navigate(location.pathname + location.search); // so that the way back leads here
        change(into);
      }}
    >
      {label}
    </button>
  );
}

function spanOf(by: "day" | "week" | "month", key: string): { first: string; last: string } {
  const first = parseISO(by === "month" ? `${key}-01` : key);
  const last = new Date(first);
  if (by === "week") last.setDate(last.getDate() + 6);
  if (by === "month") last.setMonth(last.getMonth() + 1, 0);
  return { first: format(first, "yyyy-MM-dd"), last: format(last, "yyyy-MM-dd") };
}
