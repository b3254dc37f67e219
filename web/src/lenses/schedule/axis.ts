/** The axis of the schedule: working days are wide, days that are not worked are narrow strips.
 *
 * Only drawing: which minutes are worked is the server's business, and a bar is moved by days.
 */
import { addDays, differenceInCalendarDays, format, parseISO, startOfDay } from "date-fns";
import type { Project } from "../../data/api";

export type Scale = "day" | "week" | "month";
export const SCALES: Scale[] = ["day", "week", "month"];
/** pixels of a working day */
const WIDTH: Record<Scale, number> = { day: 44, week: 22, month: 6.5 };
const REST = 0.22;
const WEEK = ["sun", "mon", "tue", "wed", "thu", "fri", "sat"] as const;

export interface Day {
  date: Date;
  x: number;
  width: number;
  worked: boolean;
  name: string;
}

export interface Axis {
  days: Day[];
  width: number;
  scale: Scale;
  /** where a moment lies, in pixels */
  x: (iso: string | Date) => number;
  /** the day under a place */
  dayAt: (x: number) => Day;
}

const minutes = (text: string) => Number(text.slice(0, 2)) * 60 + Number(text.slice(3, 5));

export function makeAxis(calendar: Project["calendar"], from: Date, to: Date, scale: Scale): Axis {
  const first = startOfDay(from);
  const count = Math.max(1, differenceInCalendarDays(to, first) + 1);
  const special = new Map<string, { hours: string[][]; name: string }>();
  for (const one of calendar.exceptions ?? []) {
    for (let day = parseISO(one.from); day <= parseISO(one.to); day = addDays(day, 1))
      special.set(format(day, "yyyy-MM-dd"), { hours: one.hours ?? [], name: one.name ?? "" });
  }
  const days: Day[] = [];
  const spans: [number, number][] = [];
  let x = 0;
  for (let index = 0; index < count; index++) {
    const date = addDays(first, index);
    const exception = special.get(format(date, "yyyy-MM-dd"));
    const hours = exception ? exception.hours : (calendar.week[WEEK[date.getDay()] as "mon"] ?? []);
    const worked = hours.length > 0;
    const width = WIDTH[scale] * (worked ? 1 : REST);
    days.push({ date, x, width, worked, name: exception?.name ?? "" });
    spans.push(worked ? [minutes(hours[0]?.[0] ?? "00:00"), minutes(hours.at(-1)?.[1] ?? "24:00")] : [0, 1440]);
    x += width;
  }
  const at = (index: number) => days[Math.max(0, Math.min(days.length - 1, index))] as Day;
  return {
    days,
    width: x,
    scale,
    x: (moment) => {
      const date = typeof moment === "string" ? parseISO(moment) : moment;
      const index = differenceInCalendarDays(date, first);
      if (index < 0) return 0;
      if (index >= count) return x;
      const day = at(index);
      const [open, close] = spans[index] ?? [0, 1440];
      const part = (date.getHours() * 60 + date.getMinutes() - open) / Math.max(1, close - open);
      return day.x + day.width * Math.max(0, Math.min(1, part));
    },
    dayAt: (place) => {
      let low = 0;
      let high = days.length - 1;
      while (low < high) {
        const middle = (low + high + 1) >> 1;
        if (at(middle).x <= place) low = middle;
        else high = middle - 1;
      }
      return at(low);
    },
  };
}
