/** A portfolio as a schedule: one bar for each item, and the lines between them, also from project to project. */
import { useVirtualizer } from "@tanstack/react-virtual";
import { addDays, addMonths, differenceInCalendarDays, format, max, min, parseISO, startOfMonth } from "date-fns";
import { useMemo, useRef } from "react";
import { useMe } from "../data/hooks";
import { sayDay, sayFull } from "../parts/format";
import { useWidth } from "../parts/use-width";
import type { ViewProps } from "./cards";
import { ItemName } from "./item-name";
import type { Item } from "./portfolio";

const WIDE = 300;
const NARROW = 168;
const LINE = 34;
const HEAD = 30;
const BAR = 12;

interface Placed {
  item: Item;
  y: number;
  from: number;
  to: number;
}

export function Bars({ project, items, opened, open }: ViewProps) {
  const { now } = useMe();
  const box = useRef<HTMLDivElement>(null);
  const room = useWidth(box, 1280, true);
  const titles = room < 700 ? NARROW : WIDE;
  const width = Math.max(500, room - titles - 12);
  const { placed, x, months } = useMemo(() => place(items, now, width), [items, now, width]);
  const at = new Map(placed.map((one) => [one.item.task_id, one]));
  const height = Math.max(1, items.length) * LINE;
  const lines = useVirtualizer({
    count: items.length,
    getScrollElement: () => box.current,
    estimateSize: () => LINE,
    overscan: 12,
  });
  const shown = lines.getVirtualItems();
  const [top, bottom] = [shown[0]?.start ?? 0, shown.at(-1)?.end ?? 0];
  const isNear = (one: Placed | undefined) => one !== undefined && one.y >= top && one.y <= bottom;
  const crosses = (from?: Placed, to?: Placed) =>
    from && to && Math.min(from.y, to.y) <= bottom && Math.max(from.y, to.y) >= top;
  return (
    <div
      ref={box}
      className="min-w-0 flex-1 overflow-auto"
      role="region"
      aria-label="Schedule of the portfolio"
      tabIndex={0}
    >
      <div className="flex w-max min-w-full">
        <div className="sticky left-0 z-10 flex-none border-r border-rule-2 bg-sheet" style={{ width: titles }}>
          <div
            className="sticky top-0 flex items-center gap-4 overflow-hidden border-b border-rule-2 bg-paper px-2 text-[11.5px] text-ink-2"
            style={{ height: HEAD }}
          >
            <span className="flex items-center gap-1">
              <svg width="12" height="12" aria-hidden="true">
                <path d="M6 0.8l5.2 5.2l-5.2 5.2l-5.2 -5.2z" fill="none" stroke="var(--color-ink)" strokeWidth="1.3" />
              </svg>
              promised
            </span>
            <span className="flex items-center gap-1">
              <svg width="20" height="12" aria-hidden="true">
                <path d="M0 6h17" stroke="var(--color-ember)" strokeWidth="2" strokeDasharray="2 3" />
                <path d="M18 1v10" stroke="var(--color-ember)" strokeWidth="2" />
              </svg>
              expected later
            </span>
            <span className="flex items-center gap-1 max-sm:hidden">
              <svg width="20" height="12" aria-hidden="true">
                <path d="M0 6h20" stroke="var(--color-slate)" strokeWidth="1.4" strokeDasharray="5 3" />
              </svg>
              tied
            </span>
          </div>
          <div style={{ height: top }} />
          {shown
            .flatMap(({ index }) => items[index] ?? [])
            .map((item) => (
              <div
                key={item.task_id}
                className={`flex items-center gap-2 border-b border-rule px-2 ${opened === item.task_id ? "bg-rose-soft" : ""}`}
                style={{ height: LINE }}
              >
                <ItemName item={item} open={open} narrow="max-sm:hidden" />
              </div>
            ))}
        </div>
        <div className="flex-none">
          <svg width={width} height={HEAD} className="sticky top-0 z-[5] block bg-paper" aria-hidden="true">
            {months.map((month) => (
              <g key={month.getTime()}>
                <line x1={x(month)} x2={x(month)} y1={0} y2={HEAD} stroke="var(--color-rule)" />
                <text x={x(month) + 5} y={19} fontSize="11.5" fill="var(--color-ink-2)">
                  {format(month, "MMM yyyy")}
                </text>
              </g>
            ))}
            <line x1={0} x2={width} y1={HEAD - 0.5} y2={HEAD - 0.5} stroke="var(--color-rule-2)" />
            <line x1={x(now)} x2={x(now)} y1={0} y2={HEAD} stroke="var(--color-rose)" strokeWidth="1.6" />
          </svg>
          <svg width={width} height={height} className="block" role="img" aria-label={sayBars(items, now)}>
            {months.map((month) => (
              <line key={month.getTime()} x1={x(month)} x2={x(month)} y1={0} y2={height} stroke="var(--color-rule)" />
            ))}
            <line x1={x(now)} x2={x(now)} y1={0} y2={height} stroke="var(--color-rose)" strokeWidth="1.6" />
            {shown.map(({ index }) => (
              <line
                key={index}
                x1={0}
                x2={width}
                y1={(index + 1) * LINE - 0.5}
                y2={(index + 1) * LINE - 0.5}
                stroke="var(--color-rule)"
              />
            ))}
            {items.flatMap((item) => {
              const to = at.get(item.task_id);
              const near = (id: string) => crosses(at.get(id), to);
              return [
                ...item.needs.filter(near).map((id) => <Line key={`${id}${item.task_id}`} from={at.get(id)} to={to} />),
                ...item.tied
                  .filter(near)
                  .map((id) => <Line key={`t${id}${item.task_id}`} from={at.get(id)} to={to} tied />),
              ];
            })}
            {placed.filter(isNear).map((one) => (
              <Bar key={one.item.task_id} {...one} x={x} own={one.item.code === project.code} />
            ))}
          </svg>
        </div>
      </div>
      {!placed.length && <p className="p-4 text-ink-2">None of these items has dates yet.</p>}
    </div>
  );
}

const sayBars = (items: Item[], now: Date) =>
  `Bars of ${items.length} items: ${items
    .slice(0, 60)
    .map((one) => `${one.title}, ${one.expected ? `expected ${sayDay(one.expected, now)}` : "no date"}`)
    .join("; ")}`;

/** Where each item with dates lies. */
function place(items: Item[], now: Date, width: number) {
  const dates = items.flatMap((one) => [one.start, one.finish, one.expected, one.promised].filter((at) => at !== null));
  const days = dates.map((at) => parseISO(at));
  const from = addDays(min([now, ...days]), -10);
  const to = addDays(max([now, ...days]), 14);
  const span = Math.max(1, differenceInCalendarDays(to, from));
  const x = (at: Date) => ((at.getTime() - from.getTime()) / 86_400_000 / span) * width;
  const months: Date[] = [];
  for (let month = startOfMonth(addMonths(from, 1)); month < to; month = addMonths(month, 1)) months.push(month);
  const placed = items.flatMap((item, index): Placed[] => {
    const end = item.start && item.finish ? item.finish : (item.expected ?? item.finish);
    if (!end) return [];
    const begin = item.start ?? end;
    return [
      {
        item,
        y: index * LINE + LINE / 2,
        from: x(parseISO(begin)),
        to: Math.max(x(parseISO(begin)) + 3, x(parseISO(end))),
      },
    ];
  });
  return { placed, x, months };
}

function Bar({ item, y, from, to, x, own }: Placed & { x: (at: Date) => number; own: boolean }) {
  const expected = item.expected && item.state_class !== "finished" ? x(parseISO(item.expected)) : to;
  const agreed = item.promised ? x(parseISO(item.promised)) : null;
  const tone =
    item.health === "slipping"
      ? "var(--color-ember)"
      : item.health === "strained"
        ? "var(--color-ochre)"
        : "var(--color-ink)";
  const top = y - BAR / 2;
  return (
    <g>
      <title>
        {`${item.title}: ${sayFull(item.start)} to ${sayFull(item.finish)}${item.expected ? `, expected ${sayFull(item.expected)}` : ""}${item.promised ? `, promised ${sayFull(item.promised)}` : ""}`}
      </title>
      {expected > to + 1 && (
        <line x1={to} x2={expected} y1={y} y2={y} stroke="var(--color-ember)" strokeWidth="2" strokeDasharray="2 3" />
      )}
      {expected > to + 1 && (
        <line x1={expected} x2={expected} y1={y - 5} y2={y + 5} stroke="var(--color-ember)" strokeWidth="2" />
      )}
      <rect
        x={from}
        y={top}
        width={to - from}
        height={BAR}
        fill="var(--color-band)"
        stroke={tone}
        strokeWidth={own ? 2 : 1}
      />
      <rect x={from} y={top} width={((to - from) * item.percent) / 100} height={BAR} fill={tone} />
      {agreed !== null && (
        <path
          d={`M${agreed} ${y - 6}l6 6l-6 6l-6 -6z`}
          fill="var(--color-sheet)"
          stroke="var(--color-ink)"
          strokeWidth="1.3"
        />
      )}
    </g>
  );
}

/** From what has to be there to what waits for it; dashed where an item is tied to work of a part. */
function Line({ from, to, tied = false }: { from?: Placed; to?: Placed; tied?: boolean }) {
  if (!from || !to) return null;
  const bend = from.to + 8;
  return (
    <path
      d={`M${from.to} ${from.y}H${bend}V${to.y}H${tied ? to.to : to.from}`}
      fill="none"
      stroke={tied ? "var(--color-slate)" : "var(--color-ink-3)"}
      strokeWidth={tied ? 1.4 : 1}
      strokeDasharray={tied ? "5 3" : undefined}
    />
  );
}
