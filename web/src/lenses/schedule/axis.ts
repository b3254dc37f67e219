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

export interface Day {
  date: Date;
  /** `2027-03-17` */
  iso: string;
  x: number;
  width: number;
  worked: boolean;
  name: string;
  /** working intervals, in minutes of the day */
  hours: [number, number][];
}

export interface Axis {
  days: Day[];
  width: number;
  pixels: number;
  scale: Scale;
  /** where a moment lies, in pixels */
  x: (iso: string | Date) => number;
  /** the day under a place */
  dayAt: (x: number) => Day;
  /** the moment under a place, to the quarter of an hour */
  momentAt: (x: number) => Date;
}

const minutes = (text: string) => Number(text.slice(0, 2)) * 60 + Number(text.slice(3, 5));

/** The days from one to another, with the hours worked in each. */
export function daysOf(calendar: Project["calendar"], from: Date, to: Date): Omit<Day, "x" | "width">[] {
  const first = startOfDay(from);
  const count = Math.max(1, differenceInCalendarDays(to, first) + 1);
  const special = new Map<string, { hours: string[][]; name: string }>();
  for (const one of calendar.exceptions ?? []) {
    for (let day = parseISO(one.from); day <= parseISO(one.to); day = addDays(day, 1))
      special.set(format(day, "yyyy-MM-dd"), { hours: one.hours ?? [], name: one.name ?? "" });
  }
  return Array.from({ length: count }, (_, index) => {
    const date = addDays(first, index);
    const iso = format(date, "yyyy-MM-dd");
    const exception = special.get(iso);
    const pairs = exception ? exception.hours : (calendar.week[WEEK[date.getDay()] as "mon"] ?? []);
    const hours = pairs.map(([a, b]): [number, number] => [minutes(a ?? "00:00"), minutes(b ?? "24:00")]);
    return { date, iso, worked: hours.length > 0, name: exception?.name ?? "", hours };
  });
}

export function makeAxis(bare: ReturnType<typeof daysOf>, pixels: number): Axis {
  const days: Day[] = [];
  let x = 0;
  for (const day of bare) {
    const width = pixels * (day.worked ? 1 : REST);
    days.push({ ...day, x, width });
    x += width;
  }
  const byIso = new Map(days.map((day, index) => [day.iso, index]));
  const first = days[0]?.date ?? new Date();
  const at = (index: number) => days[Math.max(0, Math.min(days.length - 1, index))] as Day;
  const span = (day: Day): [number, number] =>
    day.worked ? [day.hours[0]?.[0] ?? 0, day.hours.at(-1)?.[1] ?? 1440] : [0, 1440];
  const dayAt = (place: number) => {
    let low = 0;
    let high = days.length - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (at(middle).x <= place) low = middle;
      else high = middle - 1;
    }
    return at(low);
  };
  return {
    days,
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
      if (index >= days.length) return x;
      const day = at(index);
      const [open, close] = span(day);
      const part = (date.getHours() * 60 + date.getMinutes() - open) / Math.max(1, close - open);
      return day.x + day.width * Math.max(0, Math.min(1, part));
    },
    dayAt,
    momentAt: (place) => {
      const day = dayAt(place);
      const [open, close] = span(day);
      const part = Math.max(0, Math.min(1, (place - day.x) / Math.max(1e-6, day.width)));
      const quarter = Math.round((open + part * (close - open)) / 15) * 15;
      return new Date(day.date.getFullYear(), day.date.getMonth(), day.date.getDate(), 0, quarter);
    },
  };
}
