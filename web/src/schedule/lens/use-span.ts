/** The span of time that the schedule shows, and where it stands when it opens. */
import { max, min, parseISO } from "date-fns";
import { useLayoutEffect, useMemo, useRef } from "react";
import { useMe } from "../../data/hooks";
import type { OutlineRow } from "../../tasks/rows";
import { useScope } from "../../views/scope";
import type { Axis } from "./axis";
import type { Anchor } from "./use-zoom";

/** What is dated and today, or the window of the sentence. */
export function useSpan(rows: OutlineRow[], startDay: string) {
  const { now } = useMe();
  const [{ since, until }] = useScope();
  return useMemo(() => {
    const dates = rows.flatMap(({ row }) => [row.start, row.finish, row.deadline].filter((one) => one !== null));
    const all = [...dates.map((one) => parseISO(one)), now, parseISO(startDay)];
    const window = since && until ? [parseISO(since), parseISO(until)] : null;
    return { from: window?.[0] ?? min(all), to: window?.[1] ?? max(all), narrowed: window !== null };
  }, [rows, now, startDay, since, until]);
}

/** After a zoom the moment under the pointer stays there; when the lens opens today stands at a third of the width. */
export function usePlaceInTime(
  scroller: React.RefObject<HTMLDivElement | null>,
  axis: Axis,
  grid: number,
  hasRows: boolean,
  anchor: React.RefObject<Anchor | null>,
) {
  const { now } = useMe();
  const placed = useRef(false);
  useLayoutEffect(() => {
    const node = scroller.current;
    if (!node || !hasRows) return;
    if (!placed.current) {
      placed.current = true;
      node.scrollLeft = Math.max(0, axis.x(now) - (node.clientWidth - grid) / 3);
    } else if (anchor.current) node.scrollLeft = axis.x(anchor.current.moment) - anchor.current.offset;
    anchor.current = null;
  }, [scroller, axis, hasRows, now, grid, anchor]);
}
