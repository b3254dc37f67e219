/** Hours that were spent, as a clock shows them. */

/** `1:30`: hours and minutes. */
export const sayTime = (minutes: number) =>
  `${Math.floor(minutes / 60).toLocaleString("en-GB")}:${String(minutes % 60).padStart(2, "0")}`;

/** `9:15`: a minute of the day. */
export const sayClock = (minute: number) =>
  `${Math.floor((minute % 1440) / 60)}:${String(minute % 60).padStart(2, "0")}`;

/** `9:15 to 11:00`, or nothing where only the hours are known. */
export const sayFromTo = (entry: { started: number | null; minutes: number }) =>
  entry.started === null ? "" : `${sayClock(entry.started)} to ${sayClock(entry.started + entry.minutes)}`;

/** How a week stands. */
export const WEEK_WORDS: Record<string, string> = {
  open: "open",
  handed_in: "handed in",
  accepted: "accepted",
  returned: "returned",
};
