/** The heads of lanes: name, sign, how many of how many; and the lane changed where it stands. */
import { ChevronDown, ChevronRight, Ellipsis, Plus } from "lucide-react";
import { useState } from "react";
import type { Project, State } from "../data/api";
import type { Group } from "../data/clauses";
import { orTell } from "../data/notes";
import { IconButton, Pop } from "../parts/basics";
import { AddByName } from "../parts/form";
import { count } from "../parts/format";
import { Notches } from "../parts/notches";
import { Select } from "../parts/select";
import { Sign, SignChooser } from "../parts/sign";
import { TextField } from "../parts/text-field";
import { ClauseWords } from "../views/clauses";
import { asked, firstClause, joined, partsOf } from "../views/conditions";
import { FieldPop } from "../views/field-list";
import { COLOURS, useCatalogue } from "../views/view";
import { AddPop, MoveOut, OrderActs } from "./arranging";
import { type Place, useLanes } from "./board";
import { LimitHistory, Line, readLimit } from "./column-form";
import { useOverWords } from "./heads";
import { type Lane, type OwnLane, stateName, type Way } from "./shape";

export function LaneHead({
  project,
  way,
  lane,
  total,
  place,
  folded,
  fold,
  manages,
}: {
  project: Project;
  way: Way;
  lane: Lane;
  /** of slips that are shown in it */
  total: number;
  place: Place | undefined;
  folded: boolean;
  /** null where it is folded because it is empty */
  fold: (() => void) | null;
  manages: boolean;
}) {
  const overWords = useOverWords();
  const { own } = lane;
  const over = place !== undefined && place.count > place.limit;
  return (
    <div className="reveals sticky left-0 z-[5] border-r border-b border-r-rule border-b-rule-2 bg-paper p-2">
      <div className="flex items-start gap-1">
        {fold && (
          <button
            type="button"
            aria-label={`${folded ? "Unfold" : "Fold"} the lane ${lane.name}`}
            aria-expanded={!folded}
            onClick={fold}
            className="-ml-1 grid size-5 flex-none place-items-center text-ink-3 hover:text-ink"
          >
            {folded ? <ChevronRight size={13} aria-hidden="true" /> : <ChevronDown size={13} aria-hidden="true" />}
          </button>
        )}
        {own && (
          <span className="pt-1">
            <Sign shape={own.shape} colour={own.colour} size={11} />
          </span>
        )}
        <h3 className="min-w-0 flex-1 font-sans text-[13px] font-semibold break-words">{lane.name}</h3>
        {own && (
          <span className="-mt-0.5 -mr-1.5 reveal">
            <Pop
              label={`Lane ${lane.name}`}
              className="w-[330px]"
              trigger={
                <IconButton label={`${manages ? "Change" : "About"} the lane ${lane.name}`} className="size-6!">
                  <Ellipsis size={14} />
                </IconButton>
              }
            >
              {manages && <LaneForm project={project} way={way} lane={own} />}
              <LimitHistory place={place} />
              {!manages && !place?.spells.length && (
                <p className="p-1.5">{lane.name} has no limit, or never passed it.</p>
              )}
            </Pop>
          </span>
        )}
      </div>
      {!folded && (
        <p className={`text-[11.5px] ${over ? "text-ember" : "text-ink-2"}`}>
          {place ? `${place.count} of ${place.limit}${over ? overWords(place) : ""}` : count(total, "task")}
        </p>
      )}
      {!folded && place && <Notches count={place.count} limit={place.limit} />}
    </div>
  );
}

function LaneForm({ project, way, lane }: { project: Project; way: Way; lane: OwnLane }) {
  const define = useLanes(project);
  const [doomed, setDoomed] = useState(false);
  const here = project.lanes.filter((one) => one.workflow === lane.workflow);
  const at = here.findIndex((one) => one.id === lane.id);
  const set = (settings: Record<string, unknown>) => define.edit(lane.id, { settings });
  const moveTo = (to: number) => {
    const rest = here.filter((one) => one.id !== lane.id);
    orTell(define.edit(lane.id, { after_id: rest[to - 1]?.id ?? (to > 0 ? "end" : null) }));
  };
  return (
    <div className="p-1">
      <Line label="Name">
        <span className="flex gap-1">
          <Pop
            label={`Sign of ${lane.name}`}
            trigger={
              <button
                type="button"
                aria-label={`Sign of ${lane.name}: ${lane.shape}, ${lane.colour}`}
                className="grid size-7 flex-none place-items-center border border-rule-2 hover:border-ink"
              >
                <Sign shape={lane.shape} colour={lane.colour} />
              </button>
            }
          >
            <SignChooser
              shape={lane.shape}
              colour={lane.colour}
              colours={COLOURS}
              onChange={(next) => orTell(set(next))}
            />
          </Pop>
          <span className="min-w-0 flex-1">
            <TextField
              value={lane.name}
              label="Name of the lane"
              className="w-full px-1.5"
              onSave={(name) => define.edit(lane.id, { name })}
            />
          </span>
        </span>
      </Line>
      <Line label="Limit">
        <TextField
          value={lane.limit ? String(lane.limit) : ""}
          label="Limit of the lane"
          placeholder="no limit"
          className="w-full px-1.5"
          onSave={(text) => set({ limit: readLimit(text) })}
        />
      </Line>
      <Rule project={project} lane={lane} set={set} />
      <Cells way={way} lane={lane} set={set} />
      <OrderActs at={at} of={here.length} moveTo={moveTo} remove={() => setDoomed(true)} />
      {doomed && (
        <MoveOut
          title={`Delete the lane ${lane.name}`}
          says="Tasks that were put into it by hand move to"
          nowhere="none: where the rules of the others put them"
          others={here.filter((one) => one.id !== lane.id)}
          remove={(to) => define.moveOut(lane.id, lane.name, to)}
          close={() => setDoomed(false)}
        />
      )}
    </div>
  );
}

/** What falls into a lane by itself. */
function Rule({
  project,
  lane,
  set,
}: {
  project: Project;
  lane: OwnLane;
  set: (settings: Record<string, unknown>) => Promise<unknown>;
}) {
  const catalogue = useCatalogue(project.code).data;
  const [draft, setDraft] = useState<Group | null>(null);
  const where = draft ?? (lane.where as Group | null) ?? { all: [] };
  const change = (group: Group) => {
    setDraft(group);
    const ready = asked(group);
    if (JSON.stringify(ready) === JSON.stringify(group)) orTell(set({ where: partsOf(group).length ? group : null }));
  };
  if (!catalogue) return null;
  const asks = {
    ...catalogue,
    columns: catalogue.columns.filter((one) => one.asked && one.key !== "lane" && !one.key.startsWith("cost.")),
  };
  return (
    <div className="mt-1 border-t border-rule px-1.5 pt-1.5">
      <p className="text-[12px] text-ink-2">
        {partsOf(where).length
          ? "What falls into it by itself:"
          : "Nothing falls into it by itself; tasks are put there."}
      </p>
      <p className="leading-7">
        <ClauseWords
          code={project.code}
          group={where}
          catalogue={asks}
          onChange={change}
          lead=""
          fresh={draft ? partsOf(where).length - 1 : undefined}
        />{" "}
        <FieldPop
          label="What the rule asks for"
          catalogue={asks}
          trigger={
            <button type="button" className="font-semibold text-rose hover:underline">
              <Plus size={12} className="inline" aria-hidden="true" /> rule
            </button>
          }
          onChoose={(column) => change(joined(where, [...partsOf(where), firstClause(column, catalogue)]))}
        />
      </p>
    </div>
  );
}

/** Of each column whether the lane has it, joins it to the one before, or skips it; and the limits of its cells. */
function Cells({
  way,
  lane,
  set,
}: {
  way: Way;
  lane: OwnLane;
  set: (settings: Record<string, unknown>) => Promise<unknown>;
}) {
  const order = way.states.map((one) => one.id);
  const runOf = (id: string) =>
    lane.joins.find(
      ([a, b]) => order.indexOf(a ?? "") <= order.indexOf(id) && order.indexOf(id) <= order.indexOf(b ?? ""),
    );
  const isJoined = (id: string) => {
    const run = runOf(id);
    return run !== undefined && run[0] !== id;
  };
  const choose = (index: number, how: string) => {
    const modes = way.states.map((one) =>
      isJoined(one.id) ? "joined" : lane.skips.includes(one.id) ? "skipped" : "own",
    );
    modes[index] = how as "own" | "joined" | "skipped";
    const joins: [string, string][] = [];
    way.states.forEach((one, at) => {
      const last = joins.at(-1);
      if (modes[at] !== "joined" || at === 0) return;
      const before = order[at - 1] ?? "";
      if (last && last[1] === before) last[1] = one.id;
      else joins.push([before, one.id]);
    });
    const inRuns = new Set(joins.flatMap(([a, b]) => order.slice(order.indexOf(a), order.indexOf(b) + 1)));
    const skips = order.filter((id, at) => modes[at] === "skipped" && !inRuns.has(id));
    orTell(set({ joins, skips }));
  };
  return (
    <details className="mt-1 border-t border-rule px-1.5 pt-1.5">
      <summary className="cursor-pointer text-[12px] text-ink-2">Its cells: joined, skipped, limits</summary>
      {way.states.map((one, index) => (
        <div key={one.id} className="flex items-center gap-1.5 py-0.5">
          <span className="min-w-0 flex-1 truncate" title={stateName(one)}>
            {stateName(one)}
          </span>
          <Select
            className="w-[122px]"
            aria-label={`The cell in ${stateName(one)}`}
            value={isJoined(one.id) ? "joined" : lane.skips.includes(one.id) ? "skipped" : "own"}
            onChange={(event) => choose(index, event.target.value)}
          >
            <option value="own">a cell</option>
            {index > 0 && <option value="joined">joined to the left</option>}
            <option value="skipped">skipped</option>
          </Select>
          <CellLimit state={one} lane={lane} set={set} />
        </div>
      ))}
    </details>
  );
}

function CellLimit({
  state,
  lane,
  set,
}: {
  state: State;
  lane: OwnLane;
  set: (settings: Record<string, unknown>) => Promise<unknown>;
}) {
  const limit = lane.cells[state.id];
  return (
    <span className="w-14 flex-none">
      <TextField
        value={limit ? String(limit) : ""}
        label={`Limit of the cell in ${stateName(state)}`}
        placeholder="–"
        className="w-full border-rule-2! px-1.5 text-right"
        onSave={async (text) => {
          const { [state.id]: _, ...rest } = lane.cells;
          const next = readLimit(text);
          await set({ cells: next === null ? rest : { ...rest, [state.id]: next } });
        }}
      />
    </span>
  );
}

/** Below the last lane: adds one. */
export function AddLane({ project, way }: { project: Project; way: Way }) {
  const define = useLanes(project);
  return (
    <AddPop what="a lane" name="Lane" className="p-2">
      <div className="px-1.5 pb-1">
        <AddByName
          label="Name of a new lane"
          action="Add it"
          save={(name) =>
            define.add(name, {
              workflow: way.id,
              colour: COLOURS[(project.lanes.length + 1) % COLOURS.length],
            })
          }
        />
      </div>
    </AddPop>
  );
}
