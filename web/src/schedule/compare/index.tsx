/** A draft and the plan side by side: finish, milestones, deadlines, the vein, and every task that moves. */
import type { Project, Schemas } from "../../data/api";
import { useMe } from "../../data/hooks";
import { count, sayFull, sayMove, sayWeekday } from "../../parts/format";
import { TaskName } from "../../parts/task-name";
import type { DraftComparison } from "../draft";
import { People } from "../ripple-card";

const MOST = 300;
const FIELD_WORDS: Record<string, string> = {
  owner_id: "owner",
  state_id: "state",
  held_reason: "held",
  waits_for: "links",
  constraint_type: "constraint",
  constraint_at: "date",
  percent: "percent done",
  actual_start: "start",
  actual_finish: "finish",
};

export default function Compare({
  project,
  comparison,
  openTask,
}: {
  project: Project;
  comparison: DraftComparison;
  openTask: (id: string) => void;
}) {
  const { ripple, draft, differences, overtaken } = comparison;
  return (
    <div className="min-w-0 flex-1 overflow-auto" role="region" aria-label="Side by side" tabIndex={0}>
      <div className="max-w-[1000px] px-[18px] py-5">
        {overtaken.length > 0 && (
          <div role="note" className="mb-4 border-l-[3px] border-ochre bg-ochre-soft px-3 py-2">
            The plan has changed since, where the draft says otherwise:{" "}
            {overtaken.map((one, index) => (
              <span key={`${one.id}${one.field}`}>
                {index > 0 && ", "}
                {FIELD_WORDS[one.field] ?? one.field} of{" "}
                <button type="button" className="font-semibold hover:underline" onClick={() => openTask(one.id)}>
                  {one.title}
                </button>
              </span>
            ))}
            . Applied, the draft puts its own there.
          </div>
        )}
        {!draft.changes ? (
          <p className="text-ink-2">
            The draft changes nothing yet. Go to the schedule, the outline or the board and change what you would like
            to try: what you do there goes into the draft, and is compared here.
          </p>
        ) : (
          <>
            <Sides project={project} comparison={comparison} />
            <Effects ripple={ripple} openTask={openTask} />
            <Moved project={project} differences={differences} openTask={openTask} />
          </>
        )}
      </div>
    </div>
  );
}

const HEAD = "border-b border-rule-2 pb-1 text-left text-[11.5px] font-normal text-ink-2";

/** Finish and milestones in the plan and in the draft. */
function Sides({ project, comparison }: { project: Project; comparison: DraftComparison }) {
  const { ripple, draft, minutes } = comparison;
  return (
    <table className="w-full">
      <thead>
        <tr>
          <th className={`${HEAD} w-[46%]`}>
            <span className="sr-only">What</span>
          </th>
          <th className={HEAD}>Plan</th>
          <th className={`${HEAD} max-w-0 truncate bg-rose-soft px-2 font-semibold text-ink`} title={draft.name}>
            {draft.name}
          </th>
          <th className={`${HEAD} w-24 text-right`}>Difference</th>
        </tr>
      </thead>
      <tbody>
        <Side
          head="Finish of the project"
          strong
          before={ripple.finish_before}
          after={ripple.finish}
          minutes={minutes}
          project={project}
        />
        {ripple.milestones.map((one) => (
          <Side
            key={one.id}
            head={`◆ ${one.title}`}
            before={one.finish_before}
            after={one.finish}
            minutes={one.minutes}
            project={project}
          />
        ))}
      </tbody>
    </table>
  );
}

function Side({
  head,
  before,
  after,
  minutes,
  project,
  strong,
}: {
  head: string;
  before: string | null;
  after: string | null;
  minutes: number;
  project: Project;
  strong?: boolean;
}) {
  const { now } = useMe();
  const look = strong ? "h-10 text-[15px] font-semibold" : "h-8";
  return (
    <tr className={`border-b border-rule ${look}`}>
      <th scope="row" className={`max-w-0 truncate text-left ${strong ? "" : "font-normal"}`} title={head}>
        {head}
      </th>
      <td title={sayFull(before)}>{before ? sayWeekday(before, now) : "none"}</td>
      <td className="bg-rose-soft px-2" title={sayFull(after)}>
        {after ? sayWeekday(after, now) : "none"}
      </td>
      <td className={`text-right ${minutes > 0 ? "text-ember" : minutes < 0 ? "text-verdigris" : "text-ink-2"}`}>
        {minutes ? sayMove(minutes, project.day_minutes) : "same"}
      </td>
    </tr>
  );
}

type Named = Schemas["NamedTask"][];

function Effects({ ripple, openTask }: { ripple: Schemas["RippleOut"]; openTask: (id: string) => void }) {
  const lines: [string, string, Named][] = [
    ["▼", "Deadlines that would be broken", ripple.deadlines_missed],
    ["●", "Deadlines that would be met again", ripple.deadlines_met],
    ["⊙", "Pins against their links", ripple.pins_contradicted],
    ["━", "Become critical", ripple.became_critical],
    ["┄", "No longer critical", ripple.no_longer_critical],
  ];
  const told = lines.filter(([, , tasks]) => tasks.length);
  if (!told.length && !ripple.people.length) return null;
  return (
    <dl className="mt-4 grid grid-cols-[auto_1fr] gap-x-4 gap-y-1.5">
      {told.map(([sign, words, tasks]) => (
        <div key={words} className="contents">
          <dt className="text-ink-2">
            <Sign>{sign}</Sign>
            {words}
          </dt>
          <dd>
            {tasks.slice(0, 12).map((one, index) => (
              <span key={one.id}>
                {index > 0 && ", "}
                <button type="button" className="hover:underline" onClick={() => openTask(one.id)}>
                  {one.title}
                </button>
              </span>
            ))}
            {tasks.length > 12 && ` and ${tasks.length - 12} more`}
          </dd>
        </div>
      ))}
      <People ripple={ripple} sign={<Sign>◔</Sign>} />
    </dl>
  );
}

/** A sign in front of words, in a column of its own. */
const Sign = ({ children }: { children: string }) => (
  <span aria-hidden="true" className="mr-1.5 inline-block w-3.5 text-center">
    {children}
  </span>
);

function Moved({
  project,
  differences,
  openTask,
}: {
  project: Project;
  differences: DraftComparison["differences"];
  openTask: (id: string) => void;
}) {
  const { now } = useMe();
  if (!differences.length) return <p className="mt-5 text-ink-2">No task stands elsewhere than in the plan.</p>;
  const span = (start: string | null, finish: string | null) =>
    [start, finish]
      .map((at) => (at ? sayWeekday(at, now) : ""))
      .filter((one, i, all) => one && all.indexOf(one) === i)
      .join(" – ");
  return (
    <>
      <h2 className="mt-6 mb-1 text-[15px]">{count(differences.length, "task stands", "tasks stand")} elsewhere</h2>
      <table className="w-full text-[12.5px]">
        <thead>
          <tr>
            <th className={HEAD}>Task</th>
            <th className={`${HEAD} w-[190px]`}>Plan</th>
            <th className={`${HEAD} w-[200px] bg-rose-soft px-2`}>Draft</th>
            <th className={`${HEAD} w-24 text-right`}>Finish</th>
            <th className={`${HEAD} w-24 text-right`} title="How much of it reaches the finish of the project">
              On the finish
            </th>
          </tr>
        </thead>
        <tbody>
          {differences.slice(0, MOST).map((one) => (
            <tr key={one.id} className="h-[28px] border-b border-rule">
              <td className="max-w-0">
                <TaskName number={one.number} title={one.title} open={() => openTask(one.id)} />
              </td>
              <td className="text-ink-2">{span(one.start_before, one.finish_before)}</td>
              <td className="bg-rose-soft px-2">{one.kind === "gone" ? "dropped" : span(one.start, one.finish)}</td>
              <td className={`text-right ${one.minutes > 0 ? "text-ember" : one.minutes < 0 ? "text-verdigris" : ""}`}>
                {one.minutes ? sayMove(one.minutes, project.day_minutes) : "same"}
              </td>
              <td className="text-right text-ink-2">
                {one.effect > 0 ? sayMove(one.effect, project.day_minutes) : "none"}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {differences.length > MOST && <p className="pt-1 text-ink-2">and {differences.length - MOST} more</p>}
    </>
  );
}
