/** Hovering a date or a bar says why it is what it is, after a moment; the key W says it at once. */
import { useEffect, useRef, useState } from "react";
import type { WhyAt } from "./why";

const AFTER = 350;
const EXPLAINED = "[data-hold=move], [data-cell=start], [data-cell=finish], [data-cell=slack]";

const rowIdOf = (element: Element | null | undefined) => element?.closest<HTMLElement>("[data-row]")?.dataset.row;

export function useWhyTip(isDragging: boolean) {
  const [why, setWhy] = useState<WhyAt | null>(null);
  /** the row whose bar the pointer is over */
  const [hovered, setHovered] = useState<string | null>(null);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(() => () => clearTimeout(timer.current), []);

  function hide() {
    clearTimeout(timer.current);
    setWhy(null);
  }

  function move(event: React.PointerEvent) {
    clearTimeout(timer.current);
    const target = event.target as Element;
    setHovered(rowIdOf(target.closest?.("[data-cell=bar]")) ?? null);
    const id = rowIdOf(target.closest?.(EXPLAINED));
    if (id && !isDragging && why?.id === id) return;
    setWhy(null);
    if (!id || isDragging) return;
    const { clientX, clientY } = event;
    timer.current = setTimeout(() => setWhy({ id, x: clientX + 12, y: clientY + 16 }), AFTER);
  }

  /** At the element with the focus, right of the columns. */
  function show(id: string, grid: number) {
    const box = document.activeElement?.getBoundingClientRect();
    setWhy(box ? { id, x: Math.max(box.left, grid + 12) + 8, y: box.bottom + 4 } : null);
  }

  return { why, hovered, move, hide, show };
}
