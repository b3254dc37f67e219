/** A task dragged from the panel onto the load: to another row, which gives its hours away, or along the days of its own. */
import { format, parseISO } from "date-fns";
import { GripVertical } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { createPortal } from "react-dom";
import { hasCapacity, type Line, type Load } from "./use-load";

/** Where a task would be dropped. */
export interface Target {
  line: Line;
  column: number;
  box: DOMRect;
}

interface Props {
  load: Load;
  /** whose task it is, and in which column it was taken up */
  from: { who: string; column: number };
  title: string;
  drop: (target: Target) => void;
}

/** Pixels that a pointer moves before it drags. */
const SLACK = 4;

/** The cell under a point that a task of somebody can be dropped on: another column of theirs, or a row of somebody else. */
function targetAt(x: number, y: number, load: Load, from: Props["from"]): Target | null {
  const cell = document.elementFromPoint(x, y)?.closest<HTMLElement>("[data-cell]");
  const [who, column] = cell?.dataset.cell?.split(":") ?? [];
  const line = load.lines.find((one) => one.who === who);
  if (!cell || !line || !hasCapacity(line)) return null;
  if (line.who === from.who && Number(column) === from.column) return null;
  return { line, column: Number(column), box: cell.getBoundingClientRect() };
}

const words = ({ line, column }: Target, { load, from, title }: Props) =>
  line.who === from.who
    ? `Move “${title}” to ${format(parseISO(load.columns[column] ?? load.end), "EEE d MMM")}`
    : `Give “${title}” to ${line.name}`;

/** The grip of a task, and while it is dragged what would come of it. */
export function Grip(props: Props) {
  const { load, from, title, drop } = props;
  const began = useRef<{ x: number; y: number } | null>(null);
  const [at, setAt] = useState<{ x: number; y: number; target: Target | null } | null>(null);
  const dragging = at !== null;
  const stop = () => {
    began.current = null;
    setAt(null);
  };
  useEffect(() => {
    if (!dragging) return;
    const leave = (event: KeyboardEvent) => {
      if (event.key !== "Escape") return;
      event.stopPropagation();
      began.current = null;
      setAt(null);
    };
    window.addEventListener("keydown", leave, true);
    return () => window.removeEventListener("keydown", leave, true);
  }, [dragging]);
  return (
    <span
      aria-hidden="true"
      title={`Drag “${title}” to another row, or along the days`}
      className="-my-1 flex-none cursor-grab touch-none px-1 py-1 text-ink-3 select-none hover:text-ink"
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.preventDefault();
        event.currentTarget.setPointerCapture(event.pointerId);
        began.current = { x: event.clientX, y: event.clientY };
      }}
      onPointerMove={({ clientX: x, clientY: y }) => {
        const start = began.current;
        if (!start || (!at && Math.hypot(x - start.x, y - start.y) < SLACK)) return;
        setAt({ x, y, target: targetAt(x, y, load, from) });
      }}
      onPointerUp={() => {
        if (at?.target) drop(at.target);
        stop();
      }}
      onPointerCancel={stop}
    >
      <GripVertical size={13} className="inline-block" />
      {at &&
        createPortal(
          <>
            {at.target && (
              <span
                className="pointer-events-none fixed z-50 border-2 border-rose bg-rose/15"
                style={{
                  left: at.target.box.left,
                  top: at.target.box.top,
                  width: at.target.box.width,
                  height: at.target.box.height,
                }}
              />
            )}
            <span
              className="pointer-events-none fixed z-50 max-w-72 border border-ink bg-sheet px-2 py-1 font-semibold shadow-md"
              style={{ left: Math.max(4, Math.min(at.x + 12, window.innerWidth - 292)), top: at.y + 14 }}
            >
              {at.target ? words(at.target, props) : `“${title}”: drop it on a row, or another day`}
            </span>
          </>,
          document.body,
        )}
    </span>
  );
}
