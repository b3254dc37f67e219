/** The horizon: tasks at work week by week, milestones, today, and a window that is dragged to limit every lens. */
import { addDays, differenceInCalendarDays, format, parseISO } from "date-fns";
import { memo, useLayoutEffect, useRef, useState } from "react";
import type { Schemas } from "../data/api";
import { useMe } from "../data/hooks";
import { sayHours } from "../parts/format";

const HEIGHT = 46;
const LEFT = 140;
/** the strip under the weeks, for milestones and the name of today */
const FOOT = 12;
const FLOOR = HEIGHT - FOOT;
const TALLEST = 21;
const iso = (day: Date) => format(day, "yyyy-MM-dd");

/** Minutes booked, bookable and too many in a week, of all who are looked at. */
export interface HoursOfWeek {
  monday: string;
  booked: number;
  capacity: number;
  over: number;
}

interface Window {
  since: string | null;
  until: string | null;
}

export const Horizon = memo(function Horizon({
  data,
  window: chosen,
  onChange,
  hours,
}: {
  data: Schemas["HorizonOut"] | undefined;
  window: Window;
  onChange?: (window: Window) => void;
  /** where hours are planned: they are shown in place of tasks */
  hours?: HoursOfWeek[];
}) {
  const { now } = useMe();
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(1000);
  const [drag, setDrag] = useState<{ from: Date; to: Date } | null>(null);
  useLayoutEffect(() => {
    const node = box.current;
    if (!node) return;
    const watch = new ResizeObserver(() => setWidth(node.clientWidth));
    watch.observe(node);
    return () => watch.disconnect();
  }, []);
  const weeks = data?.weeks ?? [];
  const first = weeks[0] ? parseISO(weeks[0].monday) : null;
  const span = Math.max(1, width - LEFT - 16);
  const days = Math.max(7, weeks.length * 7);
  const x = (day: Date) => LEFT + (first ? (differenceInCalendarDays(day, first) / days) * span : 0);
  const dayAt = (clientX: number) => {
    const rect = box.current?.getBoundingClientRect();
    const part = Math.min(1, Math.max(0, (clientX - (rect?.left ?? 0) - LEFT) / span));
    return addDays(first ?? now, Math.round(part * days));
  };
  const bars = hours ? barsOfHours(hours) : barsOfTasks(weeks);
  const shown = drag ?? {
    from: chosen.since ? parseISO(chosen.since) : null,
    to: chosen.until ? parseISO(chosen.until) : null,
  };
  const hasWindow = first && (shown.from || shown.to);
  const left = hasWindow ? (shown.from ? x(shown.from) : LEFT) : 0;
  const right = hasWindow ? (shown.to ? x(addDays(shown.to, 1)) : LEFT + span) : 0;

  function begin(event: React.PointerEvent) {
    if (!first || !onChange || event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const at = dayAt(event.clientX);
    const near = (day: Date | null | undefined) => day && Math.abs(x(day) - x(at)) < 6;
    // taking hold of an edge moves that edge; anywhere else begins a new window
    if (near(shown.from) && shown.to) setDrag({ from: shown.to, to: at });
    else if (near(shown.to) && shown.from) setDrag({ from: shown.from, to: at });
    else setDrag({ from: at, to: at });
  }
  function end() {
    if (!drag || !onChange) return;
    const [from, to] = drag.from <= drag.to ? [drag.from, drag.to] : [drag.to, drag.from];
    setDrag(null);
    if (differenceInCalendarDays(to, from) < 2) onChange({ since: null, until: null });
    else onChange({ since: iso(from), until: iso(to) });
  }
  function key(event: React.KeyboardEvent) {
    if (!onChange) return;
    const step = { ArrowLeft: -7, ArrowRight: 7 }[event.key];
    if (event.key === "Escape") onChange({ since: null, until: null });
    if (!step) return;
    event.preventDefault();
    const from = shown.from ?? now;
    const to = shown.to ?? addDays(now, 28);
    onChange(
      event.shiftKey
        ? { since: iso(from), until: iso(addDays(to, step)) }
        : { since: iso(addDays(from, step)), until: iso(addDays(to, step)) },
    );
  }

  const months = first ? monthsBetween(first, days) : [];
  const label = hasWindow
    ? `Horizon: window from ${shown.from ? format(shown.from, "d MMM") : "the beginning"} to ${shown.to ? format(shown.to, "d MMM") : "the end"}`
    : "Horizon: no window";
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: it has a role where it can be used
    <div
      ref={box}
      className={`relative h-[46px] flex-none border-t border-rule border-b-rule-2 border-b bg-sheet ${onChange ? "cursor-col-resize touch-none" : ""}`}
      role={onChange ? "application" : "img"}
      aria-label={onChange ? `${label}. Arrow keys move it, with Shift its end; Escape takes it away` : label}
      tabIndex={onChange ? 0 : undefined}
      onPointerDown={begin}
      onPointerMove={(event) => drag && setDrag({ ...drag, to: dayAt(event.clientX) })}
      onPointerUp={end}
      onKeyDown={key}
    >
      <div className="pointer-events-none absolute top-1.5 left-3 leading-tight sm:left-[18px]">
        <b className="block text-[11.5px] font-semibold">Horizon</b>
        <span className="text-[11.5px] text-ink-3">{hours ? "hours booked a week" : "tasks a week"}</span>
      </div>
      {first && (
        <svg width={width} height={HEIGHT} className="absolute inset-0" aria-hidden="true">
          {hasWindow && (
            <rect
              x={Math.min(left, right)}
              width={Math.abs(right - left)}
              height={HEIGHT}
              fill="var(--color-rose-soft)"
            />
          )}
          {months.map((month) => (
            <g key={iso(month)}>
              <path d={`M${x(month)},0V${HEIGHT}`} stroke="var(--color-rule)" />
              {(days < 400 || month.getMonth() % 3 === 0) && (
                <text x={x(month) + 4} y="11" fontSize="10.5" fill="var(--color-ink-3)">
                  {format(month, month.getMonth() === 0 ? "MMM yyyy" : "MMM")}
                </text>
              )}
            </g>
          ))}
          {bars.map((bar) => {
            const at = x(parseISO(bar.monday));
            const wide = (7 / days) * span;
            return (
              <g key={bar.monday}>
                <title>{`Week of ${format(parseISO(bar.monday), "d MMM")}: ${bar.words}`}</title>
                <rect x={at} width={wide + 0.4} y={FLOOR - bar.high} height={bar.high} fill="var(--color-rule-2)" />
                {bar.wrong > 0 && (
                  <rect
                    x={at}
                    width={wide + 0.4}
                    y={FLOOR - (bar.line === undefined ? bar.wrong : bar.high)}
                    height={bar.wrong}
                    fill="var(--color-ember)"
                  />
                )}
                {bar.line !== undefined && (
                  <path
                    d={`M${at},${FLOOR - bar.line}h${wide}`}
                    stroke="var(--color-ink-3)"
                    strokeDasharray="1.5 2.5"
                  />
                )}
              </g>
            );
          })}
          <path d={`M${x(now)},0V${HEIGHT}`} stroke="var(--color-rose)" strokeWidth="1.6" />
          <text x={x(now) + 4} y={HEIGHT - 2.5} fontSize="10" fontWeight="650" fill="var(--color-rose)">
            {format(now, "EEE d")}
          </text>
          {data?.milestones.map(
            (row) =>
              row.finish && (
                <path
                  key={row.id}
                  d={`M${x(parseISO(row.finish))},${HEIGHT - FOOT - 4}l5,5-5,5-5-5z`}
                  fill={row.late_days ? "var(--color-ember)" : "var(--color-ink)"}
                >
                  <title>{`${row.title}, ${format(parseISO(row.finish), "d MMM")}`}</title>
                </path>
              ),
          )}
          {hasWindow && (
            <path
              d={`M${left},0V${HEIGHT}M${right},0V${HEIGHT}`}
              stroke="var(--color-rose)"
              strokeWidth="3"
              opacity=".55"
            />
          )}
        </svg>
      )}
    </div>
  );
});

/** A week as it is drawn, in pixels: a bar, what is wrong in it, and where hours are planned a line for what can be done. */
interface Bar {
  monday: string;
  words: string;
  high: number;
  wrong: number;
  line?: number;
}

function barsOfTasks(weeks: Schemas["WeekOut"][]): Bar[] {
  const most = Math.max(3, ...weeks.map((week) => week.tasks));
  const high = (tasks: number) => (tasks / most) * TALLEST;
  return weeks.map(({ monday, tasks, finishing, late }) => ({
    monday,
    words: `${tasks} at work, ${finishing} finish${late ? `, ${late} late` : ""}`,
    high: high(tasks),
    wrong: high(late),
  }));
}

function barsOfHours(hours: HoursOfWeek[]): Bar[] {
  const most = Math.max(1, ...hours.map((week) => Math.max(week.booked, week.capacity)));
  const high = (minutes: number) => (minutes / most) * TALLEST;
  return hours.map(({ monday, booked, capacity, over }) => ({
    monday,
    words: `${sayHours(booked)} booked of ${sayHours(capacity)}${over ? `, ${sayHours(over)} over` : ""}`,
    high: high(booked),
    wrong: over ? Math.max(2, high(over)) : 0,
    line: high(capacity),
  }));
}

function monthsBetween(first: Date, days: number): Date[] {
  const last = addDays(first, days);
  const months: Date[] = [];
  for (
    let at = new Date(first.getFullYear(), first.getMonth() + 1, 1);
    at < last;
    at = new Date(at.getFullYear(), at.getMonth() + 1, 1)
  )
    months.push(at);
  return months;
}
