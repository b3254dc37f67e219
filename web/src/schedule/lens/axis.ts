/** The axis of the schedule: working days are wide, days that are not worked are narrow strips.
 *
 * Only drawing: which minutes are worked is the server's business. The scale is continuous: pixels of a working day.
 */
import { addDays, differenceInCalendarDays, format, parseISO, startOfDay } from "date-fns";
import type { Project } from "../../data/api";

/** Named scales, from hours to quarters, and the pixels that a working day has in each. */
export const SCALES = { hour: 620, day: 58, week: 22, month: 6.5, quarter: 2.2 } as const;
export type Scale = keyof typeof SCALES;
export const SCALE_NAMES = Object.keys(SCALES) as Scale[];
export const WIDEST = 900;
export const NARROWEST = 0.7;
const REST = 0.22;
const WEEK = ["sun", "mon", "tue", "wed", "thu", "fri", "sat"] as const;

/** The named scale that a width of a day comes nearest to. */
export function scaleOf(pixels: number): Scale {
  const far = (name: Scale) => Math.abs(Math.log(SCALES[name] / pixels));
  return SCALE_NAMES.reduce((best, name) => (far(name) < far(best) ? name : best));
}

interface BareDay {
  date: Date;
  /** `2027-03-17` */
  iso: string;
  worked: boolean;
  name: string;
  /** working intervals, in minutes of the day */
  hours: [number, number][];
  /** how far from the first day, in widths of a worked day */
  at: number;
}

export interface Day extends BareDay {
  x: number;
  width: number;
}

/** The days of an axis, at no scale yet. */
export interface Days {
  all: BareDay[];
  byIso: Map<string, number>;
  /** the width of all, in widths of a worked day */
  width: number;
}

export interface Axis {
  days: BareDay[];
  width: number;
  pixels: number;
  scale: Scale;
  /** where a moment lies, in pixels */
  x: (iso: string | Date) => number;
  /** the day under a place */
  dayAt: (x: number) => Day;
  /** the days of which something lies between two places */
  within: (from: number, to: number) => Day[];
  /** the moment under a place, to the quarter of an hour */
  momentAt: (x: number) => Date;
}

const minutes = (text: string) => Number(text.slice(0, 2)) * 60 + Number(text.slice(3, 5));

/** The days from one to another, with the hours worked in each. */
export function daysOf(calendar: Project["calendar"], from: Date, to: Date): Days {
  const first = startOfDay(from);
  const count = Math.max(1, differenceInCalendarDays(to, first) + 1);
  const special = new Map<string, { hours: string[][]; name: string }>();
  for (const one of calendar.exceptions ?? []) {
    for (let day = parseISO(one.from); day <= parseISO(one.to); day = addDays(day, 1))
      special.set(format(day, "yyyy-MM-dd"), { hours: one.hours ?? [], name: one.name ?? "" });
  }
  let at = 0;
  const all = Array.from({ length: count }, (_, index) => {
    const date = addDays(first, index);
    const iso = format(date, "yyyy-MM-dd");
    const exception = special.get(iso);
    const pairs = exception ? exception.hours : (calendar.week[WEEK[date.getDay()] as "mon"] ?? []);
    const hours = pairs.map(([a, b]): [number, number] => [minutes(a ?? "00:00"), minutes(b ?? "24:00")]);
    const day = { date, iso, worked: hours.length > 0, name: exception?.name ?? "", hours, at };
    at += day.worked ? 1 : REST;
    return day;
  });
  return { all, byIso: new Map(all.map((day, index) => [day.iso, index])), width: at };
}

/** The axis at a scale. It costs nothing to make: a zoom makes one each frame. */
export function makeAxis({ all, byIso, width }: Days, pixels: number): Axis {
  const first = all[0]?.date ?? new Date();
  const x = width * pixels;
  const at = (index: number): Day => {
    const day = all[Math.max(0, Math.min(all.length - 1, index))] as BareDay;
    return { ...day, x: day.at * pixels, width: pixels * (day.worked ? 1 : REST) };
  };
  const span = (day: BareDay): [number, number] =>
    day.worked ? [day.hours[0]?.[0] ?? 0, day.hours.at(-1)?.[1] ?? 1440] : [0, 1440];
  const indexAt = (place: number) => {
    let low = 0;
    let high = all.length - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if ((all[middle]?.at ?? 0) * pixels <= place) low = middle;
      else high = middle - 1;
    }
    return low;
  };
  const dayAt = (place: number) => at(indexAt(place));
  return {
    days: all,
    width: x,
    pixels,
    scale: scaleOf(pixels),
    x: (moment) => {
      // text in ISO form is looked up as it is: thousands of bars are placed while a schedule scrolls
      const known = typeof moment === "string" ? byIso.get(moment.slice(0, 10)) : undefined;
      if (known !== undefined && typeof moment === "string") {
        const day = at(known);
        const [open, close] = span(day);
        const clock = moment.length > 10 ? minutes(moment.slice(11, 16)) : 0;
        return day.x + day.width * Math.max(0, Math.min(1, (clock - open) / Math.max(1, close - open)));
      }
      const date = typeof moment === "string" ? parseISO(moment) : moment;
      const index = differenceInCalendarDays(date, first);
      if (index < 0) return 0;
      if (index >= all.length) return x;
      const day = at(index);
      const [open, close] = span(day);
      const part = (date.getHours() * 60 + date.getMinutes() - open) / Math.max(1, close - open);
      return day.x + day.width * Math.max(0, Math.min(1, part));
    },
    dayAt,
    within: (from, to) => {
      const last = indexAt(to);
      const days: Day[] = [];
      for (let index = indexAt(from); index <= last; index++) days.push(at(index));
      return days;
    },
    momentAt: (place) => {
      const day = dayAt(place);
      const [open, close] = span(day);
      const part = Math.max(0, Math.min(1, (place - day.x) / Math.max(1e-6, day.width)));
      const quarter = Math.round((open + part * (close - open)) / 15) * 15;
      return new Date(day.date.getFullYear(), day.date.getMonth(), day.date.getDate(), 0, quarter);
    },
  };
}
