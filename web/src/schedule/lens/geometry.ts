/** Where bars and links lie, in pixels. */
import type { Schemas, TaskRow } from "../../data/api";
import type { Axis } from "./axis";

export const ROW = 29;
export const HEAD = 44;
export type LinkType = Schemas["LinkOut"]["type"];

/** How far the end by which a bar is stretched reaches beyond it; and into it, which leaves a short bar its middle. */
export const BEYOND_END = 6;
export const insideEnd = (width: number) => Math.min(4, width / 3);

export interface Place {
  /** left and right end of the bar; of a milestone both are its point */
  x: number;
  right: number;
  /** only one end is known: a day wide, open at the other end */
  half: boolean;
}

/** Where the bar of a row lies; null where it is undated. */
export function placeOf(row: Pick<TaskRow, "start" | "finish" | "kind" | "is_summary">, axis: Axis): Place | null {
  const from = row.start ?? row.finish;
  const to = row.finish ?? row.start;
  if (!from || !to) return null;
  if (row.kind === "milestone" && !row.is_summary) {
    const x = axis.x(to);
    return { x, right: x, half: false };
  }
  const half = !row.start || !row.finish;
  const x0 = axis.x(from);
  const x = half && !row.start ? axis.dayAt(x0 - 0.5).x : x0;
  const end = half && !row.finish ? axis.dayAt(x0).x + axis.dayAt(x0).width : axis.x(to);
  return { x, right: Math.max(x + 3, end), half };
}

/** The line of a link between two bars, `y` being the middles of their rows, and which way its arrow points. */
export function linkPath(type: LinkType, a: Place, ay: number, b: Place, by: number): { d: string; head: string } {
  const out = type[0] === "F" ? 1 : -1;
  const into = type[1] === "S" ? 1 : -1;
  const x1 = out > 0 ? a.right : a.x;
  const x2 = into > 0 ? b.x : b.right;
  const down = by > ay ? 1 : -1;
  const turn = x1 + out * 7;
  const room = b.right - b.x;
  // the usual case: straight down, or up, onto the bar that waits
  const onto = room > 5 ? b.x + Math.min(room - 2, 14) : b.x;
  if (type === "FS" && turn >= b.x - 2 && (room > 5 ? turn <= onto : x1 <= b.x + 1)) {
    const x = room > 5 ? Math.max(turn, b.x + 4) : b.x;
    const y = by - down * (room > 5 ? 6 : 8);
    return { d: `M${x1},${ay}H${x}V${y}`, head: `M${x - 3.5},${y - down * 5}L${x},${y}L${x + 3.5},${y - down * 5}` };
  }
  const gap = x2 - into * 9;
  const head = `M${x2 - into * 5},${by - 3.5}L${x2},${by}L${x2 - into * 5},${by + 3.5}`;
  if (out === into && out * (gap - turn) >= -2) {
    return { d: `M${x1},${ay}H${turn}V${by}H${x2}`, head };
  }
  if (out !== into) {
    const x = out > 0 ? Math.max(turn, gap) : Math.min(turn, gap);
    return { d: `M${x1},${ay}H${x}V${by}H${x2}`, head };
  }
  // it runs back: out, between the rows, and in from the other side
  const between = by - (down * ROW) / 2;
  return { d: `M${x1},${ay}H${turn}V${between}H${gap}V${by}H${x2}`, head };
}

/** The type of a link drawn from one end of a bar to an end of another. */
export const typeOf = (from: "start" | "finish", to: "start" | "finish") =>
  `${from === "finish" ? "F" : "S"}${to === "start" ? "S" : "F"}` as LinkType;
