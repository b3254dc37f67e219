/** What moving, stretching and drawing bars changes of a task. Nothing here draws. */
import { addDays, differenceInCalendarDays, format, parseISO } from "date-fns";
import type { TaskRow } from "../../data/api";
import type { Axis } from "./axis";
import type { Ghost } from "./bar";
import { type Place, placeOf } from "./geometry";
import type { Drag } from "./use-drag";

/** What is sent, and what it is called in the notes. */
export interface BarChange {
  what: string;
  fields: Record<string, unknown>;
}

/** From this many pixels a day on, bars move by quarters of an hour. */
const HOURS = 200;

const isoMoment = (at: Date) => format(at, "yyyy-MM-dd'T'HH:mm");
export const isoDay = (day: Date) => format(day, "yyyy-MM-dd");

export const byDay = (axis: Axis) => axis.pixels < HOURS;

/** By how many days something is dragged. */
const daysOf = (drag: Drag, axis: Axis) =>
  differenceInCalendarDays(axis.dayAt(drag.x).date, axis.dayAt(drag.from).date);

/** Where a moment comes to lie when it is dragged: whole days, or quarters of an hour at the scale of hours. */
function dragged(iso: string, drag: Drag, axis: Axis): string {
  if (byDay(axis)) return isoMoment(addDays(parseISO(iso), daysOf(drag, axis)));
  return isoMoment(axis.momentAt(axis.x(iso) + drag.x - drag.from));
}

/** A milestone, or a task of which only the finish is known, is moved by its finish. */
const moveTo = (row: TaskRow, start: string | null, finish: string | null): BarChange => ({
  what: "Moved",
  fields: row.kind === "milestone" || !row.start ? { finish } : { start },
});

/** What a drag of a bar changes; null where it changes nothing. */
export function changeByDrag(row: TaskRow, drag: Drag, axis: Axis): BarChange | null {
  if (drag.how === "percent") {
    const percent = percentAt(row, drag, axis);
    return percent === null || percent === row.percent ? null : { what: "Percent done of", fields: { percent } };
  }
  if (drag.how === "draw") return drawn(row, drag, axis);
  if (drag.how === "stretch" && row.finish) {
    const to = dragged(row.finish, drag, axis);
    if (to === row.finish.slice(0, 16)) return null;
    return { what: "Stretched", fields: { stretch_to: byDay(axis) ? to.slice(0, 10) : to } };
  }
  const from = row.start ?? row.finish;
  if (drag.how !== "move" || !from || dragged(from, drag, axis) === from.slice(0, 16)) return null;
  return moveTo(row, dragged(from, drag, axis), row.finish && dragged(row.finish, drag, axis));
}

function drawn(row: TaskRow, drag: Drag, axis: Axis): BarChange {
  const [left, right] = [Math.min(drag.from, drag.x), Math.max(drag.from, drag.x)];
  const [a, b] = [axis.dayAt(left), axis.dayAt(right)];
  if (row.kind === "milestone") return { what: "Dated", fields: { finish: b.iso } };
  if (byDay(axis)) return { what: "Dated", fields: { start: a.iso, finish: b.iso } };
  return {
    what: "Dated",
    fields: { start: isoMoment(axis.momentAt(left)), finish: isoMoment(axis.momentAt(right)) },
  };
}

/** What a key changes: a step is a working day, later or earlier; null for a bar without dates. */
export function changeByKey(row: TaskRow, step: number, stretch: boolean, axis: Axis): BarChange | null {
  const from = stretch ? row.finish : (row.start ?? row.finish);
  if (!from) return null;
  const shift = nextWorked(axis, from, step);
  if (stretch) return { what: "Stretched", fields: { stretch_to: isoDay(addDays(parseISO(from), shift)) } };
  const moved = (iso: string) => isoMoment(addDays(parseISO(iso), shift));
  return moveTo(row, moved(from), row.finish && moved(row.finish));
}

/** How many calendar days to the next or last worked day, so that a key always moves a bar by a working day. */
function nextWorked(axis: Axis, iso: string, step: number): number {
  const from = parseISO(iso);
  const first = axis.days[0]?.date ?? from;
  for (let days = step; Math.abs(days) < 30; days += step) {
    const day = axis.days[differenceInCalendarDays(addDays(from, days), first)];
    if (!day || day.worked) return days;
  }
  return step;
}

/** Percent done where the pointer is, in steps of five; null for a bar without dates. */
export function percentAt(row: TaskRow, drag: Drag, axis: Axis): number | null {
  const place = placeOf(row, axis);
  if (!place) return null;
  const part = ((drag.x - place.x) / Math.max(1, place.right - place.x)) * 100;
  return Math.max(0, Math.min(100, Math.round(part / 5) * 5));
}

/** Where the bar that is dragged would come to lie. */
export function ghostOf(row: TaskRow, drag: Drag, axis: Axis): Ghost | null {
  if (drag.how === "draw") {
    const a = axis.dayAt(Math.min(drag.from, drag.x));
    const b = axis.dayAt(Math.max(drag.from, drag.x));
    return { x: a.x, right: b.x + b.width, label: "" };
  }
  const place = placeOf(row, axis);
  if (!place) return null;
  return byDay(axis) ? ghostByDay(row, drag, axis, place) : ghostByHour(drag, axis, place);
}

function ghostByHour(drag: Drag, axis: Axis, place: Place): Ghost {
  const by = drag.x - drag.from;
  const [x, right] = drag.how === "stretch" ? [place.x, place.right + by] : [place.x + by, place.right + by];
  const label = format(axis.momentAt(drag.how === "stretch" ? right : x), "HH:mm");
  return { x, right: Math.max(x + 3, right), label };
}

function ghostByDay(row: TaskRow, drag: Drag, axis: Axis, place: Place): Ghost | null {
  const label = signed(daysOf(drag, axis));
  if (drag.how === "stretch" && row.finish)
    return { x: place.x, right: Math.max(place.x + 3, axis.x(dragged(row.finish, drag, axis))), label };
  const from = row.start ?? row.finish;
  if (!from) return null;
  const x = axis.x(dragged(from, drag, axis));
  return { x, right: x + place.right - place.x, label };
}

const signed = (days: number) => (days ? `${days > 0 ? "+" : "−"}${Math.abs(days)} d` : "");
