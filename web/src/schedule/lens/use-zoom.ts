/** The scale of the schedule: named steps, the wheel about the pointer, and fit to the window. */
import { endOfDay, startOfDay } from "date-fns";
import { useCallback, useEffect, useRef, useState } from "react";
import { type daysOf, makeAxis, NARROWEST, SCALES, WIDEST } from "./axis";

const KEY = "rhodonite.schedule-scale";

/** Milliseconds without a change of the scale, after which it has been found. */
const RESTS_AFTER = 150;

export interface Anchor {
  /** the moment that is to stay where it is, so many pixels from the left edge of the axis in view */
  moment: Date;
  offset: number;
}

export function useZoom(
  scroller: React.RefObject<HTMLDivElement | null>,
  grid: number,
  days: ReturnType<typeof daysOf>,
  span: { from: Date; to: Date },
  setLeft: (to: number) => void,
) {
  const [pixels, setPixels] = useState(() => Number(sessionStorage.getItem(KEY)) || SCALES.week);
  const [zooming, setZooming] = useState(false);
  const rests = useRef<ReturnType<typeof setTimeout>>(undefined);
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
      const moment = makeAxis(all, before).momentAt(node.scrollLeft + offset);
      anchor.current = { moment, offset };
      setPixels(next);
      setZooming(true);
      clearTimeout(rests.current);
      rests.current = setTimeout(() => {
        setZooming(false);
        sessionStorage.setItem(KEY, String(next));
      }, RESTS_AFTER);
      setLeft(makeAxis(all, next).x(moment) - offset);
    },
    [scroller, setLeft],
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
    const one = makeAxis(all, 1);
    const wide = one.x(endOfDay(whole.to)) - one.x(startOfDay(whole.from));
    const room = node.clientWidth - columns - 150; // for the titles behind the last bars
    set(Math.max(80, room) / Math.max(1, wide));
    anchor.current = { moment: whole.from, offset: 12 };
  }, [scroller, set]);

  useEffect(() => {
    const node = scroller.current;
    if (!node) return;
    let turned = 0;
    let frame = 0;
    const wheel = (event: WheelEvent) => {
      if (!event.ctrlKey && !event.metaKey) return;
      event.preventDefault(); // the browser would zoom the page
      turned += event.deltaY;
      // a wheel turns more often than a frame is drawn
      frame ||= requestAnimationFrame(() => {
        const about = event.clientX - node.getBoundingClientRect().left - live.current.grid;
        set(live.current.pixels * Math.exp(-turned * 0.0022), Math.max(0, about));
        turned = 0;
        frame = 0;
      });
    };
    node.addEventListener("wheel", wheel, { passive: false });
    return () => {
      node.removeEventListener("wheel", wheel);
      cancelAnimationFrame(frame);
    };
  }, [scroller, set]);

  return { pixels, zooming, choose, fit, anchor };
}
