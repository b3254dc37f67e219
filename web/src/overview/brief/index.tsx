/** The brief: how the project stands, in sentences; what needs a decision; what is coming; done against plan. */
import { Suspense } from "react";
import { Link } from "react-router";
import type { Project, Schemas, TaskRow } from "../../data/api";
import { draftHere, withDraft } from "../../data/draft-here";
import { mayManage, useBrief, useMe, usePeople } from "../../data/hooks";
import { Serves } from "../../goals/serves";
import { Failed, Loading, Reading } from "../../parts/basics";
import { Facet } from "../../parts/facet";
import { count, sayDay, sayFull, sayHours, sayTaskDue, sayWhen, times } from "../../parts/format";
import { InView } from "../../parts/in-view";
import { later } from "../../parts/later";
import { Tile } from "../../parts/tile";
import { NewestReport } from "../../reports/newest";
import { PartsChoice } from "./parts-choice";

const Curve = later(() => import("./curve").then((module) => module.default));

type BriefData = Schemas["BriefOut"];

/** The parts that need room; the others stand beside them. */
const WIDE = ["reading", "states", "curve"];

export default function Brief({ project, openTask }: { project: Project; openTask: (id: string) => void }) {
  const { data, error, refetch } = useBrief(project.code);
  if (error) return <Failed error={error} retry={refetch} />;
  if (!data) return <Loading what="the brief" />;
  const parts = (wide: boolean) =>
    project.brief
      .filter((one) => WIDE.includes(one) === wide)
      .map((one) => <Part key={one} name={one} project={project} data={data} openTask={openTask} />);
  const [left, right] = [parts(true), parts(false)];
  const choice = mayManage(project) && !draftHere() && (
    <p className="mt-6 text-[12.5px]">
      <PartsChoice project={project} />
    </p>
  );
  return (
    <div
      className={`grid min-h-0 flex-1 overflow-auto max-lg:content-start ${left.length && right.length ? "lg:grid-cols-[minmax(0,1.47fr)_minmax(0,1fr)]" : ""}`}
      role="region"
      aria-label="Brief"
      tabIndex={0}
    >
      {left.length > 0 && (
        <section className="border-rule-2 px-3 py-4 sm:px-[18px] lg:border-r [&>*:first-child>:first-child]:mt-0">
          {left}
          {!right.length && choice}
        </section>
      )}
      {right.length > 0 && (
        <section className="px-3 py-4 sm:px-[18px] [&>*:first-child>:first-child]:mt-0">
          {right}
          {choice}
        </section>
      )}
    </div>
  );
}

interface PartProps {
  name: string;
  project: Project;
  data: BriefData;
  openTask: (id: string) => void;
}

function Part({ name, project, data, openTask }: PartProps) {
  switch (name) {
    case "reading":
      return (
        <p className="mb-5 max-w-[62ch] font-head text-[19px] leading-[1.42] text-ink">
          <Reading text={data.reading} />
        </p>
      );
    case "states":
      return <States project={project} data={data} />;
    case "curve":
      return data.curve.length > 1 ? (
        <div>
          <h2 className="mt-5 mb-1 text-[15px]">Done against plan</h2>
          <InView height={210}>
            <Suspense fallback={<div className="h-[210px]" />}>
              <Curve points={data.curve} />
            </Suspense>
          </InView>
        </div>
      ) : null;
    case "decisions":
      return <Decisions data={data} openTask={openTask} />;
    case "goals":
      return <Serves code={project.code} />;
    case "report":
      return draftHere() ? null : <NewestReport code={project.code} />;
    case "over":
      return <Over project={project} data={data} />;
    case "due":
      return <DueSoon data={data} openTask={openTask} />;
    default:
      return <LastChange project={project} data={data} />;
  }
}

function DueSoon({ data, openTask }: { data: BriefData; openTask: (id: string) => void }) {
  const { now } = useMe();
  return (
    <div>
      <h2 className="mt-5 mb-1 text-[15px]">
        Due in the next seven days <span className="font-normal text-ink-2">{data.due.length}</span>
      </h2>
      {data.due.map((row) => (
        <Line key={row.id} row={row} words={sayTaskDue(row, now)} openTask={openTask} />
      ))}
      {!data.due.length && <p className="text-ink-2">Nothing is due.</p>}
    </div>
  );
}

function LastChange({ project, data }: { project: Project; data: BriefData }) {
  const { byId } = usePeople();
  const { now } = useMe();
  const last = data.last_change;
  if (!last) return null;
  return (
    <p className="mt-5 text-[12.5px] text-ink-2">
      Last changed {sayWhen(last.at, now)} by {byId.get(last.person_id)?.short ?? "somebody"}: {last.what}.{" "}
      {!draftHere() && (
        <Link to={`/p/${project.code}/activity`} className="font-semibold text-rose underline decoration-rose-mid">
          All activity
        </Link>
      )}
    </p>
  );
}

function Decisions({ data, openTask }: { data: BriefData; openTask: (id: string) => void }) {
  const { now } = useMe();
  const late = new Set(data.late.map((row) => row.id));
  const held = data.held.filter((row) => !late.has(row.id));
  const heldIds = new Set(data.held.map((row) => row.id));
  const unowned = data.unowned.filter((row) => !late.has(row.id) && !heldIds.has(row.id));
  return (
    <div>
      <h2 className="mt-5 mb-1 text-[15px]">
        Needs a decision{" "}
        <span className="font-normal text-ink-2">
          {data.facts.late} late, {data.facts.held} held, {data.facts.unowned} unowned
        </span>
      </h2>
      {data.late.map((row) => (
        <Line
          key={row.id}
          row={row}
          wrong
          words={`${row.late_days} d late${row.pushes ? `, pushed ${times(row.pushes)}` : ""}${row.held ? `, held by ${row.held}` : ""}`}
          openTask={openTask}
        />
      ))}
      {held.map((row) => (
        <Line key={row.id} row={row} wrong words={`held by ${row.held}`} openTask={openTask} />
      ))}
      {unowned.map((row) => (
        <Line
          key={row.id}
          row={row}
          words={`no owner${row.finish ? `, due ${sayTaskDue(row, now)}` : ""}`}
          openTask={openTask}
        />
      ))}
      {!data.late.length && !held.length && !unowned.length && (
        <p className="text-ink-2">Nothing is late, held or without an owner.</p>
      )}
    </div>
  );
}

const MOST_OVER = 5;

/** Who is booked for more than they can do in the weeks ahead, with a way to see it. */
function Over({ project, data }: { project: Project; data: BriefData }) {
  const { byId } = usePeople();
  const { now } = useMe();
  if (!data.over.length) return null;
  return (
    <div>
      <h2 className="mt-5 mb-1 text-[15px]">
        Booked over{" "}
        <span className="font-normal text-ink-2">
          {count(new Set(data.over.map((one) => one.who)).size, "person", "people")}
        </span>
      </h2>
      {data.over.slice(0, MOST_OVER).map((one) => (
        <Link
          key={one.who + one.monday}
          to={`/p/${project.code}/load?from=${one.monday}&over=yes`}
          className="flex min-h-[29px] items-center gap-2 border-b border-rule/70 hover:bg-paper"
        >
          <Tile person={byId.get(one.who)} size={20} label={false} />
          <span className="min-w-24 flex-1 truncate">{byId.get(one.who)?.name}</span>
          <span className="text-[12.5px] text-ink-2">week of {sayDay(one.monday, now)}</span>
          <b className="w-16 text-right text-[12.5px] font-semibold text-ember">{sayHours(one.minutes)} over</b>
        </Link>
      ))}
      {data.over.length > MOST_OVER && (
        <Link
          to={`/p/${project.code}/load?by=week&over=yes`}
          className="text-[12.5px] font-semibold text-rose underline decoration-rose-mid"
        >
          and in {count(data.over.length - MOST_OVER, "more week", "more weeks")}
        </Link>
      )}
    </div>
  );
}

function Line({
  row,
  words,
  wrong,
  openTask,
}: {
  row: TaskRow;
  words: string;
  wrong?: boolean;
  openTask: (id: string) => void;
}) {
  const { byId } = usePeople();
  return (
    <button
      type="button"
      className="flex min-h-[29px] w-full items-center gap-2 border-b border-rule/70 hover:bg-paper"
      onClick={() => openTask(row.id)}
    >
      <Facet row={row} />
      <span className="min-w-24 flex-1 truncate">{row.title}</span>
      <span
        className={`truncate text-[12.5px] ${wrong ? "font-semibold text-ember" : "text-ink-2"}`}
        title={sayFull(row.finish)}
      >
        {words}
      </span>
      <Tile person={byId.get(row.owner_id ?? "")} size={20} />
    </button>
  );
}

/** Tasks by state: one bar a state, its number beside it, a link to those tasks. */
function States({ project, data }: { project: Project; data: BriefData }) {
  const most = Math.max(1, ...data.states.map((one) => one.tasks));
  const states = project.states.map((state) => ({
    state,
    tasks: data.states.find((one) => one.state_id === state.id)?.tasks ?? 0,
  }));
  const tone: Record<string, string> = {
    queued: "bg-rule-2",
    active: "bg-rose-mid",
    finished: "bg-ink",
    dropped: "bg-rule",
  };
  return (
    <div>
      <h2 className="mt-5 mb-1.5 text-[15px]">
        Tasks by state <span className="font-normal text-ink-2">{count(data.facts.tasks, "task")}</span>
      </h2>
      <ul className="grid max-w-[620px] gap-x-6 gap-y-0.5 sm:grid-cols-2">
        {states.map(({ state, tasks }) => (
          <li key={state.id}>
            <Link
              to={withDraft(`/p/${project.code}/outline?state=${state.id}`)}
              className="flex h-6 items-center gap-2 hover:bg-paper"
            >
              <span className="w-28 truncate text-ink-2" title={state.label}>
                {state.label}
              </span>
              <span className="flex h-2.5 flex-1 bg-paper">
                <span className={tone[state.state_class]} style={{ width: `${(tasks / most) * 100}%` }} />
              </span>
              <span className="w-7 text-right font-semibold">{tasks}</span>
            </Link>
          </li>
        ))}
      </ul>
    </div>
  );
}
