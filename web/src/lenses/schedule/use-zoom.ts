/** The scale of the schedule: named steps, the wheel about the pointer, and fit to the window. */
import { differenceInCalendarDays } from "date-fns";
import { useCallback, useEffect, useRef, useState } from "react";
import { type daysOf, makeAxis, NARROWEST, SCALES, WIDEST } from "./axis";

const KEY = "rhodonite.schedule-scale";

interface Anchor {
  /** the moment that is to stay where it is, so many pixels from the left edge of the axis in view */
  moment: Date;
  offset: number;
}

export function useZoom(
  scroller: React.RefObject<HTMLDivElement | null>,
  grid: number,
  days: ReturnType<typeof daysOf>,
  span: { from: Date; to: Date },
) {
  const [pixels, setPixels] = useState(() => Number(sessionStorage.getItem(KEY)) || SCALES.week);
  const anchor = useRef<Anchor | null>(null);
  const live = useRef({ pixels, days, grid, span });
  live.current = { pixels, days, grid, span };

  const set = useCallback(
    (wanted: number, about?: number) => {
      const node = scroller.current;
      const { pixels: before, days: all, grid: columns } = live.current;
      const next = Math.max(NARROWEST, Math.min(WIDEST, wanted));
      if (!node || next === before) return;
      const offset = about ?? (node.clientWidth - columns) / 2;
      anchor.current = { moment: makeAxis(all, before).momentAt(node.scrollLeft + offset), offset };
      sessionStorage.setItem(KEY, String(next));
      setPixels(next);
    },
    [scroller],
  );

  const choose = useCallback(
    (to: number | "in" | "out") =>
      set(typeof to === "number" ? to : live.current.pixels * (to === "in" ? 1.6 : 1 / 1.6)),
    [set],
  );

  const fit = useCallback(() => {
    const node = scroller.current;
    if (!node) return;
    const { days: all, grid: columns, span: whole } = live.current;
    const first = Math.max(0, differenceInCalendarDays(whole.from, all[0]?.date ?? whole.from));
    const last = differenceInCalendarDays(whole.to, all[0]?.date ?? whole.to);
    const one = makeAxis(all.slice(first, last + 1), 1).width;
    const room = node.clientWidth - columns - 150; // for the titles behind the last bars
    set(Math.max(80, room) / Math.max(1, one));
    anchor.current = { moment: whole.from, offset: 12 };
  }, [scroller, set]);

  useEffect(() => {
    const node = scroller.current;
    if (!node) return;
    const wheel = (event: WheelEvent) => {
      if (!event.ctrlKey && !event.metaKey) return;
      event.preventDefault(); // the browser would zoom the page
      const about = event.clientX - node.getBoundingClientRect().left - live.current.grid;
      set(live.current.pixels * Math.exp(-event.deltaY * 0.0022), Math.max(0, about));
    };
    node.addEventListener("wheel", wheel, { passive: false });
    return () => node.removeEventListener("wheel", wheel);
  }, [scroller, set]);

  return { pixels, choose, fit, anchor };
}
