/** The heads of the columns: name, how many stand there of how many, rules; a stage that is split has a head for each step. */
import { ChevronsLeftRight, ChevronsRightLeft, Ellipsis, GripVertical } from "lucide-react";
import type { Project, State } from "../data/api";
import { useMe } from "../data/hooks";
import { IconButton, Pop } from "../parts/basics";
import { count, sayAge } from "../parts/format";
import { Notches } from "../parts/notches";
import { AddPop } from "./arranging";
import type { Place } from "./board";
import { AddColumn, ColumnForm } from "./column-form";
import type { Stage, Way } from "./shape";

export interface HeadProps {
  project: Project;
  way: Way;
  /** how many tasks stand in each state, whatever the sentence leaves */
  standing: Map<string, number>;
  /** of what the sentence leaves */
  shown: Map<string, number>;
  places: Map<string, Place>;
  /** since when the one that stands longest in a state does, in days */
  oldest: Map<string, number>;
  days: number;
  manages: boolean;
  /** the board is being arranged */
  arranging: boolean;
}

/** How long something has stood beyond its limit now, and in the last 30 days. */
export function useOverWords() {
  const { now } = useMe();
  return (place: Place | undefined): string => {
    const open = place?.spells.find((one) => one.until === null);
    return open ? `, over for ${sayAge(open.since, now)}` : ", over the limit";
  };
}

export function StageHead({
  stage,
  folded,
  fold,
  grip,
  top,
  ...props
}: HeadProps & {
  stage: Stage;
  folded: boolean;
  fold: () => void;
  /** by which it is dragged to another place */
  grip?: React.HTMLAttributes<HTMLButtonElement> & { ref: (element: HTMLElement | null) => void };
  top: number;
}) {
  const { head, steps } = stage;
  const split = steps.length > 1;
  if (folded)
    return (
      <div
        className="sticky z-10 border-r border-b border-r-rule border-b-rule-2 bg-paper pt-1"
        style={{ gridColumn: `span ${steps.length}`, top }}
      >
        <IconButton label={`Unfold ${head.name}`} aria-expanded={false} onClick={fold} className="mx-auto block!">
          <ChevronsLeftRight size={13} className="mx-auto" />
        </IconButton>
        <h2 className="mx-auto mt-1 max-h-28 truncate text-[12px] [writing-mode:vertical-rl]">{head.name}</h2>
      </div>
    );
  return (
    <div
      className="reveals sticky z-10 flex snap-start flex-col border-r border-b border-r-rule border-b-rule-2 bg-paper"
      style={{ gridColumn: `span ${steps.length}`, top }}
    >
      <div className="flex-1 px-2.5 py-2">
        <div className="flex items-start gap-1">
          {props.arranging && grip && (
            <button
              type="button"
              className="-ml-1.5 cursor-grab text-ink-3"
              aria-label={`Drag the column ${head.name}`}
              {...grip}
            >
              <GripVertical size={14} aria-hidden="true" />
            </button>
          )}
          <h2 className="min-w-0 flex-1 text-[14px] break-words">{head.name}</h2>
          <span className="-mt-0.5 -mr-1.5 flex reveal">
            <IconButton label={`Fold ${head.name}`} aria-expanded onClick={fold} className="size-6!">
              <ChevronsRightLeft size={13} />
            </IconButton>
            <ColumnPop {...props} state={head} stage={stage} whole />
          </span>
        </div>
        <Standing
          {...props}
          stage={stage}
          states={steps}
          limit={split ? head.column_limit : head.limit}
          place={props.places.get(`column:${head.id}`)}
        />
        <Rules state={head} />
      </div>
      {split && (
        <div className="grid border-t border-rule" style={{ gridTemplateColumns: `repeat(${steps.length}, 1fr)` }}>
          {steps.map((step) => (
            <StepHead key={step.id} {...props} stage={stage} step={step} />
          ))}
        </div>
      )}
    </div>
  );
}

function StepHead({ step, stage, ...props }: HeadProps & { step: State; stage: Stage }) {
  const here = props.standing.get(step.id) ?? 0;
  const over = step.limit !== null && here > step.limit;
  return (
    <div className="reveals flex items-center gap-1 border-r border-rule px-2.5 py-1 last:border-r-0">
      <h3 className="min-w-0 flex-1 truncate font-sans text-[12.5px] font-semibold" title={step.step}>
        {step.step}
      </h3>
      <span className={`text-[11.5px] ${over ? "font-semibold text-ember" : "text-ink-2"}`}>
        {step.limit ? `${here} of ${step.limit}` : here}
        {over && <span className="sr-only">, over the limit</span>}
      </span>
      <span className="reveal">
        <ColumnPop {...props} state={step} stage={stage} />
      </span>
    </div>
  );
}

/** How many stand in a column, of how many, and how long the one that stands longest does. */
function Standing({
  stage: { head },
  states,
  limit,
  place,
  ...props
}: HeadProps & { stage: Stage; states: State[]; limit: number | null; place: Place | undefined }) {
  const overWords = useOverWords();
  const sum = (of: Map<string, number>) => states.reduce((all, one) => all + (of.get(one.id) ?? 0), 0);
  const here = sum(props.standing);
  const seen = sum(props.shown);
  const longest = Math.max(0, ...states.map((one) => props.oldest.get(one.id) ?? 0));
  const over = limit !== null && here > limit;
  const words =
    head.state_class === "finished"
      ? `${seen} in ${count(props.days, "day")}`
      : limit
        ? `${here} of ${limit}${over ? overWords(place) : ""}`
        : `${seen}${seen && longest > 0 ? ` waiting, longest ${longest} d` : ""}`;
  return (
    <>
      <p className={`text-[11.5px] ${over ? "text-ember" : "text-ink-2"}`}>{words}</p>
      {limit !== null && <Notches count={here} limit={limit} />}
    </>
  );
}

/** What holds for tasks that come and go. */
function Rules({ state }: { state: State }) {
  if (!state.entry_rule && !state.exit_rule) return null;
  return (
    <dl className="mt-1.5 text-[11.5px] leading-[1.3] text-ink-2">
      {state.entry_rule && (
        <div className="line-clamp-2" title={`To come in: ${state.entry_rule}`}>
          <dt className="inline font-semibold">In: </dt>
          <dd className="inline">{state.entry_rule}</dd>
        </div>
      )}
      {state.exit_rule && (
        <div className="line-clamp-2" title={`To go on: ${state.exit_rule}`}>
          <dt className="inline font-semibold">On: </dt>
          <dd className="inline">{state.exit_rule}</dd>
        </div>
      )}
    </dl>
  );
}

function ColumnPop({
  state,
  stage,
  whole = false,
  ...props
}: HeadProps & { state: State; stage: Stage; whole?: boolean }) {
  const name = whole ? state.name : `${stage.head.name}: ${state.step}`;
  return (
    <Pop
      label={`Column ${name}`}
      align="end"
      className="w-[300px]"
      trigger={
        <IconButton label={`${props.manages ? "Change" : "About"} the column ${name}`} className="size-6!">
          <Ellipsis size={14} />
        </IconButton>
      }
    >
      <ColumnForm {...props} state={state} stage={stage} whole={whole} />
    </Pop>
  );
}

/** Behind the last column: adds one. */
export function AddHead({ project, way, top }: { project: Project; way: Way; top: number }) {
  return (
    <div className="sticky z-10 border-b border-b-rule-2 bg-paper p-2" style={{ top }}>
      <AddPop what="a column" name="Column" align="end">
        <AddColumn project={project} way={way} after={way.states.at(-1)?.id ?? null} />
      </AddPop>
    </div>
  );
}
