/** The board: columns are states, rows are chosen, slips are dragged with pointer and keyboard. */
import {
  closestCorners,
  DndContext,
  type DragEndEvent,
  type DragOverEvent,
  DragOverlay,
  PointerSensor,
  pointerWithin,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { useCallback, useMemo, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import type { TaskRow } from "../../data/api";
import { may, useMe, usePeople } from "../../data/hooks";
import { Empty } from "../../parts/basics";
import { useWidth } from "../../parts/use-width";
import { useMayEnter } from "../../time/time";
import type { LensProps } from "../lens";
import { readBoardChoice } from "./choice";
import { ColumnHead, columnWidth, FIRST_SHOWN, LaneCells } from "./columns";
import { cellIn, cellOf, cellsOf, groupingOf, laneIn, lanesOf, placeIn, shownIn, slipsOf, stateIn } from "./lanes";
import { SlipFace } from "./slip";

const LANE = 128;
const ARROWS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

export default function Board(props: LensProps) {
  const { project, rows, outline, inside, changes, opened, openTask, scope, tints } = props;
  const [params] = useSearchParams();
  const choice = readBoardChoice(params, project);
  const { byId: people } = usePeople();
  const { now } = useMe();
  const canEdit = may(project, "edit");
  const mayEnter = useMayEnter(project);
  const [dragged, setDragged] = useState<string | null>(null);
  const [over, setOver] = useState<{ cell: string; before: string | null } | null>(null);
  const [more, setMore] = useState<Record<string, number>>({});
  const board = useRef<HTMLDivElement>(null);
  const width = useWidth(board, 1280, rows.byId.size > 0);

  const slips = useMemo(() => slipsOf(rows.byId.values(), inside, now, choice.days), [rows, inside, now, choice.days]);
  const grouping = useMemo(() => groupingOf(project, choice.rows), [project, choice.rows]);
  const lanes = useMemo(
    () => lanesOf(grouping, slips, { project, people, outline }),
    [grouping, slips, project, people, outline],
  );
  const cells = useMemo(() => cellsOf(slips, grouping), [slips, grouping]);
  const states = project.states.filter(
    (state) => state.state_class !== "dropped" || slips.some((row) => row.state_id === state.id),
  );

  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }));

  const put = useCallback(
    (id: string, cell: string, before: string | null) => {
      const lane = lanes.find((one) => one.id === laneIn(cell));
      const state = project.states.find((one) => one.id === stateIn(cell));
      const row = rows.byId.get(id);
      if (!lane || !state || !row) return;
      const place = placeIn(id, cell, before, slips, cells);
      const to = { state_id: state.id, after_id: place.after, fields: lane.fields };
      return changes.drop([id], to, shownIn(row, lane, state, place.shown, project, now));
    },
    [cells, changes, lanes, now, project, rows, slips],
  );

  function dragOver(event: DragOverEvent) {
    const target = event.over;
    if (!target) return setOver(null);
    const data = target.data.current as { cell?: string } | undefined;
    if (data?.cell)
      setOver({ cell: data.cell, before: String(target.id).startsWith("cell:") ? null : String(target.id) });
  }
  function dragEnd(event: DragEndEvent) {
    const id = String(event.active.id);
    const to = over;
    setDragged(null);
    setOver(null);
    if (to && to.before !== id) put(id, to.cell, to.before);
  }

  const focusSlip = useCallback((id: string | undefined) => {
    if (id) board.current?.querySelector<HTMLElement>(`[data-slip="${id}"]`)?.focus();
  }, []);

  /** A slip that goes to another column is drawn anew there and loses the focus: it gets it back, unless it is elsewhere. */
  const refocus = useCallback(
    (id: string) =>
      requestAnimationFrame(() => {
        const active = document.activeElement;
        if (!active || active === document.body) focusSlip(id);
      }),
    [focusSlip],
  );

  const moveByKey = useCallback(
    (row: TaskRow, dx: number, dy: number) => {
      const cell = cellOf(row, grouping);
      const list = cells.get(cell) ?? [];
      const index = list.indexOf(row);
      let to: { cell: string; before: string | null } | null = null;
      if (dx) {
        const state = states[states.findIndex((one) => one.id === row.state_id) + dx];
        const next = state && cellIn(laneIn(cell), state.id);
        if (next) to = { cell: next, before: cells.get(next)?.[0]?.id ?? null };
      } else if (dy < 0 ? index > 0 : index < list.length - 1) {
        to = { cell, before: list[dy < 0 ? index - 1 : index + 2]?.id ?? null };
      }
      if (!to) return;
      put(row.id, to.cell, to.before)?.then(() => refocus(row.id));
      refocus(row.id);
    },
    [cells, grouping, put, refocus, states],
  );

  const walk = useCallback(
    (row: TaskRow, dx: number, dy: number) => {
      const cell = cellOf(row, grouping);
      const list = cells.get(cell) ?? [];
      const index = list.indexOf(row);
      if (dy) {
        const lane = lanes[lanes.findIndex((one) => one.id === laneIn(cell)) + dy];
        const beside = lane && cells.get(cellIn(lane.id, row.state_id));
        return focusSlip((list[index + dy] ?? beside?.at(dy > 0 ? 0 : -1))?.id);
      }
      const column = states.findIndex((state) => state.id === row.state_id);
      for (let at = column + dx; states[at]; at += dx) {
        const there = cells.get(cellIn(laneIn(cell), states[at]?.id ?? ""));
        if (there?.length) return focusSlip(there[Math.min(index, there.length - 1)]?.id);
      }
    },
    [cells, focusSlip, grouping, lanes, states],
  );

  const key = useCallback(
    (event: React.KeyboardEvent, row: TaskRow) => {
      const arrow = ARROWS[event.key];
      if (!arrow && event.key !== "Enter") return;
      event.preventDefault();
      if (!arrow) openTask(row.id);
      else if (event.altKey) canEdit && moveByKey(row, ...arrow);
      else walk(row, ...arrow);
    },
    [canEdit, moveByKey, openTask, walk],
  );

  if (!rows.byId.size) {
    return (
      <Empty title="Move work as it moves">
        <p>
          Each task is a slip that goes from state to state. Write the first tasks in the outline; they appear here.
        </p>
      </Empty>
    );
  }
  const column = columnWidth(width - (grouping ? LANE : 0), states.length);
  const template = `${grouping ? `${LANE}px ` : ""}repeat(${states.length}, ${column}px)`;
  const active = dragged ? rows.byId.get(dragged) : undefined;
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={(args) => {
        const within = pointerWithin(args);
        return within.length ? within : closestCorners(args);
      }}
      onDragStart={(event) => setDragged(String(event.active.id))}
      onDragOver={dragOver}
      onDragEnd={dragEnd}
      onDragCancel={() => {
        setDragged(null);
        setOver(null);
      }}
    >
      <div
        ref={board}
        className="min-w-0 flex-1 snap-x snap-proximity overflow-auto"
        style={{ scrollPaddingLeft: grouping ? LANE : 0 }}
        role="region"
        aria-label="Board"
        tabIndex={0}
      >
        <div className="grid min-h-full w-max content-start" style={{ gridTemplateColumns: template }}>
          {grouping && (
            <div className="sticky top-0 left-0 z-20 border-r border-b border-r-rule border-b-rule-2 bg-paper" />
          )}
          {states.map((state) => (
            <ColumnHead
              key={state.id}
              state={state}
              slips={slips}
              oldest={scope?.states.find((one) => one.state_id === state.id)?.oldest_since ?? null}
              days={choice.days}
            />
          ))}
          {lanes.map((lane) => (
            <LaneCells
              key={lane.id}
              lane={lane}
              named={grouping !== null}
              states={states}
              cells={cells}
              more={more}
              showMore={(cell) => setMore((now) => ({ ...now, [cell]: (now[cell] ?? FIRST_SHOWN) + 100 }))}
              over={over}
              slip={{ project, tints, people, now, canEdit, mayEnter, opened, openTask, onKey: key }}
            />
          ))}
        </div>
      </div>
      <DragOverlay dropAnimation={null}>
        {active && (
          <SlipFace row={active} project={project} people={people} now={now} className="rotate-1 border-rose" />
        )}
      </DragOverlay>
    </DndContext>
  );
}
