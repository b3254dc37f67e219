/** Work: all projects that one may see, and starting a new one. */
import { addDays, differenceInCalendarDays, format, max, min, parseISO } from "date-fns";
import { useMemo, useState } from "react";
import { Link } from "react-router";
import type { ProjectLine } from "../../data/api";
import { manages, useMe, usePeople, useWork } from "../../data/hooks";
import { Button, Empty, Failed, Loading } from "../../parts/basics";
import { count, sayDay, sayFull } from "../../parts/format";
import { Health } from "../../parts/health";
import { Tile } from "../../parts/tile";
import { useToldLine } from "../../reports/newest";
import { SheetBar } from "../../shell/sheet-bar";
import { TitleLine } from "../../shell/title-line";
import { WORD } from "../../views/word";
import { NewProject } from "./new-project";

const ORDER = { slipping: 0, strained: 1, steady: 2, not_judged: 3 };

export default function Work() {
  const [archived, setArchived] = useState(false);
  const [starting, setStarting] = useState<"project" | "portfolio" | null>(null);
  const { data, error, refetch } = useWork(archived);
  const me = useMe();
  const lines = useMemo(
    () => [...(data ?? [])].sort((a, b) => ORDER[a.health] - ORDER[b.health] || a.name.localeCompare(b.name)),
    [data],
  );
  const late = lines.reduce((sum, line) => sum + line.late, 0);
  const unowned = lines.reduce((sum, line) => sum + line.unowned, 0);
  const mayStart = manages(me.person);
  return (
    <>
      <TitleLine title={`Work at ${me.organisation}`}>
        {data && (
          <>
            <span>
              <b>{count(lines.length, "project")}</b>
            </span>
            <span>
              <b>{late}</b> late
            </span>
            <span>
              <b>{unowned}</b> without an owner
            </span>
          </>
        )}
        {mayStart && (
          <>
            <Button className="-my-1.5 ml-2" onClick={() => setStarting("portfolio")}>
              New portfolio
            </Button>
            <Button look="go" className="-my-1.5" onClick={() => setStarting("project")}>
              New project
            </Button>
          </>
        )}
      </TitleLine>
      <div className="px-3 pb-2.5 text-[13.5px] text-ink-2 sm:px-[18px]">
        Showing projects that are{" "}
        <button type="button" className={WORD} onClick={() => setArchived(!archived)} title="Switch">
          {archived ? "archived" : "at work"}
        </button>
        , the most troubled first
      </div>
      <div className="min-h-0 flex-1 overflow-auto border-t border-rule bg-sheet" tabIndex={-1}>
        {error ? (
          <Failed error={error} retry={refetch} />
        ) : !data ? (
          <Loading what="projects" />
        ) : lines.length ? (
          <Table lines={lines} />
        ) : (
          <Empty title={archived ? "Nothing is archived" : "No projects yet"}>
            {mayStart ? (
              <>
                <p className="mb-3">A project holds the tasks, the people and the dates of one intention.</p>
                <Button look="go" onClick={() => setStarting("project")}>
                  Start the first one
                </Button>
              </>
            ) : (
              <p>You are in no project yet. Ask its lead to add you.</p>
            )}
          </Empty>
        )}
      </div>
      <SheetBar sheets={[{ to: "/work", name: "Projects" }]} current="Projects" />
      {starting && <NewProject portfolio={starting === "portfolio"} close={() => setStarting(null)} />}
    </>
  );
}

function Table({ lines }: { lines: ProjectLine[] }) {
  const { byId } = usePeople();
  const { now } = useMe();
  const toldOf = useToldLine();
  const dated = lines
    .flatMap((line) => [line.start, line.finish].filter((at) => at !== null))
    .map((at) => parseISO(at));
  const from = addDays(min([now, ...dated]), -7);
  const to = addDays(max([now, ...dated]), 7);
  const span = Math.max(1, differenceInCalendarDays(to, from));
  const x = (at: Date) => (differenceInCalendarDays(at, from) / span) * 100;
  return (
    <table className="w-full border-collapse">
      <thead>
        <tr className="h-[30px] border-b border-rule-2 text-left text-[11.5px] text-ink-3 [&_th]:font-normal">
          <th className="pl-3 sm:pl-[18px]">Project</th>
          <th className="w-12">Lead</th>
          <th className="w-28">Health</th>
          <th className="hidden w-40 md:table-cell">Done</th>
          <th className="w-20 text-right">Finish</th>
          <th className="w-16 pr-3 text-right">Late</th>
          <th className="relative hidden pl-4 lg:table-cell">
            {format(from, "MMM yyyy")} to {format(to, "MMM yyyy")}
          </th>
        </tr>
      </thead>
      <tbody>
        {lines.map((line) => (
          <tr key={line.id} className="h-[52px] border-b border-rule hover:bg-paper">
            <td className="pl-3 sm:pl-[18px]">
              <Link to={`/p/${line.code}`} className="group flex items-baseline gap-3">
                <span className="w-9 flex-none text-[11px] font-semibold tracking-[.08em] text-rose">{line.code}</span>
                <span>
                  <span className="font-head text-[15px] font-semibold group-hover:underline">{line.name}</span>
                  <span className="block text-[12px] text-ink-2">
                    {count(line.tasks, "task")}
                    {line.unowned > 0 && `, ${line.unowned} without an owner`}
                    {line.held > 0 && `, ${line.held} held`}
                    {line.portfolio && ", portfolio"}
                    {line.private && ", private"}
                    {toldOf(line.code)}
                  </span>
                </span>
              </Link>
            </td>
            <td>
              <Tile person={byId.get(line.lead_id ?? "")} />
            </td>
            <td>
              <Health value={line.health} rule={line.health_rule} />
            </td>
            <td className="hidden md:table-cell">
              <span className="flex items-center gap-2">
                <span className="flex h-2 w-20 bg-band">
                  <span className="bg-ink" style={{ width: `${line.percent}%` }} />
                </span>
                {line.percent} %
              </span>
            </td>
            <td className="text-right" title={sayFull(line.finish)}>
              {sayDay(line.finish, now)}
              {line.agreed_days !== null && line.agreed_days !== 0 && (
                <span
                  className={`block text-[11.5px] leading-tight ${line.agreed_days > 0 ? "text-ember" : "text-ink-2"}`}
                >
                  {count(Math.abs(line.agreed_days), "day")} {line.agreed_days > 0 ? "past" : "before"} the agreed date
                </span>
              )}
            </td>
            <td className={`pr-3 text-right ${line.late ? "font-semibold text-ember" : "text-ink-3"}`}>
              {line.late || "none"}
            </td>
            <td className="relative hidden pl-4 lg:table-cell" aria-hidden="true">
              <svg width="100%" height="30" className="block overflow-visible" preserveAspectRatio="none">
                {line.start && line.finish && (
                  <>
                    <rect
                      x={`${x(parseISO(line.start))}%`}
                      width={`${Math.max(0.6, x(parseISO(line.finish)) - x(parseISO(line.start)))}%`}
                      y="11"
                      height="9"
                      fill="var(--color-band)"
                      stroke="var(--color-ink-3)"
                    />
                    <rect
                      x={`${x(parseISO(line.start))}%`}
                      width={`${((x(parseISO(line.finish)) - x(parseISO(line.start))) * line.percent) / 100}%`}
                      y="11"
                      height="9"
                      fill="var(--color-ink)"
                    />
                  </>
                )}
                <line
                  x1={`${x(now)}%`}
                  x2={`${x(now)}%`}
                  y1="-11"
                  y2="41"
                  stroke="var(--color-rose)"
                  strokeWidth="1.4"
                />
              </svg>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
