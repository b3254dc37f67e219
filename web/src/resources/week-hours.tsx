/** The hours of a week, a line for each day, as they are typed. */
import { readHours } from "../schedule/calendar-settings";

const DAYS = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"] as const;
const NAMES: Record<string, string> = {
  mon: "Monday",
  tue: "Tuesday",
  wed: "Wednesday",
  thu: "Thursday",
  fri: "Friday",
  sat: "Saturday",
  sun: "Sunday",
};
const OFFICE: Record<string, string[][]> = Object.fromEntries(
  DAYS.slice(0, 5).map((day) => [
    day,
    [
      ["09:00", "13:00"],
      ["14:00", "17:30"],
    ],
  ]),
);

type Week = Record<string, string[][]>;

/** A week as it is typed; none: office hours. */
export const sayWeek = (week: Week | null): Record<string, string> =>
  Object.fromEntries(
    DAYS.map((day) => [day, ((week ?? OFFICE)[day] ?? []).map(([from, to]) => `${from}–${to}`).join(", ")]),
  );

/** The inverse; throws what is wrong with a day, in words. */
export function readWeek(typed: Record<string, string>): Week {
  const read: Week = {};
  for (const day of DAYS) {
    const hours = readHours(typed[day] ?? "");
    if (!hours) throw new Error(`Write the hours of ${NAMES[day]} as 09:00–13:00, 14:00–17:30, or leave them empty.`);
    if (hours.length) read[day] = hours;
  }
  return read;
}

export function WeekHours({
  week,
  onChange,
}: {
  week: Record<string, string>;
  onChange: (week: Record<string, string>) => void;
}) {
  return (
    <div className="mb-3 grid grid-cols-[90px_1fr] items-center gap-y-1">
      {DAYS.map((day) => (
        <label key={day} className="contents">
          <span>{NAMES[day]}</span>
          <input
            className="input w-full"
            placeholder="not worked"
            value={week[day] ?? ""}
            onChange={(event) => onChange({ ...week, [day]: event.target.value })}
          />
        </label>
      ))}
    </div>
  );
}
