/** Something that the pointer has taken hold of: where it goes, until it is let go or put back with Escape. */
import { type RefObject, useEffect, useRef } from "react";

interface Handlers {
  move: (event: PointerEvent) => void;
  /** it is let go */
  drop: (event: PointerEvent) => void;
  /** it stays where it was */
  rest: () => void;
}

/** How near an edge what is held lets the page scroll on, and how far each time, in pixels. */
const EDGE = 12;
const STEP = 12;

/**
 * Args:
 *   inset: how much of the scroller its own columns and head cover, at the left and at the top, in pixels.
 */
export function useHeld(
  held: boolean,
  scroller: RefObject<HTMLElement | null>,
  inset: { left: number; top: number },
  handlers: Handlers,
) {
  const on = useRef(handlers);
  on.current = handlers;
  const { left, top } = inset;
  useEffect(() => {
    if (!held) return;
    const move = (event: PointerEvent) => {
      on.current.move(event);
      const node = scroller.current;
      if (!node) return;
      const box = node.getBoundingClientRect();
      node.scrollBy(step(event.clientX, box.left + left, box.right), step(event.clientY, box.top + top, box.bottom));
    };
    const drop = (event: PointerEvent) => on.current.drop(event);
    const rest = () => on.current.rest();
    const key = (event: KeyboardEvent) => event.key === "Escape" && rest();
    const selects = (event: Event) => event.preventDefault();
    window.addEventListener("pointermove", move);
    window.addEventListener("pointerup", drop);
    window.addEventListener("pointercancel", rest);
    window.addEventListener("keydown", key, true);
    document.addEventListener("selectstart", selects);
    return () => {
      window.removeEventListener("pointermove", move);
      window.removeEventListener("pointerup", drop);
      window.removeEventListener("pointercancel", rest);
      window.removeEventListener("keydown", key, true);
      document.removeEventListener("selectstart", selects);
    };
  }, [held, scroller, left, top]);
}

function step(at: number, first: number, last: number): number {
  return at < first + EDGE ? -STEP : at > last - EDGE ? STEP : 0;
}
