/** One goal beside the tree: how it stands in sentences, what it counts, its values, what is said of it, and how it ends. */
import { X } from "lucide-react";
import { Suspense, useEffect, useState } from "react";
import { Link } from "react-router";
import { sentence } from "../data/api";
import { useMe, usePeople, useTeams } from "../data/hooks";
import { note } from "../data/notes";
import { Button, Failed, IconButton, Loading, Reading } from "../parts/basics";
import { count, sayDay, sayWhen } from "../parts/format";
import { Health } from "../parts/health";
import { later } from "../parts/later";
import { RichView } from "../parts/rich-text/view";
import { Tile } from "../parts/tile";
import { type GoalDetail, useGoal, useGoalActions } from "./goals";
import { HealthOf, HowFar } from "./how-far";
import { ValueLine } from "./line";

const GoalForm = later(() => import("./form").then((module) => module.GoalForm));
const forms = () => import("./forms");
const NoteForm = later(() => forms().then((module) => module.NoteForm));
const ValueForm = later(() => forms().then((module) => module.ValueForm));
const CloseForm = later(() => forms().then((module) => module.CloseForm));

type Doing = "note" | "value" | "close" | "edit" | "below" | null;
const SEEN = { read: "you may read it", comment: "you may say something", edit: "" };

export function Detail({
  id,
  sections,
  show,
  close,
}: {
  id: string;
  sections: string[];
  show: (id: string | null) => void;
  close: () => void;
}) {
  const { data: goal, error, refetch } = useGoal(id);
  const { read } = useGoalActions();
  const notes = goal?.notes.length;
  useEffect(() => {
    if (notes) read(id);
  }, [id, notes, read]);
  return (
    <aside
      aria-label="Goal"
      className="flex min-w-0 flex-1 flex-col overflow-auto bg-sheet px-4 py-3 lg:w-[432px] lg:flex-none lg:border-l lg:border-ink"
      tabIndex={0}
      onKeyDown={(event) => {
        if (event.key === "Escape" && !(event.target as HTMLElement).closest("form")) close();
      }}
    >
      {error ? (
        <>
          <Top close={close} />
          <Failed error={error} retry={refetch} />
        </>
      ) : goal ? (
        <Opened {...{ goal, sections, show, close }} />
      ) : (
        <Loading what="the goal" rows={6} />
      )}
    </aside>
  );
}

const Top = ({ close, children }: { close: () => void; children?: React.ReactNode }) => (
  <div className="flex items-center gap-2 text-[12px] text-ink-2">
    {children}
    <IconButton label="Close the goal" className="ml-auto" onClick={close}>
      <X size={15} />
    </IconButton>
  </div>
);

function Opened({
  goal,
  sections,
  show,
  close,
}: {
  goal: GoalDetail;
  sections: string[];
  show: (id: string | null) => void;
  close: () => void;
}) {
  const { byId } = usePeople();
  const teams = useTeams();
  const { follow, reopen, remove } = useGoalActions();
  const [doing, setDoing] = useState<Doing>(null);
  const tell = (work: Promise<unknown>) => work.catch((error) => note(sentence(error), "wrong"));
  const edits = goal.right === "edit";
  const open = goal.outcome === null;
  const done = () => setDoing(null);
  const whose =
    goal.belongs === "team"
      ? (teams.find((one) => one.id === goal.whose)?.name ?? "a team")
      : goal.belongs === "person"
        ? (byId.get(goal.whose ?? "")?.name ?? "somebody")
        : "the organisation";
  return (
    <>
      <Top close={close}>
        {goal.parent_id && (
          <button
            type="button"
            className="min-w-0 truncate hover:text-ink hover:underline"
            onClick={() => show(goal.parent_id)}
          >
            under {goal.above}
          </button>
        )}
      </Top>
      <h2 className="mt-0.5 text-[18px]">{goal.title}</h2>
      <p className="mt-1 font-head text-[15px] leading-[1.45]">
        <Reading text={goal.reading} />
      </p>
      <div className="mt-3 flex items-center gap-3">
        <span className="min-w-0 flex-1">
          <HowFar goal={goal} />
        </span>
        <HealthOf goal={goal} />
      </div>
      {goal.how.why && <p className="mt-1 text-[12px] text-ink-2">{goal.how.why}</p>}
      <dl className="mt-3 grid grid-cols-[92px_minmax(0,1fr)] gap-y-0.5 border-y border-rule-2 py-1.5 text-[12.5px] [&_dt]:text-ink-2">
        <dt>Owner</dt>
        <dd className="flex items-center gap-1.5">
          <Tile person={byId.get(goal.owner_id)} size={18} label={false} />{" "}
          {byId.get(goal.owner_id)?.name ?? "somebody"}
        </dd>
        <dt>Period</dt>
        <dd>{goal.period}</dd>
        <dt>Belongs to</dt>
        <dd>{whose}</dd>
        <dt>Measured</dt>
        <dd>{goal.measured}</dd>
        <dt>Seen by</dt>
        <dd>
          {goal.seen_by === "everyone" ? "everyone" : "named people"}
          {Object.keys(goal.people).length > 0 && `, ${count(Object.keys(goal.people).length, "named")}`}
          {SEEN[goal.right] && <span className="text-ink-2"> ({SEEN[goal.right]})</span>}
          {" · "}
          <button
            type="button"
            className="text-rose hover:underline"
            aria-pressed={goal.follows}
            onClick={() => tell(follow(goal.id, !goal.follows))}
          >
            {goal.follows ? "followed by you" : "follow"}
          </button>{" "}
          <span className="text-ink-2">{goal.followers.length} follow</span>
        </dd>
      </dl>
      {goal.description && <RichView html={goal.description} className="mt-2 text-[13.5px]" />}
      <div className="mt-3 flex flex-wrap gap-2">
        {(edits ? open : goal.right === "comment") && (
          <Button look="go" onClick={() => setDoing("note")}>
            {edits ? "Write a note" : "Say something"}
          </Button>
        )}
        {edits && open && goal.kind === "hand" && <Button onClick={() => setDoing("value")}>Enter a value</Button>}
        {edits && open && <Button onClick={() => setDoing("close")}>Close with an outcome</Button>}
        {edits && !open && <Button onClick={() => tell(reopen(goal.id))}>Open again</Button>}
        {edits && open && (
          <Button look="quiet" onClick={() => setDoing("edit")}>
            Change
          </Button>
        )}
        {open && goal.right !== "read" && (
          <Button look="quiet" onClick={() => setDoing("below")}>
            Set one below
          </Button>
        )}
        {edits && (
          <Button look="quiet" onClick={() => tell(remove(goal.id).then(close))}>
            Take it away
          </Button>
        )}
      </div>
      <Suspense fallback={null}>
        {doing === "note" && <NoteForm goal={goal} sections={sections} done={done} />}
        {doing === "value" && <ValueForm goal={goal} done={done} />}
        {doing === "close" && <CloseForm goal={goal} done={done} />}
        {doing === "edit" && <GoalForm goal={goal} close={done} done={done} />}
        {doing === "below" && (
          <GoalForm
            under={goal}
            close={done}
            done={(made) => {
              done();
              show(made);
            }}
          />
        )}
      </Suspense>
      <Below goal={goal} show={show} />
      <Counted goal={goal} />
      {goal.kind === "hand" && goal.values.length > 0 && <ValueLine goal={goal} />}
      <Notes goal={goal} />
    </>
  );
}

function Below({ goal, show }: { goal: GoalDetail; show: (id: string) => void }) {
  if (!goal.below.length) return null;
  return (
    <section aria-label="Goals below">
      <h3 className="mt-4 mb-1 text-[14px]">Below it</h3>
      <ul>
        {goal.below.map((one) => (
          <li key={one.id} className="border-t border-rule py-1">
            <button
              type="button"
              className="flex w-full items-center gap-2 text-left hover:underline"
              onClick={() => show(one.id)}
            >
              <span className="min-w-0 flex-1 truncate">{one.title}</span>
              {goal.kind === "goals" && one.weight !== 1 && (
                <span className="flex-none text-[12px] text-ink-2" title="Its weight in the measure above">
                  ×{one.weight}
                </span>
              )}
              <span className="w-24 flex-none">
                <HowFar goal={one} words={false} />
              </span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

const MOST = 12;

function Counted({ goal }: { goal: GoalDetail }) {
  const { now } = useMe();
  const [all, setAll] = useState(false);
  const items = goal.counted.flatMap((project) => project.items.map((one) => ({ ...one, code: project.code })));
  const shown = all ? items : items.slice(0, MOST);
  if (!goal.counted.length && !goal.hidden) return null;
  return (
    <section aria-label="What it counts">
      <h3 className="mt-4 mb-1 text-[14px]">What it counts</h3>
      {goal.counted.map(
        (one) =>
          one.unclear && (
            <p key={one.code} className="text-[12.5px] text-ochre">
              {one.code}: {one.unclear}
            </p>
          ),
      )}
      <ul>
        {shown.map((one) => (
          <li key={one.id} className="flex min-h-8 items-center gap-2 border-t border-rule">
            <span
              aria-hidden="true"
              className={`size-2.5 flex-none rotate-45 border ${one.finished ? "border-verdigris bg-verdigris" : one.late ? "border-ember" : "border-ink-2"}`}
            />
            <Link to={`/p/${one.code}/outline?open=${one.id}`} className="min-w-0 flex-1 truncate hover:underline">
              {one.title}
            </Link>
            <span className="flex-none text-[11px] font-semibold tracking-wider text-rose">{one.code}</span>
            <span
              className={`flex-none text-right text-[12.5px] ${one.late ? "font-semibold text-ember" : "text-ink-2"}`}
            >
              {one.finished ? "reached" : one.finish ? sayDay(one.finish, now) : "no date"}
              {!one.finished &&
                one.slack_days !== null &&
                (one.slack_days <= 0 ? ", no slack" : `, ${one.slack_days} d slack`)}
            </span>
          </li>
        ))}
      </ul>
      {items.length > MOST && !all && (
        <button type="button" className="mt-1 text-rose hover:underline" onClick={() => setAll(true)}>
          {items.length - MOST} more
        </button>
      )}
      {goal.hidden > 0 && (
        <p className="mt-1 text-[12.5px] text-ink-2">
          {count(goal.hidden, "more project")} that you may not see {goal.hidden === 1 ? "is" : "are"} counted too.
        </p>
      )}
    </section>
  );
}

function Notes({ goal }: { goal: GoalDetail }) {
  const me = useMe();
  const { byId } = usePeople();
  const { removeNote } = useGoalActions();
  if (!goal.notes.length) return null;
  const names = (ids: string[]) => ids.map((one) => byId.get(one)?.short ?? "somebody").join(", ");
  return (
    <section aria-label="Progress notes">
      <h3 className="mt-4 mb-1 text-[14px]">Progress notes</h3>
      {goal.notes.map((one) => (
        <article key={one.id} className="border-t border-rule py-2">
          <p className="flex items-center gap-2">
            {one.health && <Health value={one.health} />}
            <b className="font-semibold">
              {sayWhen(one.at, me.now)}, {byId.get(one.person_id)?.short ?? "somebody"}
            </b>
            {one.value !== null && (
              <span className="text-ink-2">
                {Number(one.value).toLocaleString("en-GB")} {goal.measure.sign}
              </span>
            )}
            {goal.outcome === null && (goal.right === "edit" || one.person_id === me.person.id) && (
              <IconButton
                label="Take this note away"
                className="ml-auto !size-6"
                onClick={() => removeNote(one.id).catch((error) => note(sentence(error), "wrong"))}
              >
                <X size={13} />
              </IconButton>
            )}
          </p>
          <p className="whitespace-pre-line text-[13.5px]">
            {one.sections.map((section) => (
              <span key={section.name}>
                {section.name && <b className="font-semibold">{section.name} </b>}
                {section.text}{" "}
              </span>
            ))}
          </p>
          <p className="text-[12px] text-ink-2">
            {one.people.length > 0 && `Sent to ${names(one.people)}. `}
            {one.readers.length > 0 ? `Read by ${names(one.readers)}.` : "Nobody has read it yet."}
          </p>
        </article>
      ))}
    </section>
  );
}
