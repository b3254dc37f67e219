/** A cell of the board: its slips, and the line that adds one. */
import { memo } from "react";
import type { TaskRow } from "../data/api";
import { type Adding, AddLine } from "./add-line";
import type { Cell } from "./shape";
import { Slip, type SlipProps } from "./slip";

/** How many slips a cell shows before one asks for more. */
export const FIRST_SHOWN = 40;
const NONE: TaskRow[] = [];

export const CellBox = memo(function CellBox({
  cell,
  slips = NONE,
  more,
  showMore,
  slip,
  adding,
  span = 1,
  folded = false,
  low = false,
  plain = false,
}: {
  cell: Cell;
  slips: TaskRow[] | undefined;
  more: number;
  showMore: (cell: string) => void;
  slip: SlipProps;
  /** null where nothing can be added */
  adding: Adding | null;
  span?: number;
  /** its column is folded: it says how many, and takes what is put down */
  folded?: boolean;
  /** its lane is empty, and folded to a line */
  low?: boolean;
  /** within a box that has its own edges */
  plain?: boolean;
}) {
  const closed = cell.skipped && !slips.length;
  const over = cell.limit !== null && slips.length > cell.limit;
  const shown = slips.slice(0, more); // kept where it is folded, not drawn, so that it is there at once when it unfolds
  const edges = plain
    ? "min-h-8"
    : `border-r border-b border-r-rule border-b-rule-2 ${low || closed ? "min-h-8" : "min-h-24"}`;
  return (
    <div
      data-cell={cell.key}
      data-closed={closed ? "" : undefined}
      title={closed ? "This lane skips this column" : undefined}
      className={`flex flex-col p-2 data-[over]:bg-rose-soft ${edges} ${closed ? "bg-[repeating-linear-gradient(135deg,transparent_0_7px,var(--color-rule)_7px_8px)]" : "bg-sheet"} ${folded ? "items-center px-0!" : ""}`}
      style={{ gridColumn: `span ${span}` }}
    >
      {cell.limit !== null && !folded && (
        <p className={`pb-1 text-[11.5px] ${over ? "font-semibold text-ember" : "text-ink-2"}`}>
          {slips.length} of {cell.limit}
          {over ? ", over the limit" : ""}
        </p>
      )}
      {folded && slips.length > 0 && <span className="text-[11.5px] text-ink-2">{slips.length}</span>}
      <div
        role="list"
        aria-label={cell.label}
        className={`flex-1 ${span > 1 ? "grid items-start gap-x-2" : ""} ${folded ? "w-full [content-visibility:hidden]" : ""}`}
        style={span > 1 ? { gridTemplateColumns: `repeat(${span}, 1fr)` } : undefined}
      >
        {shown.map((row) => (
          <Slip key={row.id} row={row} isOpen={slip.opened === row.id} {...slip} />
        ))}
      </div>
      {slips.length > shown.length && !folded && (
        <button
          type="button"
          className="w-full py-1 text-center font-semibold text-rose"
          onClick={() => showMore(cell.key)}
        >
          {slips.length - shown.length} more
        </button>
      )}
      {adding && !folded && !closed && <AddLine cell={cell} adding={adding} />}
    </div>
  );
});
