/** Taking hold of bars with the pointer: move, stretch, percent done, draw a bar, draw a link. */
import { useCallback, useRef, useState } from "react";
import { useHeld } from "../../parts/use-held";
import type { OutlineRow } from "../../tasks/rows";
import type { Hold } from "./bar";
import { HEAD, insideEnd, ROW } from "./geometry";

export interface Drag {
  id: string;
  how: Hold | "draw";
  /** where it was taken and where the pointer is, in pixels of the axis and of the rows */
  from: number;
  x: number;
  y: number;
}

/** The row under a height, counted from the first row. */
export const rowAt = (rows: OutlineRow[], y: number) => rows[Math.floor(y / ROW)]?.row;

const CLICK = 4;

/**
 * What is taken hold of. The end of a bar is drawn as one only once the pointer is over its row, which a quick hand or
 * a finger is ahead of: it counts all the same.
 */
function holdOf(target: HTMLElement, x: number): Hold | undefined {
  const held = target.closest<HTMLElement>("[data-hold]");
  const how = held?.dataset.hold as Hold | undefined;
  if (held?.dataset.stretches === undefined) return how;
  const box = held.getBoundingClientRect();
  return x >= box.right - insideEnd(box.width) ? "stretch" : how;
}

/**
 * Args:
 *   grid: the width of the columns at the left, in pixels.
 *   begin: false where a row may not be taken hold of that way.
 */
export function useDrag(
  scroller: React.RefObject<HTMLDivElement | null>,
  grid: number,
  begin: (id: string, how: Drag["how"]) => boolean,
  end: (drag: Drag) => void,
  click: (id: string) => void,
  focus: (id: string) => void,
) {
  const [drag, setDrag] = useState<Drag | null>(null);
  const current = useRef(drag);
  current.current = drag;
  const handlers = useRef({ end, click, focus });
  handlers.current = { end, click, focus };

  const place = useCallback(
    (event: { clientX: number; clientY: number }) => {
      const node = scroller.current;
      const box = node?.getBoundingClientRect();
      if (!node || !box) return { x: 0, y: 0 };
      return {
        x: event.clientX - box.left + node.scrollLeft - grid,
        y: event.clientY - box.top + node.scrollTop - HEAD,
      };
    },
    [scroller, grid],
  );

  const take = useCallback(
    (event: React.PointerEvent) => {
      if (event.button !== 0) return;
      const target = event.target as HTMLElement;
      const cell = target.closest<HTMLElement>("[data-cell=bar]");
      const id = cell?.closest<HTMLElement>("[data-row]")?.dataset.row;
      if (!cell || !id) return;
      const hold = holdOf(target, event.clientX);
      const how = hold ?? "draw";
      if (!begin(id, how)) {
        if (hold) handlers.current.click(id);
        else handlers.current.focus(id);
        return;
      }
      event.preventDefault();
      cell.focus({ preventScroll: true });
      const { x, y } = place(event);
      setDrag({ id, how, from: x, x, y });
    },
    [begin, place],
  );

  useHeld(
    drag !== null,
    scroller,
    { left: grid, top: HEAD },
    {
      move: (event) => setDrag((now) => now && { ...now, ...place(event) }),
      drop: (event) => {
        const now = current.current;
        setDrag(null);
        if (!now) return;
        const done = { ...now, ...place(event) };
        if (Math.abs(done.x - done.from) >= CLICK || done.how.startsWith("link")) handlers.current.end(done);
        else if (done.how !== "draw") handlers.current.click(done.id);
      },
      rest: () => setDrag(null),
    },
  );

  return { drag, take };
}
