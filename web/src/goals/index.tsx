/** Goals, a place of the masthead: what the organisation is there for, the tree of goals, and the one that is open. */
import { ChevronDown, ChevronRight, Pencil } from "lucide-react";
import { Suspense, useEffect, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import { useMe, usePeople, useTeams } from "../data/hooks";
import { Button, Empty, Failed, IconButton, Loading, Tick } from "../parts/basics";
import { count, sayDay } from "../parts/format";
import { later } from "../parts/later";
import { AsTable, BringTable } from "../parts/table-file";
import { Tile } from "../parts/tile";
import { SheetBar } from "../shell/sheet-bar";
import { TitleLine } from "../shell/title-line";
import { useSheetTabs } from "../views/sheets";
import { ALL_PROJECTS } from "../views/view";
import { Word } from "../views/word";
import { type Asked, asTree, type Branch, HEALTHS, isAsked, PERIODS, STATES, useAsked } from "./asked";
import { Detail } from "./detail";
import { type Goal, type Goals, useGoalActions, useGoals } from "./goals";
import { HealthOf, HowFar } from "./how-far";

const GoalForm = later(() => import("./form").then((module) => module.GoalForm));
const PurposeForm = later(() => import("./purpose").then((module) => module.PurposeForm));

export default function GoalsPlace() {
  const me = useMe();
  const [asked, change] = useAsked();
  const [params, setParams] = useSearchParams();
  const { data, error, refetch } = useGoals();
  const tabs = useSheetTabs(ALL_PROJECTS, "goals");
  const actions = useGoalActions();
  const [aiming, setAiming] = useState(false);
  const open = params.get("open");
  const show = (id: string | null) =>
    setParams((before) => {
      const after = new URLSearchParams(before);
      if (id) after.set("open", id);
      else after.delete("open");
      return after;
    });
  useEffect(() => {
    document.title = "Goals";
  }, []);
  const shown = data?.goals.filter((one) => isAsked(asked, one, me.person.id, me.now)) ?? [];
  return (
    <>
      <TitleLine title={`What ${me.organisation} is here to do`}>
        {data && <Counts goals={shown} />}
        {data?.may_aim && (
          <span className="sm:-my-1.5 max-sm:hidden">
            <BringTable
              what="goal"
              columns="Goal, Below, E-mail, Belongs to, First day, Last day, Start, Target, Unit"
              send={actions.bring}
            />
          </span>
        )}
        {me.person.role !== "guest" && (
          <Button look="go" className="sm:-my-1.5 sm:ml-2" onClick={() => setAiming(true)}>
            Set a goal
          </Button>
        )}
      </TitleLine>
      {data && <Purpose data={data} />}
      <Sentence asked={asked} change={change}>
        {data && (
          <>
            {count(shown.length, "goal")} · <AsTable what="goals " address={(kind) => `/api/goals.${kind}`} /> or{" "}
            <a className="underline decoration-rule-2 hover:text-ink" href="/api/goals.pdf" download>
              PDF
            </a>
          </>
        )}
      </Sentence>
      <div className="flex min-h-0 flex-1 border-t border-rule-2 bg-sheet">
        <div className={`min-w-0 flex-1 overflow-auto ${open ? "max-lg:hidden" : ""}`} tabIndex={-1}>
          {error && !data ? (
            <Failed error={error} retry={refetch} />
          ) : !data ? (
            <Loading what="the goals" rows={9} />
          ) : shown.length ? (
            <Tree goals={shown} open={open} show={show} />
          ) : (
            <Empty title={data.goals.length ? "No goal is like that" : "No goals yet"}>
              {data.goals.length
                ? "Choose others in the sentence above."
                : "A goal has an owner, a period and a number that says how far it is: typed by hand, or measured from milestones, tasks or the goals below it."}
            </Empty>
          )}
        </div>
        {open && <Detail key={open} id={open} sections={data?.sections ?? []} show={show} close={() => show(null)} />}
      </div>
      <SheetBar sheets={[{ to: "/goals", name: "Goals" }]} current="Goals" {...tabs} />
      {aiming && (
        <Suspense fallback={null}>
          <GoalForm
            close={() => setAiming(false)}
            done={(id) => {
              setAiming(false);
              show(id);
            }}
          />
        </Suspense>
      )}
    </>
  );
}

function Counts({ goals }: { goals: Goal[] }) {
  const open = goals.filter((one) => one.outcome === null);
  const due = open.filter((one) => one.is_due).length;
  const of = (health: string) => open.filter((one) => one.how.health === health).length;
  return (
    <>
      {(["steady", "strained", "slipping"] as const).map((health) =>
        of(health) ? (
          <span key={health}>
            <b>{of(health)}</b> {health}
          </span>
        ) : null,
      )}
      {due > 0 && <span>{count(due, "waits", "wait")} for an update</span>}
    </>
  );
}

function Purpose({ data }: { data: Goals }) {
  const [editing, setEditing] = useState(false);
  if (!data.purpose && !data.may_aim) return null;
  return (
    <div className="flex items-start gap-2 px-3 pb-1 sm:px-[18px]">
      <p className={`max-w-[80ch] whitespace-pre-line ${data.purpose ? "text-ink" : "text-ink-3"}`}>
        {data.purpose || "Say in a few lines what the organisation is there for."}
      </p>
      {data.may_aim && (
        <IconButton
          label="Change what the organisation is there for"
          className="!size-6"
          onClick={() => setEditing(true)}
        >
          <Pencil size={13} />
        </IconButton>
      )}
      {editing && (
        <Suspense fallback={null}>
          <PurposeForm data={data} close={() => setEditing(false)} />
        </Suspense>
      )}
    </div>
  );
}

function Sentence({
  asked,
  change,
  children,
}: {
  asked: Asked;
  change: (next: Partial<Asked>) => void;
  children: React.ReactNode;
}) {
  const { active, byId } = usePeople();
  const teams = useTeams();
  const flip = (list: string[], one: string, on: boolean) =>
    on ? [...list, one] : list.filter((each) => each !== one);
  const whose = [
    ...asked.who.map((one) => (one === "me" ? "me" : (byId.get(one)?.name ?? "somebody"))),
    ...asked.teams.map((one) => teams.find((team) => team.id === one)?.name ?? "a team"),
  ];
  const health = asked.health.map((one) => HEALTHS.find(([id]) => id === one)?.[1] ?? one);
  return (
    <search
      aria-label="What is shown"
      className="flex flex-none flex-wrap items-center gap-x-1.5 gap-y-1 px-3 pt-1 pb-2 text-[13.5px] text-ink-2 sm:px-[18px]"
    >
      <span>
        Showing goals of{" "}
        <Word
          label="Of whom"
          chooser={
            <>
              <Tick checked={!whose.length} onChange={() => change({ who: [], teams: [] })}>
                everyone
              </Tick>
              <Tick checked={asked.who.includes("me")} onChange={(on) => change({ who: flip(asked.who, "me", on) })}>
                me
              </Tick>
              {teams.map((one) => (
                <Tick
                  key={one.id}
                  checked={asked.teams.includes(one.id)}
                  onChange={(on) => change({ teams: flip(asked.teams, one.id, on) })}
                >
                  {one.name}, a team
                </Tick>
              ))}
              {active.map((one) => (
                <Tick
                  key={one.id}
                  checked={asked.who.includes(one.id)}
                  onChange={(on) => change({ who: flip(asked.who, one.id, on) })}
                >
                  {one.name}
                </Tick>
              ))}
            </>
          }
        >
          {whose.length ? whose.join(", ") : "everyone"}
        </Word>{" "}
        for{" "}
        <Word
          label="For which period"
          chooser={PERIODS.map(([id, words]) => (
            <Tick key={id} checked={asked.period === id} onChange={() => change({ period: id })}>
              {words}
            </Tick>
          ))}
        >
          {PERIODS.find(([id]) => id === asked.period)?.[1]}
        </Word>{" "}
        that are{" "}
        <Word
          label="Open or closed"
          chooser={STATES.map(([id, words]) => (
            <Tick key={id} checked={asked.state === id} onChange={() => change({ state: id })}>
              {words}
            </Tick>
          ))}
        >
          {STATES.find(([id]) => id === asked.state)?.[1]}
        </Word>
        ,{" "}
        <Word
          label="Of which health"
          chooser={
            <>
              <Tick checked={!asked.health.length} onChange={() => change({ health: [] })}>
                however they stand
              </Tick>
              {HEALTHS.map(([id, words]) => (
                <Tick
                  key={id}
                  checked={asked.health.includes(id)}
                  onChange={(on) => change({ health: flip(asked.health, id, on) })}
                >
                  {words}
                </Tick>
              ))}
            </>
          }
        >
          {health.length ? health.join(" or ") : "however they stand"}
        </Word>
      </span>
      <span className="ml-auto text-[12.5px]">{children}</span>
    </search>
  );
}

const GRID = "grid grid-cols-[minmax(0,1fr)_32px] gap-x-3 md:grid-cols-[minmax(0,1.2fr)_40px_minmax(160px,1fr)_116px]";

/** The tree, walked by the arrow keys: right and left unfold and fold, Enter opens. */
function Tree({ goals, open, show }: { goals: Goal[]; open: string | null; show: (id: string | null) => void }) {
  const [folded, setFolded] = useState<ReadonlySet<string>>(new Set());
  const branches = asTree(goals, folded);
  const [at, setAt] = useState<string | null>(open);
  const list = useRef<HTMLDivElement>(null);
  const here = branches.some(({ goal }) => goal.id === at) ? at : (branches[0]?.goal.id ?? null);
  const fold = (id: string, on: boolean) =>
    setFolded((before) => new Set(on ? [...before, id] : [...before].filter((one) => one !== id)));
  const go = (branch: Branch | undefined) => {
    if (!branch) return;
    setAt(branch.goal.id);
    list.current?.querySelector<HTMLElement>(`[data-goal="${branch.goal.id}"]`)?.focus();
  };
  function keys(event: React.KeyboardEvent) {
    const index = branches.findIndex(({ goal }) => goal.id === here);
    const branch = branches[index];
    if (!branch) return;
    const is = folded.has(branch.goal.id);
    if (event.key === "ArrowDown") go(branches[index + 1]);
    else if (event.key === "ArrowUp") go(branches[index - 1]);
    else if (event.key === "Home") go(branches[0]);
    else if (event.key === "End") go(branches.at(-1));
    else if (event.key === "ArrowRight" && branch.below) is ? fold(branch.goal.id, false) : go(branches[index + 1]);
    else if (event.key === "ArrowLeft") {
      if (branch.below && !is) fold(branch.goal.id, true);
      else go(branches.slice(0, index).findLast((one) => one.level < branch.level));
    } else if (event.key === "Enter" || event.key === " ") show(branch.goal.id);
    else if (event.key === "Escape") show(null);
    else return;
    event.preventDefault();
  }
  return (
    <>
      <div
        className={`${GRID} h-8 items-center border-b border-rule-2 px-3 text-[12px] text-ink-2 sm:px-[18px]`}
        aria-hidden="true"
      >
        <span>Goal</span>
        <span>Owner</span>
        <span className="max-md:hidden">How far</span>
        <span className="max-md:hidden">Health</span>
      </div>
      <div ref={list} role="tree" aria-label="Goals" onKeyDown={keys}>
        {branches.map(({ goal, level, below }) => (
          <Row
            key={goal.id}
            {...{ goal, level, below }}
            folded={folded.has(goal.id)}
            fold={(on) => fold(goal.id, on)}
            here={goal.id === here}
            open={goal.id === open}
            show={() => {
              setAt(goal.id);
              show(goal.id);
            }}
          />
        ))}
      </div>
    </>
  );
}

function Row({
  goal,
  level,
  below,
  folded,
  fold,
  here,
  open,
  show,
}: Branch & { folded: boolean; fold: (on: boolean) => void; here: boolean; open: boolean; show: () => void }) {
  const { byId } = usePeople();
  const { now } = useMe();
  const owner = byId.get(goal.owner_id);
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the tree handles keys
    <div
      role="treeitem"
      aria-level={level}
      aria-expanded={below ? !folded : undefined}
      aria-selected={open}
      tabIndex={here ? 0 : -1}
      data-goal={goal.id}
      className={`${GRID} cursor-pointer items-center border-b border-rule px-3 py-2 outline-offset-[-2px] hover:bg-rose-soft sm:px-[18px] ${open ? "bg-rose-soft" : ""}`}
      onClick={show}
    >
      <div className="min-w-0" style={{ paddingLeft: level * 20 - 4 }}>
        <span className="flex min-w-0 items-center">
          {below > 0 && (
            <button
              type="button"
              tabIndex={-1}
              aria-hidden="true"
              className="-ml-5 w-5 flex-none p-0.5 text-ink-2 hover:text-ink"
              onClick={(event) => {
                event.stopPropagation();
                fold(!folded);
              }}
            >
              {folded ? <ChevronRight size={14} /> : <ChevronDown size={14} />}
            </button>
          )}
          <b className={`min-w-0 truncate font-semibold ${goal.outcome ? "text-ink-2" : ""}`} title={goal.title}>
            {goal.title}
          </b>
        </span>
        <span className="block truncate text-[12px] text-ink-2">
          {goal.is_due && <b className="font-semibold text-ember">update due {sayDay(goal.due, now)} · </b>}
          {goal.measured} · {goal.period}
        </span>
        <span className="mt-1 block md:hidden">
          <HowFar goal={goal} />
          <HealthOf goal={goal} />
        </span>
      </div>
      <Tile person={owner} size={24} />
      <span className="max-md:hidden">
        <HowFar goal={goal} />
      </span>
      <span className="max-md:hidden">
        <HealthOf goal={goal} />
      </span>
    </div>
  );
}
