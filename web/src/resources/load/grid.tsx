/** The load, drawn: a row for each person, crew or role, a column for each day, week or month. Arrow keys walk it. */
import { useVirtualizer } from "@tanstack/react-virtual";
import { format, isSameDay, isWeekend, parseISO } from "date-fns";
import { useEffect, useMemo, useRef } from "react";
import { usePeople } from "../../data/hooks";
import { count, sayHours, sayHoursOf } from "../../parts/format";
import { Tile } from "../../parts/tile";
import { COLOURS, OTHER } from "./colours";
import { type Asked, hasCapacity, type Line, type Load, sayOn, total } from "./use-load";

export const LEFT = 214;
/** Pixels of a column, the least that it is readable at. */
export const COLUMN: Record<Asked["by"], number> = { day: 37, week: 64, month: 76 };
const ROW = 57;
const GROUP = 25;
const HEAD = 44;
/** Pixels from the foot of a row to the line of its capacity. */
const FULL = 27;
const TALLEST = 37;
const FOOT = 6;

export interface Spot {
  who: string;
  column: number;
}

type Item = { head: string } | { line: Line };

const isHead = (item: Item | undefined): item is { head: string } => item !== undefined && "head" in item;

function itemsOf(lines: Line[]): Item[] {
  const items: Item[] = [];
  let group: string | null = null;
  for (const line of lines) {
    const name =
      line.kind === "person"
        ? line.team || "In no team"
        : line.kind === "resource"
          ? "Crews and roles"
          : line.kind === "material"
            ? "Material"
            : "";
    if (name !== group && name) items.push({ head: name });
    group = name;
    items.push({ line });
  }
  return items;
}

export function LoadGrid({
  load,
  lines,
  shown,
  asked,
  now,
  at,
  goTo,
  past,
  enter,
}: {
  load: Load;
  lines: Line[];
  /** the columns that are drawn, by their numbers */
  shown: number[];
  asked: Asked;
  now: Date;
  at: Spot | null;
  goTo: (spot: Spot) => void;
  /** beyond the first or last column: by how many columns the days move */
  past: (columns: number) => void;
  /** into what lies beside the grid */
  enter: () => void;
}) {
  const scroller = useRef<HTMLDivElement>(null);
  const items = useMemo(() => itemsOf(lines), [lines]);
  const wants = useRef(false);
  const virtual = useVirtualizer({
    count: items.length,
    getScrollElement: () => scroller.current,
    estimateSize: (index) => (isHead(items[index]) ? GROUP : ROW),
    overscan: 6,
    scrollPaddingStart: HEAD,
    scrollMargin: HEAD,
    initialRect: { width: 1200, height: 700 },
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: heights follow what the items are
  useEffect(() => virtual.measure(), [items]);
  const columns = shown.map((index) => ({ index, day: parseISO(load.columns[index] ?? "") }));
  const first = shown[0] ?? 0;
  const here = at && shown.includes(at.column) ? at : lines[0] ? { who: at?.who ?? lines[0].who, column: first } : null;

  useEffect(() => {
    if (!wants.current || !here) return;
    const cell = scroller.current?.querySelector<HTMLElement>(`[data-cell="${here.who}:${here.column}"]`);
    if (!cell) return;
    wants.current = false;
    cell.focus({ preventScroll: true });
  });

  function go(spot: Spot) {
    wants.current = true;
    const index = items.findIndex((item) => !isHead(item) && item.line.who === spot.who);
    if (index >= 0) virtual.scrollToIndex(index);
    goTo(spot);
  }

  function key(event: React.KeyboardEvent) {
    if (!here || event.altKey || event.ctrlKey || event.metaKey) return;
    const row = lines.findIndex((line) => line.who === here.who);
    const to = (by: number) => lines[Math.min(lines.length - 1, Math.max(0, row + by))]?.who ?? here.who;
    const place = shown.indexOf(here.column);
    const last = shown.at(-1) ?? first;
    const beside = (by: -1 | 1) => {
      const column = shown[place + by];
      return column === undefined ? past(by) : go({ ...here, column });
    };
    const moves: Record<string, () => void> = {
      ArrowUp: () => go({ ...here, who: to(-1) }),
      ArrowDown: () => go({ ...here, who: to(1) }),
      PageUp: () => go({ ...here, who: to(-8) }),
      PageDown: () => go({ ...here, who: to(8) }),
      Home: () => go({ ...here, column: first }),
      End: () => go({ ...here, column: last }),
      ArrowLeft: () => beside(-1),
      ArrowRight: () => beside(1),
      Enter: () => (at ? enter() : go(here)),
    };
    const move = moves[event.key];
    if (!move) return;
    event.preventDefault();
    move();
  }

  const template = `${LEFT}px repeat(${columns.length}, minmax(0, 1fr))`;
  return (
    <div
      ref={scroller}
      role="grid"
      aria-label={`Load by ${asked.by}`}
      aria-rowcount={lines.length + 1}
      aria-colcount={columns.length + 1}
      className="min-w-0 flex-1 overflow-x-hidden overflow-y-auto"
      onKeyDown={key}
    >
      <Head columns={columns} by={asked.by} now={now} template={template} />
      <div role="rowgroup" className="relative" style={{ height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map((one) => {
          const item = items[one.index];
          if (!item) return null;
          const style = { transform: `translateY(${one.start - HEAD}px)`, height: one.size };
          if (isHead(item))
            return (
              <div
                key={item.head}
                role="row"
                tabIndex={-1}
                className="absolute inset-x-0 border-b border-rule bg-paper"
                style={style}
              >
                <span
                  role="rowheader"
                  tabIndex={-1}
                  className="flex h-full items-center pl-3 text-[11.5px] font-semibold tracking-wide text-ink-2 uppercase sm:pl-[18px]"
                >
                  {item.head}
                </span>
              </div>
            );
          return (
            <Row
              key={item.line.who}
              {...{ line: item.line, load, columns, asked, now, style, template }}
              at={here?.who === item.line.who ? here.column : null}
              chosen={at?.who === item.line.who ? at.column : null}
              goTo={go}
            />
          );
        })}
      </div>
    </div>
  );
}

function Head({
  columns,
  by,
  now,
  template,
}: {
  columns: { index: number; day: Date }[];
  by: Asked["by"];
  now: Date;
  template: string;
}) {
  const week = (day: Date) => by === "day" && day.getDay() === 1;
  return (
    <div
      role="row"
      tabIndex={-1}
      className="sticky top-0 z-10 grid border-b border-rule-2 bg-sheet"
      style={{ gridTemplateColumns: template, height: HEAD }}
    >
      <span role="columnheader" tabIndex={-1} className="self-center pl-3 text-[12px] text-ink-2 sm:pl-[18px]">
        Person
      </span>
      {columns.map(({ day }, index) => (
        <span
          key={day.toISOString()}
          role="columnheader"
          tabIndex={-1}
          aria-label={format(day, by === "month" ? "MMMM yyyy" : "EEEE d MMMM")}
          className={`relative flex min-w-0 flex-col justify-end border-rule pb-1.5 text-center text-[11.5px] text-ink-2 ${week(day) || by !== "day" ? "border-l" : ""} ${by === "day" && isWeekend(day) ? "bg-paper" : ""}`}
        >
          {(week(day) || (by === "day" && index === 0)) && (
            <b className="absolute top-1 left-1.5 z-10 font-semibold whitespace-nowrap text-ink">
              {format(day, "EEE d MMM")}
            </b>
          )}
          <span className={by === "day" && isSameDay(day, now) ? "font-semibold text-rose" : ""}>
            {by === "day" ? format(day, "EEEEE") : by === "week" ? format(day, "d MMM") : format(day, "MMM yy")}
          </span>
        </span>
      ))}
    </div>
  );
}

interface RowProps {
  line: Line;
  load: Load;
  columns: { index: number; day: Date }[];
  asked: Asked;
  now: Date;
  style: React.CSSProperties;
  template: string;
  at: number | null;
  chosen: number | null;
  goTo: (spot: Spot) => void;
}

function Row({ line, load, columns, asked, now, style, template, at, chosen, goTo }: RowProps) {
  const { byId } = usePeople();
  const hours = asked.count === "hours";
  const codes = Object.keys(load.projects);
  const booked = load.columns.reduce((sum, _, index) => sum + total(line, index), 0);
  const capacity = line.capacity.reduce((sum, one) => sum + one, 0);
  const over = line.over.reduce((sum, one) => sum + one, 0);
  // how many pixels a minute is: a usual column is as high as the line of capacity
  const most = Math.max(...columns.map(({ index }) => total(line, index)), 1);
  const usual = Math.max(...line.capacity, !hasCapacity(line) || !hours ? most : 0, 1);
  const scale = Math.min(FULL / usual, TALLEST / most);
  return (
    <div
      role="row"
      tabIndex={-1}
      className="absolute inset-x-0 grid border-b border-rule"
      style={{ ...style, gridTemplateColumns: template }}
    >
      <span
        role="rowheader"
        tabIndex={-1}
        className="flex min-w-0 items-center gap-2.5 border-r border-rule pl-3 sm:pl-[18px]"
      >
        <Tile person={byId.get(line.who)} size={24} label={false} />
        <span className="min-w-0">
          <b className="block truncate font-semibold">{line.name}</b>
          <span className={`block truncate text-[12px] ${over ? "font-semibold text-ember" : "text-ink-2"}`}>
            {!hours
              ? `at most ${count(most === 1 && !booked ? 0 : most, "task")} at once`
              : line.kind === "nobody"
                ? `${sayHours(booked)} to give`
                : line.kind === "material"
                  ? sayOn(line, booked)
                  : sayHoursOf(booked, capacity)}
            {over > 0 && `, over ${sayHours(over)}`}
          </span>
        </span>
      </span>
      {columns.map(({ day, index }) => (
        <LoadCell
          key={day.toISOString()}
          {...{ line, codes, index, day, asked, scale, hours }}
          today={asked.by === "day" && isSameDay(day, now)}
          tab={at === index}
          chosen={chosen === index}
          onGo={() => goTo({ who: line.who, column: index })}
        />
      ))}
    </div>
  );
}

function LoadCell({
  line,
  codes,
  index,
  day,
  asked,
  scale,
  hours,
  today,
  tab,
  chosen,
  onGo,
}: {
  line: Line;
  codes: string[];
  index: number;
  day: Date;
  asked: Asked;
  scale: number;
  hours: boolean;
  today: boolean;
  tab: boolean;
  chosen: boolean;
  onGo: () => void;
}) {
  const capacity = line.capacity[index] ?? 0;
  const over = line.over[index] ?? 0;
  const away = line.away[index] ?? 0;
  const sum = total(line, index);
  const say = (value: number) => (hours ? sayOn(line, value) : count(value, "task"));
  const within = over ? sum - over : sum;
  const words = [
    format(day, asked.by === "month" ? "MMMM yyyy" : "EEE d MMM"),
    sum ? say(sum) : "nothing",
    ...codes.flatMap((code) => (line.bands[code]?.[index] ? `${code} ${say(line.bands[code]?.[index] ?? 0)}` : [])),
    ...(line.other[index] ? [`other work ${say(line.other[index] ?? 0)}`] : []),
    ...(hours && hasCapacity(line) ? [`capacity ${sayHours(capacity)}`] : []),
    ...(over ? [`over by ${sayHours(over)}`] : []),
    ...(away ? [`away ${sayHours(away)}`] : []),
  ];
  let left = within;
  const bands = [
    ...codes.map((code, at) => ({ code, at, value: line.bands[code]?.[index] ?? 0 })),
    { code: "other", at: -1, value: line.other[index] ?? 0 },
  ]
    .filter((one) => one.value > 0)
    .map((one) => {
      const shown = Math.min(one.value, left); // what exceeds the capacity is drawn on top of all, in ember
      left -= shown;
      return { ...one, shown };
    });
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the grid has the keys
    <div
      role="gridcell"
      tabIndex={tab ? 0 : -1}
      data-cell={`${line.who}:${index}`}
      aria-label={words.join(", ")}
      aria-selected={chosen}
      title={words.slice(1).join("\n")}
      onClick={onGo}
      className={`relative min-w-0 border-rule ${asked.by !== "day" || day.getDay() === 1 ? "border-l" : ""} ${asked.by === "day" && isWeekend(day) ? "bg-paper" : ""} ${today ? "bg-rose-soft/50" : ""} ${chosen ? "outline-2 -outline-offset-2 outline-rose" : "hover:bg-rose-soft/60"}`}
    >
      {away > 0 && !capacity && (
        <span
          aria-hidden="true"
          className="absolute inset-x-[2px] top-1.5 bottom-[6px] grid place-items-center bg-band text-[11px] text-ink-2"
        >
          {asked.by === "day" && !sum && "away"}
        </span>
      )}
      {capacity > 0 && hours && (
        <span
          aria-hidden="true"
          className="absolute inset-x-[2px] border-t-[1.5px] border-dotted border-ink-3"
          style={{ bottom: FOOT + capacity * scale }}
        />
      )}
      <span aria-hidden="true" className="absolute inset-x-[3px] bottom-[6px] flex flex-col-reverse">
        {bands.map((one) => (
          <span
            key={one.code}
            style={{ height: one.shown * scale, background: one.at < 0 ? OTHER : COLOURS[one.at % COLOURS.length] }}
          />
        ))}
        {over > 0 && <span className="bg-ember" style={{ height: Math.max(3, over * scale) }} />}
      </span>
      {over > 0 && (
        <span
          aria-hidden="true"
          className="absolute inset-x-0 text-center text-[11px] leading-3 font-semibold text-ember"
          style={{ bottom: FOOT + 1 + within * scale + Math.max(3, over * scale) }}
        >
          +{Number((over / 60).toFixed(1))}
        </span>
      )}
      {!hours && sum > 0 && (
        <span
          aria-hidden="true"
          className="absolute inset-x-0 text-center text-[11px] leading-3 text-ink-2"
          style={{ bottom: FOOT + 1 + sum * scale }}
        >
          {sum}
        </span>
      )}
    </div>
  );
}
