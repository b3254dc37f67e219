/** The board: columns are states, rows are chosen, slips are dragged with pointer and keyboard; one for each workflow. */

import { differenceInCalendarDays, parseISO } from "date-fns";
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import type { TaskRow } from "../data/api";
import { may, useMe, usePeople } from "../data/hooks";
import { note } from "../data/notes";
import { Empty } from "../parts/basics";
import { useWidth } from "../parts/use-width";
import type { LensProps } from "../tasks/lens";
import { useMayEnter } from "../time/time";
import { useScope } from "../views/scope";
import type { Adding } from "./add-line";
import { useBoard, useFromBlank } from "./board";
import { FIRST_SHOWN } from "./cell";
import { type BoardChoice, useBoardChoice } from "./choice";
import { useSlipDrag } from "./drag";
import { OverPeople } from "./over-people";
import {
  type Cell,
  frameKey,
  frameOf,
  inBacklog,
  placeIn,
  type Shape,
  shownIn,
  slipsOf,
  sorted,
  standing,
} from "./shape";
import type { SlipProps } from "./slip";
import { useFieldWords } from "./use-field-words";
import { LANE, WayBoard } from "./way";
import { ArrangeFoot } from "./way-bar";

const ARROWS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

export default function Board(props: LensProps) {
  const { project, rows, outline, inside, changes, opened, openTask, scope, tints } = props;
  const [choice, setChoice] = useBoardChoice(project);
  const { byId: people } = usePeople();
  const { now } = useMe();
  const canEdit = may(project, "edit");
  const manages = may(project, "manage");
  const [params] = useSearchParams();
  const arranging = manages && params.get("arranging") === "yes";
  const mayEnter = useMayEnter(project);
  const [more, setMore] = useState<Record<string, number>>({});
  const board = useRef<HTMLDivElement>(null);
  const width = useWidth(board, 1280, rows.byId.size > 0 || arranging);
  const answer = useBoard(project.code, choice.covers).data;

  const slips = useMemo(() => slipsOf(rows.byId.values(), inside, now, choice.days), [rows, inside, now, choice.days]);
  const shape = useShape(slips, choice, props, answer, people);
  const counts = useMemo(() => standing(rows.byId.values(), project), [rows, project]);
  const shown = useMemo(() => standing(slips, project), [slips, project]);
  const places = useMemo(() => new Map(answer?.places.map((one) => [one.key, one])), [answer]);
  const oldest = useMemo(
    () =>
      new Map(
        scope?.states.map((one) => [
          one.state_id,
          one.oldest_since ? differenceInCalendarDays(now, parseISO(one.oldest_since)) : 0,
        ]),
      ),
    [scope, now],
  );

  const put = useCallback(
    (id: string, to: string, before: string | null) => {
      const cell = shape.cells.get(to);
      const row = rows.byId.get(id);
      if (!cell || !row || cell.skipped) return;
      const ruled = answer?.lanes[id];
      if (cell.fields.lane_id === null && ruled && to !== shape.cellOf(row) && cell.states[0] === row.state_id) {
        const lane = project.lanes.find((one) => one.id === ruled)?.name;
        note(
          `“${row.title}” falls into the lane ${lane} by its rule. Put it into another lane, or change what the rule asks for.`,
        );
      }
      // what moves within a cell that joins columns keeps its state
      const within = shape.cellOf(row) === to && cell.states.includes(row.state_id);
      const state = project.states.find((one) => one.id === (within ? row.state_id : cell.states[0]));
      if (!state) return;
      const fields = Object.fromEntries(
        Object.entries(cell.fields).filter(([name, value]) => !(name === "period_id" && value === row.period_id)),
      );
      // the lane into which it falls anyway needs no hand
      if (fields.lane_id && fields.lane_id === ruled) fields.lane_id = null;
      const place = placeIn(id, cell, before, slips, shape);
      const to_ = { state_id: state.id, after_id: place.after, fields };
      return changes.drop([id], to_, shownIn(row, cell, state, place.shown, project, now));
    },
    [answer, changes, now, project, rows, shape, slips],
  );
  useSlipDrag(board, { can: () => canEdit, put }, rows.byId.size > 0);

  const { moveByKey, walk } = useKeys(board, shape, put);
  const key = useLatest((event: React.KeyboardEvent, row: TaskRow) => {
    const arrow = ARROWS[event.key];
    if (!arrow && event.key !== "Enter") return;
    event.preventDefault();
    if (!arrow) openTask(row.id);
    else if (event.altKey) canEdit && moveByKey(row, ...arrow);
    else walk(row, ...arrow);
  });

  const [sentence] = useScope();
  const fields = useFieldWords(project, sentence, choice);
  const slip = useStable<SlipProps>({
    project,
    tints,
    people,
    now,
    size: choice.size,
    fields,
    covers: answer?.covers ?? NO_COVERS,
    mayEnter,
    opened,
    openTask: useLatest(openTask),
    onKey: key,
  });
  const fromBlank = useFromBlank(project.code);
  const add = useCallback(
    (cell: Cell, title: string) => {
      const { period_id, ...rest } = cell.fields;
      const fields = { ...rest, state_id: cell.states[0], ...(period_id ? { period_id } : {}) };
      const { parent_id = null, ...others } = fields as Record<string, unknown>;
      return changes.add([{ title, parent_id: parent_id as string | null, after_id: "end", fields: clean(others) }]);
    },
    [changes],
  );
  const adding = useMemo(
    (): Adding | null =>
      canEdit
        ? {
            blanks: project.blanks,
            add,
            fromBlank: (cell, blank, title) =>
              fromBlank(blank, title, clean({ ...cell.fields, state_id: cell.states[0] })),
          }
        : null,
    [canEdit, project.blanks, add, fromBlank],
  );
  const [folded, fold] = useFolded(choice.folded, setChoice);
  const showMore = useCallback(
    (cell: string) => setMore((now) => ({ ...now, [cell]: (now[cell] ?? FIRST_SHOWN) + 100 })),
    [],
  );
  // a slip that was opened from elsewhere is brought into sight
  useEffect(() => {
    if (opened)
      board.current?.querySelector(`[data-slip="${opened}"]`)?.scrollIntoView({ block: "nearest", inline: "nearest" });
  }, [opened]);

  if (!rows.byId.size && !arranging) {
    return (
      <Empty title="Move work as it moves">
        <p>
          Each task is a slip that goes from state to state. Write the first tasks in the outline; they appear here.
        </p>
      </Empty>
    );
  }
  const zoom = choice.zoom / 100;
  const among = shape.ways.length > 1;
  return (
    <div className="flex min-w-0 flex-1 flex-col">
      <OverPeople places={places} />
      <div
        ref={board}
        className={`@container min-h-0 min-w-0 flex-1 snap-x snap-proximity overflow-auto ${arranging ? "arranging" : ""}`}
        style={{ scrollPaddingLeft: shape.ways.some((way) => way.named) ? LANE : 0, ["--zoom" as string]: zoom }}
        role="region"
        aria-label="Board"
        tabIndex={0}
      >
        <div className="min-h-full w-max" style={{ zoom }}>
          {shape.ways.map((way) => (
            <WayBoard
              key={way.id ?? ""}
              {...{
                project,
                way,
                shape,
                places,
                among,
                fold,
                manages,
                arranging,
                more,
                showMore,
                slip,
                adding,
                outline,
              }}
              standing={counts}
              shown={shown}
              oldest={oldest}
              days={choice.days}
              folded={folded}
              width={width / zoom}
            />
          ))}
          {arranging && <ArrangeFoot project={project} />}
        </div>
      </div>
    </div>
  );
}

/** What is folded: shown at once, and then written into the address, which is drawn anew with the whole page. */
function useFolded(kept: Set<string>, set: (name: string, value: string) => void): [Set<string>, (id: string) => void] {
  const [folded, setFolded] = useState(kept);
  const text = [...kept].join(",");
  const waiting = useRef(0);
  const gone = useRef(false);
  useEffect(() => {
    gone.current = false;
    return () => {
      gone.current = true;
    };
  }, []);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the text is what changes
  useEffect(() => {
    if (!waiting.current) setFolded(kept);
  }, [text]);
  const fold = useLatest((id: string) => {
    const next = new Set(folded);
    if (!next.delete(id)) next.add(id);
    setFolded(next);
    waiting.current += 1;
    setTimeout(() => {
      waiting.current -= 1;
      if (!gone.current) set("folded", [...next].join(","));
    }, 30);
  });
  return [folded, fold];
}

const NO_COVERS: Record<string, string> = {};

/** Fields that a new task is given: nothing that is empty. */
const clean = (fields: Record<string, unknown>) =>
  Object.fromEntries(Object.entries(fields).filter(([, value]) => value !== null && value !== undefined));

/** The same function for good, which does what the latest one does: what is drawn with it need not be drawn anew. */
function useLatest<A extends unknown[], R>(latest: (...args: A) => R): (...args: A) => R {
  const held = useRef(latest);
  useLayoutEffect(() => {
    held.current = latest;
  });
  return useCallback((...args: A) => held.current(...args), []);
}

/** The same object as long as none of what it holds changes, so that what is drawn from it need not be drawn anew. */
function useStable<T extends object>(value: T): T {
  const held = useRef(value);
  const same = Object.entries(value).every(([name, one]) => held.current[name as keyof T] === one);
  if (!same) held.current = value;
  return held.current;
}

function useShape(
  slips: TaskRow[],
  choice: BoardChoice,
  { project, outline }: LensProps,
  board: ReturnType<typeof useBoard>["data"],
  people: ReturnType<typeof usePeople>["byId"],
): Shape {
  const before = useRef<Shape | null>(null);
  // the outline names the rows of a board by what tasks stand under; else it changes with every row and matters to none
  const names = choice.rows === "parent" ? outline : NO_OUTLINE;
  const key = useMemo(() => frameKey(slips, choice.rows, project), [slips, choice.rows, project]);
  const cells = board?.cells;
  const lanes = board?.lanes;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key says what of the slips matters
  const frame = useMemo(
    () => frameOf(slips, choice.rows, { project, people, outline: names, board: cells && lanes && { cells, lanes } }),
    [key, choice.rows, project, people, names, cells, lanes],
  );
  const shape = useMemo(
    (): Shape => ({ ...frame, slipsIn: sorted(slips, frame.cellOf, before.current) }),
    [frame, slips],
  );
  before.current = shape;
  return shape;
}

const NO_OUTLINE: LensProps["outline"] = [];

/** How long after a slip was moved by a key, in milliseconds, it may get the focus back. */
const REFOCUS = 5000;

/** Walking from slip to slip, and moving a slip, with the arrow keys. */
function useKeys(
  board: React.RefObject<HTMLDivElement | null>,
  shape: Shape,
  put: (id: string, cell: string, before: string | null) => Promise<unknown> | undefined,
) {
  const focusSlip = useCallback(
    (id: string | undefined) => {
      const slip = id ? board.current?.querySelector<HTMLElement>(`[data-slip="${id}"]`) : null;
      slip?.focus();
      return Boolean(slip?.checkVisibility()); // what lies in a folded column is not seen
    },
    [board],
  );

  /** A slip that goes to another column is drawn anew there and loses the focus: it gets it back, unless it is elsewhere. */
  const moved = useRef<{ id: string; until: number } | null>(null);
  const refocus = useCallback(() => {
    const active = document.activeElement;
    const one = moved.current;
    if (one && Date.now() < one.until && (!active || active === document.body)) focusSlip(one.id);
  }, [focusSlip]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the shape is what draws it anew
  useLayoutEffect(refocus, [shape, refocus]);

  /** The cells around one: of its lane from left to right with the backlog before them, and those above and below. */
  const around = useCallback(
    (cell: string) => {
      for (const way of shape.ways) {
        const shelf = way.backlog.map((one) => one.cell);
        const onShelf = shelf.findIndex((one) => one.key === cell);
        if (onShelf >= 0)
          return {
            row: [shelf[onShelf], way.lanes[0]?.cells[0]],
            at: 0,
            above: shelf[onShelf - 1],
            below: shelf[onShelf + 1],
          };
        for (const [index, lane] of way.lanes.entries()) {
          const at = lane.cells.findIndex((one) => one.key === cell);
          if (at < 0) continue;
          const state = lane.cells[at]?.states[0] ?? "";
          const beside = (to: number) => way.lanes[to]?.cells.find((one) => one.states.includes(state));
          const row = shelf[0] ? [shelf[0], ...lane.cells] : lane.cells;
          return { row, at: shelf[0] ? at + 1 : at, above: beside(index - 1), below: beside(index + 1) };
        }
      }
      return null;
    },
    [shape],
  );

  const moveByKey = useCallback(
    (row: TaskRow, dx: number, dy: number) => {
      const cell = shape.cellOf(row);
      const here = around(cell);
      if (!here) return;
      const list = shape.slipsIn.get(cell) ?? [];
      const index = list.indexOf(row);
      const top = (to: Cell | undefined) =>
        to && !to.skipped && { cell: to.key, before: shape.slipsIn.get(to.key)?.[0]?.id ?? null };
      let to: { cell: string; before: string | null } | false | undefined;
      if (dx) {
        let at = here.at + dx;
        while (here.row[at]?.skipped) at += dx;
        to = top(here.row[at]);
      } else if (dy < 0 ? index > 0 : index < list.length - 1) {
        to = { cell, before: list[dy < 0 ? index - 1 : index + 2]?.id ?? null };
      } else if (dy > 0) to = top(here.below);
      else to = here.above && !here.above.skipped && { cell: here.above.key, before: null };
      if (!to) return;
      moved.current = { id: row.id, until: Date.now() + REFOCUS };
      put(row.id, to.cell, to.before)?.then(refocus);
    },
    [around, put, refocus, shape],
  );

  const walk = useCallback(
    (row: TaskRow, dx: number, dy: number) => {
      const cell = shape.cellOf(row);
      const here = around(cell);
      const list = shape.slipsIn.get(cell) ?? [];
      const index = list.indexOf(row);
      if (dy) {
        let beside = dy > 0 ? here?.below : here?.above;
        while (beside && !shape.slipsIn.get(beside.key)?.length && !list[index + dy]) {
          const next = around(beside.key);
          beside = dy > 0 ? next?.below : next?.above;
        }
        const there = beside && shape.slipsIn.get(beside.key);
        focusSlip((list[index + dy] ?? there?.at(dy > 0 ? 0 : -1))?.id);
        return;
      }
      for (let at = (here?.at ?? 0) + dx; here?.row[at]; at += dx) {
        const there = shape.slipsIn.get(here.row[at]?.key ?? "");
        if (there?.length && focusSlip(there[Math.min(inBacklog(cell) ? 0 : index, there.length - 1)]?.id)) return;
      }
    },
    [around, focusSlip, shape],
  );
  return { moveByKey, walk };
}
