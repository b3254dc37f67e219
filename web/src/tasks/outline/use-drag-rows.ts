/** Dragging rows of the outline to where they shall stand. */
import { type DragEndEvent, type DragMoveEvent, PointerSensor, useSensor, useSensors } from "@dnd-kit/core";
import { useState } from "react";
import type { Grid } from "../../parts/grid/use-grid";
import type { Changes } from "../changes";
import type { OutlineRow } from "../rows";
import { type Drop, dropAt, type Pointer } from "./dropping";
import { HEAD, INDENT, ROW } from "./sizes";

export function useDragRows(grid: Grid, rows: OutlineRow[], changes: Changes, mayDrop: boolean) {
  const [drop, setDrop] = useState<Drop | null>(null);
  const [dragged, setDragged] = useState<string | null>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }));
  const ids = dragged ? grid.act.withChosen(dragged) : [];

  function rest() {
    setDrop(null);
    setDragged(null);
  }
  const context = {
    sensors,
    onDragStart: (event: { active: { id: string | number } }) => setDragged(String(event.active.id)),
    onDragMove: (event: DragMoveEvent) => {
      const box = grid.scroller.current;
      const moving = new Set(grid.act.withChosen(String(event.active.id)));
      setDrop(box && dropAt(pointerOf(event, box), rows, moving));
    },
    onDragEnd: (event: DragEndEvent) => {
      const moved = grid.act.withChosen(String(event.active.id));
      rest();
      if (drop && mayDrop) changes.move(moved, drop.parent_id, drop.after_id);
    },
    onDragCancel: rest,
  };
  return { context, drop, dragged, count: ids.length };
}

/** Where the pointer of a drag is, in rows and levels. */
function pointerOf(event: DragMoveEvent, box: HTMLDivElement): Pointer {
  const start = event.activatorEvent as PointerEvent;
  const rect = box.getBoundingClientRect();
  const y = start.clientY + event.delta.y - rect.top + box.scrollTop - HEAD;
  return { index: Math.round(y / ROW), level: Math.round((start.clientX + event.delta.x - rect.left - 30) / INDENT) };
}
