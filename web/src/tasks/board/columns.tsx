/** The columns of the board: their heads, and the cells in which slips lie. */
import { useDroppable } from "@dnd-kit/core";
import { SortableContext, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { differenceInCalendarDays, parseISO } from "date-fns";
import type { State, TaskRow } from "../../data/api";
import { useMe } from "../../data/hooks";
import { count } from "../../parts/format";
import { Notches } from "../../parts/notches";
import type { Lane } from "./lanes";
import { Slip, type SlipProps } from "./slip";

/** How many slips a cell shows before one asks for more. */
export const FIRST_SHOWN = 40;
const LEAST_COLUMN = 216;

export function ColumnHead({
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
export function columnWidth(room: number, columns: number): number {
  const whole = Math.max(1, Math.min(columns, Math.floor(room / LEAST_COLUMN)));
  return Math.max(LEAST_COLUMN, room / whole);
}

export function LaneCells({
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
