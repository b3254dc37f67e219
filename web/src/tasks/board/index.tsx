/** The board: columns are states, rows are chosen, slips are dragged with pointer and keyboard. */
import {
  closestCorners,
  DndContext,
  type DragEndEvent,
  type DragOverEvent,
  DragOverlay,
  PointerSensor,
  pointerWithin,
  useDroppable,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { SortableContext, useSortable, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { differenceInCalendarDays, parseISO } from "date-fns";
import { memo, useCallback, useMemo, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import type { State, TaskRow } from "../../data/api";
import { may, useMe, usePeople } from "../../data/hooks";
import { Empty } from "../../parts/basics";
import { Facet } from "../../parts/facet";
import { count, sayDay, sayFull, sayPriority, sayTaskDue, times } from "../../parts/format";
import { Marks } from "../../parts/marks";
import { Notches } from "../../parts/notches";
import { Sign } from "../../parts/sign";
import { TaskCounts } from "../../parts/task-counts";
import { Tile } from "../../parts/tile";
import { useWidth } from "../../parts/use-width";
import type { Tint } from "../../views/view";
import { fieldOf, kindName, ownText } from "../custom-fields";
import type { LensProps } from "../lens";
import { readBoardChoice } from "./choice";

const FIRST_SHOWN = 40;
const LEAST_COLUMN = 216;
const LANE = 128;

interface Lane {
  id: string;
  name: string;
  /** what a slip put down here takes on */
  fields: Record<string, unknown>;
}

const FIELD: Record<string, keyof TaskRow> = {
  owner: "owner_id",
  parent: "parent_id",
  kind: "kind",
  priority: "priority",
};

export default function Board(props: LensProps) {
  const { project, rows, inside, changes, opened, openTask, scope, tints } = props;
  const [params] = useSearchParams();
  const choice = readBoardChoice(params, project);
  const { byId: people } = usePeople();
  const { now } = useMe();
  const canEdit = may(project, "edit");
  const [dragged, setDragged] = useState<string | null>(null);
  const [over, setOver] = useState<{ cell: string; before: string | null } | null>(null);
  const [more, setMore] = useState<Record<string, number>>({});
  const board = useRef<HTMLDivElement>(null);
  const width = useWidth(board, 1280, rows.byId.size > 0);

  const slips = useMemo(() => {
    const recent = (row: TaskRow) =>
      row.state_class !== "finished" ||
      !row.actual_finish ||
      differenceInCalendarDays(now, parseISO(row.actual_finish)) < choice.days;
    return [...rows.byId.values()]
      .filter((row) => !row.is_summary && (!inside || inside.has(row.id)) && recent(row))
      .sort((a, b) => (a.board_place < b.board_place ? -1 : a.board_place > b.board_place ? 1 : a.number - b.number));
  }, [rows, inside, now, choice.days]);

  const own = fieldOf(project, choice.rows);
  const field = own ? choice.rows : FIELD[choice.rows];
  /** what a slip has in the field that makes the rows */
  const held = useCallback(
    (row: TaskRow): string | null => {
      if (!field) return null;
      const value = own ? row.own[own.id] : row[field as keyof TaskRow];
      return value === undefined || value === null ? null : String(value);
    },
    [field, own],
  );
  const lanes = useMemo<Lane[]>(() => {
    if (!field) return [{ id: "", name: "", fields: {} }];
    const values = [...new Set(slips.map(held))];
    const name = (value: string | null) => {
      if (own)
        return value === null
          ? `No ${own.name.toLowerCase()}`
          : ownText(own, own.type === "yes_no" ? value === "true" : value, { byId: people, all: [], active: [] });
      if (field === "kind") return kindName(project, value ?? "");
      if (field === "owner_id") return people.get(value ?? "")?.name ?? "No owner";
      if (field === "parent_id") return rows.byId.get(value ?? "")?.title ?? "Under nothing";
      return value === null ? "No priority" : sayPriority(value);
    };
    const rank = (value: string | null) => {
      if (value === null) return "~~";
      if (field === "priority") return String(["must", "should", "could", "wont"].indexOf(value));
      if (field === "parent_id") return String(props.outline.findIndex((one) => one.row.id === value)).padStart(6, "0");
      return name(value);
    };
    return values
      .sort((a, b) => (rank(a) < rank(b) ? -1 : 1))
      .map((value) => ({ id: String(value), name: name(value), fields: { [field]: value } }));
  }, [field, own, held, slips, people, rows, project, props.outline]);

  const states = project.states.filter(
    (state) => state.state_class !== "dropped" || slips.some((row) => row.state_id === state.id),
  );
  const cellOf = useCallback((row: TaskRow) => `${field ? String(held(row)) : ""}|${row.state_id}`, [field, held]);
  const cells = useMemo(() => {
    const found = new Map<string, TaskRow[]>();
    for (const row of slips) {
      const key = cellOf(row);
      const list = found.get(key);
      if (list) list.push(row);
      else found.set(key, [row]);
    }
    return found;
  }, [slips, cellOf]);

  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }));

  const put = useCallback(
    (id: string, cell: string, before: string | null) => {
      const lane = lanes.find((one) => cell === `${one.id}|${cell.split("|").at(-1)}`);
      const state = project.states.find((one) => one.id === cell.split("|").at(-1));
      if (!lane || !state) return;
      const list = (cells.get(cell) ?? []).filter((row) => row.id !== id);
      const index = before ? list.findIndex((row) => row.id === before) : list.length;
      const behind = list[index - 1];
      const column = slips.filter((row) => row.state_id === state.id && row.id !== id);
      // on top of its cell: behind whatever stands before that cell's first slip in the column
      const first = list[0];
      const after = behind
        ? behind.id
        : first
          ? (column[column.indexOf(first) - 1]?.id ?? null)
          : (column.at(-1)?.id ?? null);
      const place = behind ? `${behind.board_place}!` : first ? "" : "~";
      const shown: Partial<TaskRow> = {
        state_id: state.id,
        state_class: state.state_class,
        board_place: place,
        ...(own
          ? { own: { ...rows.byId.get(id)?.own, [own.id]: lane.fields[field ?? ""] } }
          : (lane.fields as Partial<TaskRow>)),
        ...(state.state_class === "finished" ? { percent: 100, actual_finish: now.toISOString(), late_days: 0 } : {}),
      };
      return changes.drop([id], { state_id: state.id, after_id: after, fields: lane.fields }, shown);
    },
    [cells, changes, field, lanes, now, own, project.states, rows, slips],
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

  const key = useCallback(
    (event: React.KeyboardEvent, row: TaskRow) => {
      const arrow = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
      if (event.key === "Enter") {
        event.preventDefault();
        openTask(row.id);
        return;
      }
      if (!arrow) return;
      event.preventDefault();
      const [dx = 0, dy = 0] = arrow;
      const lane = cellOf(row).slice(0, -row.state_id.length - 1);
      const column = states.findIndex((state) => state.id === row.state_id);
      const list = cells.get(cellOf(row)) ?? [];
      const index = list.indexOf(row);
      if (event.altKey && canEdit) {
        const again = () => requestAnimationFrame(() => focusSlip(row.id));
        if (dx) {
          const state = states[column + dx];
          if (state) put(row.id, `${lane}|${state.id}`, cells.get(`${lane}|${state.id}`)?.[0]?.id ?? null)?.then(again);
        } else {
          const before = dy < 0 ? list[index - 1] : (list[index + 2] ?? null);
          if (dy < 0 ? before : index < list.length - 1) put(row.id, cellOf(row), before?.id ?? null)?.then(again);
        }
        again();
        return;
      }
      if (dy) {
        const lanesAt = lanes.findIndex((one) => one.id === lane);
        const next =
          list[index + dy] ??
          (dy > 0
            ? cells.get(`${lanes[lanesAt + 1]?.id}|${row.state_id}`)?.[0]
            : cells.get(`${lanes[lanesAt - 1]?.id}|${row.state_id}`)?.at(-1));
        focusSlip(next?.id);
      } else {
        for (let at = column + dx; states[at]; at += dx) {
          const there = cells.get(`${lane}|${states[at]?.id}`);
          if (there?.length) return focusSlip(there[Math.min(index, there.length - 1)]?.id);
        }
      }
    },
    [canEdit, cellOf, cells, lanes, openTask, put, states, focusSlip],
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
  const column = columnWidth(width - (field ? LANE : 0), states.length);
  const template = `${field ? `${LANE}px ` : ""}repeat(${states.length}, ${column}px)`;
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
        style={{ scrollPaddingLeft: field ? LANE : 0 }}
        role="region"
        aria-label="Board"
        tabIndex={0}
      >
        <div className="grid min-h-full w-max content-start" style={{ gridTemplateColumns: template }}>
          {field && (
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
              named={Boolean(field)}
              states={states}
              cells={cells}
              more={more}
              showMore={(cell) => setMore((now) => ({ ...now, [cell]: (now[cell] ?? FIRST_SHOWN) + 100 }))}
              over={over}
              slip={{ project, tints, people, now, canEdit, opened, openTask, onKey: key }}
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

function ColumnHead({
  state,
  slips,
  oldest,
  days,
}: {
  state: State;
  slips: TaskRow[];
  oldest: string | null;
  days: number;
}) {
  const { now } = useMe();
  const here = slips.filter((row) => row.state_id === state.id).length;
  const waiting = oldest ? differenceInCalendarDays(now, parseISO(oldest)) : 0;
  const words =
    state.state_class === "finished"
      ? `${here} in ${count(days, "day")}`
      : state.limit
        ? `${here} of ${state.limit}${here > state.limit ? ", over the limit" : ""}`
        : `${here}${here && waiting > 0 ? ` waiting, longest ${waiting} d` : ""}`;
  return (
    <div className="sticky top-0 z-10 snap-start border-r border-b border-r-rule border-b-rule-2 bg-paper px-2.5 py-2">
      <h2 className="text-[14px]">{state.name}</h2>
      <p className={`text-[11.5px] ${state.limit && here > state.limit ? "text-ember" : "text-ink-3"}`}>{words}</p>
      {state.limit && <Notches count={here} limit={state.limit} />}
    </div>
  );
}

/** Columns share the room as long as each has its least width; then as many as fit are whole, and the rest is scrolled to. */
function columnWidth(room: number, columns: number): number {
  const whole = Math.max(1, Math.min(columns, Math.floor(room / LEAST_COLUMN)));
  return Math.max(LEAST_COLUMN, room / whole);
}

interface SlipProps {
  tints: LensProps["tints"];
  project: LensProps["project"];
  people: ReturnType<typeof usePeople>["byId"];
  now: Date;
  canEdit: boolean;
  opened: string | null;
  openTask: (id: string) => void;
  onKey: (event: React.KeyboardEvent, row: TaskRow) => void;
}

function LaneCells({
  lane,
  named,
  states,
  cells,
  more,
  showMore,
  over,
  slip,
}: {
  lane: Lane;
  named: boolean;
  states: State[];
  cells: Map<string, TaskRow[]>;
  more: Record<string, number>;
  showMore: (cell: string) => void;
  over: { cell: string; before: string | null } | null;
  slip: SlipProps;
}) {
  const total = states.reduce((sum, state) => sum + (cells.get(`${lane.id}|${state.id}`)?.length ?? 0), 0);
  return (
    <>
      {named && (
        <div className="sticky left-0 z-[5] border-r border-b border-r-rule border-b-rule-2 bg-paper p-2">
          <h3 className="font-sans text-[13px] font-semibold">{lane.name}</h3>
          <p className="text-[11.5px] text-ink-3">{count(total, "task")}</p>
        </div>
      )}
      {states.map((state) => {
        const cell = `${lane.id}|${state.id}`;
        const list = cells.get(cell) ?? [];
        const shown = list.slice(0, more[cell] ?? FIRST_SHOWN);
        return (
          <CellBox
            key={cell}
            cell={cell}
            label={`${state.name}${named ? `, ${lane.name}` : ""}`}
            isOver={over?.cell === cell}
          >
            <SortableContext items={shown.map((row) => row.id)} strategy={verticalListSortingStrategy}>
              {shown.map((row) => (
                <Slip
                  key={row.id}
                  row={row}
                  cell={cell}
                  isOpen={slip.opened === row.id}
                  marked={over?.cell === cell && over.before === row.id}
                  {...slip}
                />
              ))}
            </SortableContext>
            {list.length > shown.length && (
              <button
                type="button"
                className="w-full py-1 text-center font-semibold text-rose"
                onClick={() => showMore(cell)}
              >
                {list.length - shown.length} more
              </button>
            )}
          </CellBox>
        );
      })}
    </>
  );
}

function CellBox({
  cell,
  label,
  isOver,
  children,
}: {
  cell: string;
  label: string;
  isOver: boolean;
  children: React.ReactNode;
}) {
  const { setNodeRef } = useDroppable({ id: `cell:${cell}`, data: { cell } });
  return (
    <div
      ref={setNodeRef}
      role="list"
      aria-label={label}
      className={`min-h-24 border-r border-b border-r-rule border-b-rule-2 p-2 ${isOver ? "bg-rose-soft" : "bg-sheet"}`}
    >
      {children}
    </div>
  );
}

const Slip = memo(function Slip({
  row,
  cell,
  isOpen,
  marked,
  project,
  tints,
  people,
  now,
  canEdit,
  openTask,
  onKey,
}: { row: TaskRow; cell: string; isOpen: boolean; marked: boolean } & SlipProps) {
  const sort = useSortable({ id: row.id, data: { cell }, disabled: !canEdit });
  return (
    <div
      role="listitem"
      ref={sort.setNodeRef}
      style={{ transform: CSS.Translate.toString(sort.transform) }}
      className={sort.isDragging ? "opacity-40" : ""}
    >
      {marked && <div className="mb-1 h-[3px] bg-rose" />}
      <div
        role="button"
        tabIndex={0}
        data-slip={row.id}
        {...sort.listeners}
        aria-keyshortcuts="Alt+ArrowLeft Alt+ArrowRight Alt+ArrowUp Alt+ArrowDown"
        onKeyDown={(event) => onKey(event, row)}
        onClick={() => openTask(row.id)}
        className="mb-[7px] focus-visible:outline-offset-2"
      >
        <SlipFace
          row={row}
          project={project}
          people={people}
          now={now}
          tint={tints?.get(row.id)?.slip}
          className={isOpen ? "border-rose" : ""}
        />
      </div>
    </div>
  );
});

function SlipFace({
  row,
  project,
  tint,
  people,
  now,
  className = "",
}: {
  row: TaskRow;
  project: SlipProps["project"];
  tint?: Tint;
  people: SlipProps["people"];
  now: Date;
  className?: string;
}) {
  const date = row.state_class === "finished" ? row.actual_finish : row.finish;
  return (
    <div
      className={`cut-10 slip-edge border border-rule-2 bg-sheet px-2 pt-[7px] pb-1.5 ${className}`}
      style={
        tint && {
          backgroundColor: `color-mix(in srgb, var(--color-${tint.colour}) 15%, var(--color-sheet))`,
          borderLeft: `3px solid var(--color-${tint.colour})`,
        }
      }
      title={tint ? `Tint: ${tint.name}` : undefined}
    >
      <div className="flex gap-[7px]">
        <span className="pt-px">
          <Facet row={row} size={15} />
        </span>
        <span className="min-w-0 pr-1.5 leading-[1.28] font-[550] break-words">{row.title}</span>
      </div>
      <div className="mt-[5px] flex flex-wrap items-center gap-x-[7px] text-[11.5px] whitespace-nowrap text-ink-2">
        <span title={sayFull(date)} className={row.late_days ? "font-semibold text-ember" : ""}>
          {date &&
            (row.late_days
              ? `${sayDay(date, now)}, ${row.late_days} d late`
              : row.state_class === "finished"
                ? sayDay(date, now)
                : `due ${sayTaskDue({ ...row, finish: date }, now)}`)}
        </span>
        {row.priority === "must" && <span>must</span>}
        {row.kind !== "task" && <span>{kindName(project, row.kind)}</span>}
        {tint && <Sign shape={tint.sign} colour={tint.colour} size={10} />}
        <Marks row={row} project={project} />
        {row.pushes > 1 && <span>pushed {times(row.pushes)}</span>}
        <TaskCounts row={row} />
        <span className="ml-auto">
          <Tile person={people.get(row.owner_id ?? "")} size={19} />
        </span>
      </div>
      {row.held && (
        <div className="hatched -mx-2 mt-1.5 -mb-1.5 px-2 py-[3px] text-[11.5px] font-[550]">Held: {row.held}</div>
      )}
    </div>
  );
}
