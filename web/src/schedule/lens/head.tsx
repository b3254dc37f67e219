/** The head of the schedule with its days or months, and the ground behind the bars. */
import { addMonths, format, getQuarter, startOfMonth } from "date-fns";
import { memo } from "react";
import type { Axis, Day } from "./axis";

export interface Seen {
  from: number;
  to: number;
}

const within = (axis: Axis, seen: Seen) => axis.within(seen.from, seen.to);

/** The upper line: weeks, months or years; each label where its span begins. */
function upper(axis: Axis, day: Day): string | null {
  if (axis.pixels >= 200) return format(day.date, "EEEE d MMMM");
  if (axis.pixels >= 13) return day.date.getDay() === 1 ? format(day.date, "EEE d MMM") : null;
  if (axis.pixels >= 3.4) return day.date.getDate() === 1 ? format(day.date, "MMMM yyyy") : null;
  if (day.date.getDate() !== 1) return null;
  return day.date.getMonth() === 0 ? format(day.date, "yyyy") : null;
}

/** The lower line: hours, days, weeks, or months and quarters. */
function lower(axis: Axis, day: Day): { text: string; width: number } | null {
  if (axis.pixels >= 200) return null;
  if (axis.pixels >= 36) return day.worked ? { text: format(day.date, "EEEEE d"), width: day.width } : null;
  if (axis.pixels >= 13) return day.worked ? { text: format(day.date, "EEEEE"), width: day.width } : null;
  if (axis.pixels >= 3.4)
    return day.date.getDay() === 1 ? { text: format(day.date, "d"), width: axis.pixels * 5.4 } : null;
  if (day.date.getDate() !== 1) return null;
  if (axis.pixels >= 1.4) return { text: format(day.date, "MMM"), width: spanOf(axis, day, 1) };
  return day.date.getMonth() % 3 === 0 ? { text: `Q${getQuarter(day.date)}`, width: spanOf(axis, day, 3) } : null;
}

const spanOf = (axis: Axis, day: Day, months: number) =>
  axis.x(addMonths(startOfMonth(day.date), months)) - day.x || axis.pixels * 21;

export const AxisHead = memo(function AxisHead({ axis, seen, today }: { axis: Axis; seen: Seen; today: string }) {
  const days = within(axis, seen);
  return (
    <div
      className="relative flex-none border-b border-rule-2 bg-sheet text-ink-3"
      style={{ width: axis.width }}
      aria-hidden="true"
    >
      {days.map((day) => (
        <DayHead key={day.iso} axis={axis} day={day} isToday={day.iso === today} />
      ))}
    </div>
  );
});

function DayHead({ axis, day, isToday }: { axis: Axis; day: Day; isToday: boolean }) {
  const words = upper(axis, day);
  const small = lower(axis, day);
  const hours = axis.pixels >= 200 && day.worked;
  if (!words && !small && !hours) return null;
  return (
    <span>
      {words && (axis.pixels < 200 || day.worked) && (
        <span className="absolute top-1.5 text-[11px] whitespace-nowrap" style={{ left: day.x + 3 }}>
          {words}
        </span>
      )}
      {small && (
        <span
          className={`absolute bottom-0.5 truncate text-[10px] ${axis.pixels >= 13 ? "text-center" : "pl-[3px]"} ${
            isToday && axis.pixels >= 13 ? "bg-rose font-semibold text-paper" : ""
          }`}
          style={{ left: day.x, width: small.width }}
        >
          {small.text}
        </span>
      )}
      {hours && <Hours axis={axis} day={day} />}
    </span>
  );
}

function hoursOf(day: Day): number[] {
  const first = Math.ceil((day.hours[0]?.[0] ?? 0) / 60);
  const last = Math.floor((day.hours.at(-1)?.[1] ?? 1440) / 60);
  return Array.from({ length: Math.max(0, last - first + 1) }, (_, index) => first + index);
}

const hourAt = (day: Day, hour: number) =>
  new Date(day.date.getFullYear(), day.date.getMonth(), day.date.getDate(), hour);

function Hours({ axis, day }: { axis: Axis; day: Day }) {
  const step = axis.pixels >= 420 ? 1 : 2;
  return hoursOf(day)
    .filter((hour) => hour % step === 0)
    .map((hour) => (
      <span key={hour} className="absolute bottom-0.5 text-[10px]" style={{ left: axis.x(hourAt(day, hour)) + 3 }}>
        {hour}:00
      </span>
    ));
}

/** Strips of the ground as one path: a hundred shapes would each be styled anew in every frame of a zoom. */
const strips = (list: { x: number; width: number }[], height: number) =>
  list.map(({ x, width }) => `M${x},0h${width}v${height}h${-width}z`).join("");

const lines = (list: number[], height: number) => list.map((x) => `M${x},0V${height}`).join("");

export const Ground = memo(function Ground({
  axis,
  height,
  seen,
  today,
  nowX,
}: {
  axis: Axis;
  height: number;
  seen: Seen;
  today: string;
  nowX: number;
}) {
  const days = within(axis, seen);
  const here = days.find((day) => day.iso === today);
  const fine = axis.pixels >= 13;
  const rest = axis.pixels >= 3.4 ? days.filter((day) => !day.worked) : [];
  const lined = days.filter((day) => !rest.includes(day) && (fine ? day.worked : day.date.getDate() === 1));
  const isStrong = (day: Day) => !fine || day.date.getDay() === 1;
  const hours = axis.pixels >= 200 ? days.filter((day) => day.worked) : [];
  return (
    <>
      <path d={strips([...rest, ...hours.flatMap((day) => breaks(axis, day))], height)} fill="var(--color-band)" />
      {rest
        .filter((day) => day.name)
        .map((day) => (
          <rect key={day.iso} x={day.x} width={day.width} height={height} fill="transparent">
            <title>{day.name}</title>
          </rect>
        ))}
      <path
        d={lines(
          lined.filter(isStrong).map((day) => day.x),
          height,
        )}
        stroke="var(--color-rule)"
      />
      <path
        d={lines(
          [
            ...lined.filter((day) => !isStrong(day)).map((day) => day.x),
            ...hours.flatMap((day) => hoursOf(day).map((hour) => axis.x(hourAt(day, hour)))),
          ],
          height,
        )}
        stroke="var(--color-rule)"
        opacity=".45"
      />
      {here && <rect x={here.x} width={here.width} height={height} fill="var(--color-rose)" opacity=".07" />}
      <path d={`M${nowX},0V${height}`} stroke="var(--color-rose)" strokeWidth="1.5" />
    </>
  );
});

/** At the scale of hours: the breaks of a day. */
function breaks(axis: Axis, day: Day): { x: number; width: number }[] {
  const at = (minute: number) => axis.x(new Date(hourAt(day, 0).getTime() + minute * 60_000));
  return day.hours.slice(1).map(([opens], index) => {
    const closes = at(day.hours[index]?.[1] ?? opens);
    return { x: closes, width: at(opens) - closes };
  });
}
