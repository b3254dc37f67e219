/** Dragging rows of the outline to where they shall stand. */
import { useCallback, useState } from "react";
import type { Grid } from "../../parts/grid/use-grid";
import { useHeld } from "../../parts/use-held";
import type { Changes } from "../changes";
import type { OutlineRow } from "../rows";
import { type Drop, dropAt, type Pointer } from "./dropping";
import { HEAD, INDENT, ROW } from "./sizes";

/** Pixels from which on a row is dragged, and not only pressed. */
const FROM = 5;

interface Held {
  id: string;
  x: number;
  y: number;
  /** it has left its place */
  moving: boolean;
}

export function useDragRows(grid: Grid, rows: OutlineRow[], changes: Changes, mayDrop: boolean) {
  const [held, setHeld] = useState<Held | null>(null);
  const [drop, setDrop] = useState<Drop | null>(null);

  const take = useCallback((event: React.PointerEvent, id: string) => {
    if (event.button === 0) setHeld({ id, x: event.clientX, y: event.clientY, moving: false });
  }, []);
  function rest() {
    setDrop(null);
    setHeld(null);
  }
  useHeld(
    held !== null,
    grid.scroller,
    { left: 0, top: HEAD },
    {
      move: (event) => {
        const box = grid.scroller.current;
        if (!held || !box) return;
        if (!held.moving && Math.hypot(event.clientX - held.x, event.clientY - held.y) < FROM) return;
        setHeld({ id: held.id, x: event.clientX, y: event.clientY, moving: true });
        setDrop(dropAt(pointerOf(event, box), rows, new Set(grid.act.withChosen(held.id))));
      },
      drop: () => {
        rest();
        if (held?.moving && drop && mayDrop) changes.move(grid.act.withChosen(held.id), drop.parent_id, drop.after_id);
      },
      rest,
    },
  );
  const dragged = held?.moving ? { ...held, count: grid.act.withChosen(held.id).length } : null;
  return { take, drop, dragged };
}

/** Where the pointer is, in rows and levels. */
function pointerOf(event: PointerEvent, box: HTMLElement): Pointer {
  const rect = box.getBoundingClientRect();
  const y = event.clientY - rect.top + box.scrollTop - HEAD;
  return { index: Math.round(y / ROW), level: Math.round((event.clientX - rect.left - 30) / INDENT) };
}
