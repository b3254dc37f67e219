/** Dates, durations and counts as people say them. The server reckons; here they are only put into words. */
import { differenceInCalendarDays, format, parseISO } from "date-fns";

/** `18 Jun`, or `18 Jun 2028` in another year than that of now. */
export function sayDay(iso: string | null, now = new Date()): string {
  if (!iso) return "";
  const day = parseISO(iso);
  return format(day, day.getFullYear() === now.getFullYear() ? "d MMM" : "d MMM yyyy");
}

/** `Fri 26 Mar`, with the year where it is another than that of now. */
export const sayWeekday = (iso: string, now: Date) => `${format(parseISO(iso), "EEE")} ${sayDay(iso, now)}`;

/** In full, for hovering: `Friday 26 March 2027, 17:30`. */
export const sayFull = (iso: string | null) => (iso ? format(parseISO(iso), "EEEE d MMMM yyyy, HH:mm") : "");

/** How far a finish is: `today`, `tomorrow`, `Fri`, `26 Mar`. */
export function sayDue(iso: string, now: Date): string {
  const days = differenceInCalendarDays(parseISO(iso), now);
  if (days === 0) return "today";
  if (days === 1) return "tomorrow";
  return days > 1 && days < 7 ? format(parseISO(iso), "EEE") : sayDay(iso, now);
}

/** When a task is due, with the sign of a pin where its date was set by hand to hold it in place. */
export function sayTaskDue(row: { finish: string | null; constraint_type: string }, now: Date): string {
  if (!row.finish) return "";
  const pinned = row.constraint_type === "must_start" || row.constraint_type === "must_finish";
  return `${pinned ? "⊙ " : ""}${sayDue(row.finish, now)}`;
}

/** When something was changed: `today, 08:51`, `yesterday, 16:20`, `12 Mar, 09:00`. */
export function sayWhen(iso: string, now: Date): string {
  const at = parseISO(iso);
  const days = differenceInCalendarDays(now, at);
  const day = days === 0 ? "today" : days === 1 ? "yesterday" : sayDay(iso, now);
  return `${day}, ${format(at, "HH:mm")}`;
}

/** Working minutes in days where they come out in halves, else in days and hours. */
export function sayDuration(minutes: number | null, dayMinutes: number): string {
  if (minutes === null) return "";
  if (minutes === 0) return "0 d";
  if ((minutes * 2) % dayMinutes === 0) return `${minutes / dayMinutes} d`;
  const days = Math.floor(minutes / dayMinutes);
  const rest = minutes % dayMinutes;
  const hours = rest % 30 ? `${Math.floor(rest / 60)} h ${rest % 60} min` : `${rest / 60} h`;
  const said = rest < 60 ? `${rest} min` : hours;
  return days ? `${days} d ${said}` : said;
}

/** The duration of a task in days of its own calendar; one that is elapsed says so. */
export function sayLength(row: { duration: number | null; day_minutes: number; elapsed: boolean }): string {
  const said = sayDuration(row.duration, row.day_minutes);
  return row.elapsed && said ? `${said} elapsed` : said;
}

/** How far something moves: `+4 d`, `−1.5 d`, or in hours where it is less than a day. */
export function sayMove(minutes: number, dayMinutes: number): string {
  const size = Math.abs(minutes);
  const said =
    size >= dayMinutes ? `${Number((size / dayMinutes).toFixed(1))} d` : `${Number((size / 60).toFixed(1))} h`;
  return `${minutes < 0 ? "−" : "+"}${said}`;
}

/** How far a finish lies after the agreed one: `+4 d`, `−1 d`, or `as agreed`. */
export function sayVariance(minutes: number | null, dayMinutes: number): string {
  if (minutes === null) return "";
  const days = Math.round((minutes / dayMinutes) * 10) / 10;
  return days ? `${days > 0 ? "+" : "−"}${Math.abs(days)} d` : "as agreed";
}

/** Total slack in words: `3 d`, `none`, or `−2 d` where a date cannot be met. */
export function saySlack(row: { slack: number | null; state_class: string }, dayMinutes: number): string {
  if (row.slack === null || row.state_class === "finished" || row.state_class === "dropped") return "";
  if (row.slack === 0) return "none";
  // to the half day from a day on: nobody plans slack by the minute
  const half = dayMinutes / 2;
  const size = Math.abs(row.slack);
  const said = sayDuration(size >= dayMinutes ? Math.floor(size / half) * half : size, dayMinutes);
  return row.slack < 0 ? `−${said}` : said;
}

/** Hours of work. */
export const sayHours = (minutes: number | null) =>
  minutes === null ? "" : `${Number((minutes / 60).toFixed(1)).toLocaleString("en-GB")} h`;

/** An amount of money, without its currency: `1,350.00`. */
export const sayMoney = (amount: number) =>
  amount.toLocaleString("en-GB", { minimumFractionDigits: 2, maximumFractionDigits: 4 });

/** A number as it is typed, with a point or a comma; null where it is none, or less than nothing. */
export function readNumber(text: string): number | null {
  const bare = text.trim().replace(",", ".");
  return /^\d+(\.\d*)?$/.test(bare) ? Number(bare) : null;
}

/** A part of the hours there are: `12 of 37.5 h`. */
export const sayHoursOf = (part: number, whole: number) => `${sayHours(part).replace(" h", "")} of ${sayHours(whole)}`;

/** `1 task`, `3 tasks`. */
export const count = (number: number, one: string, many = `${one}s`) =>
  `${number.toLocaleString("en")} ${number === 1 ? one : many}`;

export const times = (number: number) => (number === 1 ? "once" : number === 2 ? "twice" : `${number} times`);

/** As the server counts them, from Monday on. */
export const WEEKDAYS = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];

/** How long ago something was, or how long it lasted until a moment: 20 min, 3 h, 4 d. */
export function sayAge(iso: string, until: Date): string {
  const minutes = Math.max(0, Math.round((until.getTime() - parseISO(iso).getTime()) / 60_000));
  if (minutes < 60) return `${minutes} min`;
  return minutes < 48 * 60 ? `${Math.round(minutes / 60)} h` : `${Math.round(minutes / 1440)} d`;
}
