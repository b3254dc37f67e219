/** The schedule: tasks as bars in working time, dragged to move and stretched at the end. */
import { useVirtualizer } from "@tanstack/react-virtual";
import { addDays, differenceInCalendarDays, format, max, min, parseISO } from "date-fns";
import { useLayoutEffect, useMemo, useRef, useState } from "react";
import type { Project, TaskRow } from "../../data/api";
import { may, useMe, usePeople } from "../../data/hooks";
import type { OutlineRow } from "../../data/rows";
import { useScope } from "../../data/scope";
import { Empty } from "../../parts/basics";
import { Facet } from "../../parts/facet";
import { sayDay, sayDuration, sayFull } from "../../parts/say";
import { Tile } from "../../parts/tile";
import { type LensProps, visibleRows } from "../lens";
import { type Axis, makeAxis, SCALES, type Scale } from "./axis";

const ROW = 29;
const HEAD = 44;
const iso = (day: Date) => format(day, "yyyy-MM-dd");

interface Drag {
  id: string;
  how: "move" | "stretch";
  from: number;
  to: number;
}

export default function Schedule({ project, outline, inside, changes, opened, openTask }: LensProps) {
  const { now } = useMe();
  const [scope] = useScope();
  const canEdit = may(project, "edit");
  const [scale, setScale] = useState<Scale>(() => (sessionStorage.getItem("rhodonite.scale") as Scale) ?? "week");
  const [drag, setDrag] = useState<Drag | null>(null);
  const [active, setActive] = useState<string | null>(null);
  const scroller = useRef<HTMLDivElement>(null);
  const [view, setView] = useState({ left: 0, width: 800 });
  const rows = useMemo(() => visibleRows(outline, inside, new Set()), [outline, inside]);
  const narrow = view.width < 900;
  const grid = narrow ? 250 : 430;

  const axis = useMemo(() => {
    const dates = rows
      .flatMap(({ row }) => [row.start, row.finish, row.deadline].filter((at) => at !== null))
      .map((at) => parseISO(at));
    const all = [
      ...dates,
      now,
      parseISO(project.start_day),
      ...(scope.since ? [parseISO(scope.since)] : []),
      ...(scope.until ? [parseISO(scope.until)] : []),
    ];
    const from = scope.since && scope.until ? parseISO(scope.since) : min(all);
    const to = scope.since && scope.until ? parseISO(scope.until) : max(all);
    const room = scale === "month" ? 60 : 21;
    return makeAxis(project.calendar, addDays(from, -2), addDays(to, scope.until ? 2 : room), scale);
  }, [rows, now, project, scale, scope.since, scope.until]);

  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 8,
    paddingStart: HEAD,
  });

  useLayoutEffect(() => {
    const node = scroller.current;
    if (!node) return;
    const read = () =>
      setView((now) =>
        now.left === node.scrollLeft && now.width === node.clientWidth
          ? now
          : { left: node.scrollLeft, width: node.clientWidth },
      );
    const watch = new ResizeObserver(read);
    watch.observe(node);
    node.addEventListener("scroll", read, { passive: true });
    return () => {
      watch.disconnect();
      node.removeEventListener("scroll", read);
    };
  }, []);
  // today stands at a third of the width when the lens opens or the scale changes
  // biome-ignore lint/correctness/useExhaustiveDependencies: only then, not when rows change
  useLayoutEffect(() => {
    const node = scroller.current;
    if (node) node.scrollLeft = Math.max(0, axis.x(now) - (node.clientWidth - grid) / 3);
  }, [scale, rows.length > 0]);

  const days = (one: Drag) => differenceInCalendarDays(axis.dayAt(one.to).date, axis.dayAt(one.from).date);

  function save(row: TaskRow, how: "move" | "stretch", shift: number) {
    if (!shift || !row.finish) return;
    const start = row.start ?? row.finish;
    const fields: Record<string, unknown> = {};
    if (how === "stretch") fields.finish = iso(addDays(parseISO(row.finish), shift));
    else if (row.kind === "milestone" || !row.start) fields.finish = iso(addDays(parseISO(row.finish), shift));
    else fields.start = format(addDays(parseISO(start), shift), "yyyy-MM-dd'T'HH:mm");
    changes.editOrTell(how === "move" ? `Moved “${row.title}”` : `Stretched “${row.title}”`, [{ id: row.id, fields }]);
  }

  function end() {
    const done = drag;
    setDrag(null);
    const row = rows.find((one) => one.row.id === done?.id)?.row;
    if (!done || !row) return;
    if (Math.abs(done.to - done.from) < 4) openTask(row.id);
    else save(row, done.how, days(done));
  }

  function key(event: React.KeyboardEvent) {
    const index = rows.findIndex((one) => one.row.id === active);
    const here = rows[Math.max(0, index)];
    if (!here) return;
    const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (event.key === "ArrowDown" || event.key === "ArrowUp") {
      event.preventDefault();
      const next = rows[Math.max(0, Math.min(rows.length - 1, index + (event.key === "ArrowDown" ? 1 : -1)))];
      if (next) {
        setActive(next.row.id);
        virtual.scrollToIndex(rows.indexOf(next));
      }
    } else if (event.key === "Enter") {
      event.preventDefault();
      openTask(here.row.id);
    } else if (step && event.altKey && canEdit && !here.row.is_summary) {
      event.preventDefault();
      save(here.row, event.shiftKey ? "stretch" : "move", nextWorked(axis, here.row, step, event.shiftKey));
    } else if (step) {
      event.preventDefault();
      scroller.current?.scrollBy({ left: step * 120 });
    } else if (event.key === "+" || event.key === "-") {
      const next = SCALES[SCALES.indexOf(scale) + (event.key === "+" ? -1 : 1)];
      if (next) choose(next);
    }
  }

  function choose(next: Scale) {
    sessionStorage.setItem("rhodonite.scale", next);
    setScale(next);
  }

  if (!outline.length) {
    return (
      <Empty title="See the work in time">
        <p>Tasks with a start or a finish are bars here. Write the first tasks in the outline and give them dates.</p>
      </Empty>
    );
  }
  const shown = { from: view.left - 200, to: view.left + view.width + 200 };
  const total = virtual.getTotalSize();
  return (
    <div
      ref={scroller}
      role="application"
      aria-label="Schedule. Arrow keys go from row to row; Alt with left or right moves a bar by a day, with Shift too it stretches; Enter opens the task; plus and minus change the scale"
      className="relative min-w-0 flex-1 overflow-auto outline-offset-[-2px]"
      tabIndex={0}
      onFocus={() => setActive((now) => now ?? rows[0]?.row.id ?? null)}
      onKeyDown={key}
      onPointerMove={(event) => drag && setDrag({ ...drag, to: drag.to + event.movementX })}
      onPointerUp={end}
    >
      <div style={{ width: grid + axis.width, height: total, position: "relative" }}>
        <div className="sticky top-0 z-20 flex" style={{ height: HEAD, width: grid + axis.width }}>
          <div
            className="sticky left-0 z-10 flex flex-none items-end gap-1 border-r border-b border-rule-2 bg-sheet pb-1.5 pl-3.5 text-[11.5px] text-ink-3"
            style={{ width: grid }}
          >
            <span className="flex-1">Task</span>
            {!narrow && <span className="w-[60px] text-right">Start</span>}
            <span className="w-[60px] text-right">Finish</span>
            {!narrow && <span className="w-[58px] pr-2.5 text-right">Length</span>}
            <fieldset className="absolute top-0.5 left-3 flex gap-px">
              <legend className="sr-only">Scale</legend>
              {SCALES.map((one) => (
                <button
                  key={one}
                  type="button"
                  aria-pressed={scale === one}
                  className={`h-[19px] px-1.5 text-[11.5px] ${scale === one ? "bg-ink text-paper" : "text-ink-2 hover:bg-band"}`}
                  onClick={() => choose(one)}
                >
                  {one}
                </button>
              ))}
            </fieldset>
          </div>
          <AxisHead axis={axis} from={shown.from} to={shown.to} now={now} />
        </div>
        <svg
          className="pointer-events-none absolute"
          style={{ left: grid, top: HEAD }}
          width={axis.width}
          height={Math.max(0, total - HEAD)}
          aria-hidden="true"
        >
          <Ground axis={axis} height={total - HEAD} from={shown.from} to={shown.to} now={now} />
        </svg>
        {virtual.getVirtualItems().map((item) => {
          const one = rows[item.index];
          if (!one) return null;
          return (
            <div
              key={one.row.id}
              className={`absolute left-0 flex ${active === one.row.id ? "outline-2 -outline-offset-2 outline-rose-mid" : ""}`}
              style={{ top: item.start, height: ROW, width: grid + axis.width }}
            >
              <GridCells
                one={one}
                project={project}
                grid={grid}
                narrow={narrow}
                opened={opened === one.row.id}
                openTask={openTask}
              />
              <Bar
                row={one.row}
                axis={axis}
                canEdit={canEdit && !one.row.is_summary}
                opened={opened === one.row.id}
                seenFrom={view.left}
                drag={
                  drag?.id === one.row.id
                    ? { how: drag.how, shift: axis.dayAt(drag.to).x - axis.dayAt(drag.from).x, days: days(drag) }
                    : null
                }
                begin={(how, x) => {
                  setActive(one.row.id);
                  setDrag({ id: one.row.id, how, from: x, to: x });
                }}
                open={() => openTask(one.row.id)}
              />
            </div>
          );
        })}
      </div>
    </div>
  );
}

/** How many calendar days to the next or last worked day, so that a key always moves a bar by a working day. */
function nextWorked(axis: Axis, row: TaskRow, step: number, stretch: boolean): number {
  const from = parseISO((stretch ? row.finish : (row.start ?? row.finish)) ?? "");
  for (let days = step; Math.abs(days) < 30; days += step) {
    const day = axis.days[differenceInCalendarDays(addDays(from, days), axis.days[0]?.date ?? from)];
    if (!day || day.worked) return days;
  }
  return step;
}

function AxisHead({ axis, from, to, now }: { axis: Axis; from: number; to: number; now: Date }) {
  const seen = axis.days.filter((day) => day.x + day.width > from && day.x < to);
  const label = (day: (typeof seen)[number]) => {
    if (axis.scale === "month") return day.date.getDate() === 1 ? format(day.date, "MMM yyyy") : null;
    return day.date.getDay() === 1 ? format(day.date, "EEE d MMM") : null;
  };
  return (
    <div
      className="relative flex-none border-b border-rule-2 bg-sheet text-ink-3"
      style={{ width: axis.width }}
      aria-hidden="true"
    >
      {seen.map((day) => {
        const words = label(day);
        const isToday = iso(day.date) === iso(now);
        return (
          <span key={day.x}>
            {words && (
              <span className="absolute top-1.5 text-[11px] whitespace-nowrap" style={{ left: day.x + 3 }}>
                {words}
              </span>
            )}
            {axis.scale !== "month" && day.worked && (
              <span
                className={`absolute bottom-0.5 text-center text-[10px] ${isToday ? "bg-rose font-semibold text-paper" : ""}`}
                style={{ left: day.x, width: day.width }}
              >
                {axis.scale === "day" ? format(day.date, "EEEEE d") : format(day.date, "EEEEE")}
              </span>
            )}
          </span>
        );
      })}
    </div>
  );
}

function Ground({ axis, height, from, to, now }: { axis: Axis; height: number; from: number; to: number; now: Date }) {
  const seen = axis.days.filter((day) => day.x + day.width > from && day.x < to);
  const today = seen.find((day) => iso(day.date) === iso(now));
  return (
    <>
      {seen.map((day) =>
        day.worked ? (
          (axis.scale !== "month" || day.date.getDate() === 1) && (
            <path
              key={day.x}
              d={`M${day.x},0V${height}`}
              stroke="var(--color-rule)"
              opacity={day.date.getDay() === 1 || axis.scale === "month" ? 1 : 0.45}
            />
          )
        ) : (
          <rect key={day.x} x={day.x} width={day.width} height={height} fill="var(--color-band)">
            {day.name && <title>{day.name}</title>}
          </rect>
        ),
      )}
      {today && <rect x={today.x} width={today.width} height={height} fill="var(--color-rose)" opacity=".07" />}
      <path d={`M${axis.x(now)},0V${height}`} stroke="var(--color-rose)" strokeWidth="1.5" />
    </>
  );
}

function GridCells({
  one,
  project,
  grid,
  narrow,
  opened,
  openTask,
}: {
  one: OutlineRow & { dim: boolean };
  project: Project;
  grid: number;
  narrow: boolean;
  opened: boolean;
  openTask: (id: string) => void;
}) {
  const { byId } = usePeople();
  const { now } = useMe();
  const { row } = one;
  return (
    <div
      className={`sticky left-0 z-10 flex flex-none items-center gap-1.5 border-r border-b border-r-rule-2 border-b-rule/60 pl-3.5 ${
        opened ? "bg-rose-soft" : "bg-sheet"
      } ${row.is_summary ? "font-semibold" : ""} ${one.dim ? "text-ink-3" : ""}`}
      style={{ width: grid }}
    >
      <button
        type="button"
        tabIndex={-1}
        className="flex min-w-0 flex-1 items-center gap-2"
        style={{ paddingLeft: one.depth * 16 }}
        onClick={() => openTask(row.id)}
      >
        <Facet row={row} size={15} />
        <span className="truncate" title={row.title}>
          {row.title}
        </span>
      </button>
      <Tile person={byId.get(row.owner_id ?? "")} size={20} />
      {!narrow && (
        <span className="w-[54px] text-right text-[12.5px] text-ink-2" title={sayFull(row.start)}>
          {row.kind === "milestone" ? "" : sayDay(row.start, now)}
        </span>
      )}
      <span
        className={`w-[54px] text-right text-[12.5px] ${row.late_days ? "font-semibold text-ember" : "text-ink-2"}`}
        title={sayFull(row.finish)}
      >
        {sayDay(row.finish, now)}
      </span>
      {!narrow && (
        <span className="w-[58px] truncate pr-2.5 text-right text-[12.5px] text-ink-2">
          {row.kind === "milestone" ? "" : sayDuration(row.duration, project.day_minutes)}
        </span>
      )}
    </div>
  );
}

interface BarDrag {
  how: "move" | "stretch";
  shift: number;
  days: number;
}

function Bar({
  row,
  axis,
  canEdit,
  opened,
  seenFrom,
  drag,
  begin,
  open,
}: {
  row: TaskRow;
  axis: Axis;
  canEdit: boolean;
  opened: boolean;
  /** what lies left of this is behind the grid */
  seenFrom: number;
  drag: BarDrag | null;
  begin: (how: "move" | "stretch", x: number) => void;
  open: () => void;
}) {
  const from = row.start ?? row.finish;
  const to = row.finish ?? row.start;
  const deadline = row.deadline ? axis.x(row.deadline) : null;
  const svg = "pointer-events-none absolute top-0 left-0 overflow-visible";
  if (!from || !to) return <div className="relative flex-none border-b border-rule/60" style={{ width: axis.width }} />;
  const half = !row.start || !row.finish; // only one end is known: a day wide, open at the other end
  const x0 = axis.x(from);
  const x = half && !row.start ? axis.dayAt(x0 - 0.5).x : x0;
  const width = Math.max(3, (half && !row.finish ? axis.dayAt(x0).x + axis.dayAt(x0).width : axis.x(to)) - x);
  const tone = row.late_days
    ? "var(--color-ember)"
    : row.state_class === "dropped"
      ? "var(--color-rule-2)"
      : row.health === "strained"
        ? "var(--color-ochre)"
        : "var(--color-ink-3)";
  const right = x + width;
  const take = (how: "move" | "stretch") => (event: React.PointerEvent) => {
    if (!canEdit || event.button !== 0) return;
    event.preventDefault();
    (event.currentTarget.closest("[role=application]") as HTMLElement | null)?.focus({ preventScroll: true });
    begin(how, how === "move" ? x + 1 : right - 1);
  };
  const ghost =
    drag && (drag.how === "move" ? { x: x + drag.shift, width } : { x, width: Math.max(3, width + drag.shift) });
  const label = right > seenFrom && (row.kind === "milestone" || width < 260) ? row.title : "";
  return (
    <div
      className={`relative flex-none border-b border-rule/60 ${opened ? "bg-rose-soft/50" : ""}`}
      style={{ width: axis.width }}
    >
      <svg className={svg} width={axis.width} height={ROW} aria-hidden="true">
        {row.kind === "milestone" ? (
          <path
            d={`M${x},7.5l7,7-7,7-7-7z`}
            fill={
              row.state_class === "finished"
                ? "var(--color-ink)"
                : row.late_days
                  ? "var(--color-ember)"
                  : "var(--color-ink)"
            }
          />
        ) : row.is_summary ? (
          <>
            <path d={`M${x},19.5v-7h${width}v7`} fill="none" stroke="var(--color-ink-2)" strokeWidth="2.4" />
            <rect x={x} y="11.2" width={(width * row.percent) / 100} height="4" fill="var(--color-ink)" />
          </>
        ) : (
          <>
            <rect
              x={x}
              y="9.5"
              width={width}
              height="10"
              fill="var(--color-band)"
              stroke={tone}
              strokeDasharray={half ? "3 2" : undefined}
            />
            <rect x={x} y="9.5" width={(width * row.percent) / 100} height="10" fill={tone} />
            {row.held_reason && (
              <path
                d={`M${x + width / 2 - 3},6v17M${x + width / 2 + 3},6v17`}
                stroke="var(--color-ember)"
                strokeWidth="2"
              />
            )}
          </>
        )}
        {deadline !== null && (
          <path
            d={`M${deadline},24V6h8l-2.5,3.5L${deadline + 8},13H${deadline}`}
            fill="none"
            stroke={row.breaks_deadline ? "var(--color-ember)" : "var(--color-ink-2)"}
            strokeWidth="1.3"
          />
        )}
        {label && !ghost && (
          <text
            x={Math.max(right, deadline === null ? 0 : deadline + 8) + 9}
            y="18.5"
            fontSize="11"
            fill="var(--color-ink-2)"
            fontWeight={row.kind === "milestone" ? 600 : 400}
          >
            {label}
            {row.held_reason ? ` · held: ${row.held_reason}` : ""}
          </text>
        )}
        {ghost && (
          <>
            <rect x={ghost.x} y="9.5" width={ghost.width} height="10" fill="var(--color-rose)" opacity=".85" />
            <text x={ghost.x + ghost.width + 8} y="18.5" fontSize="11" fontWeight="650" fill="var(--color-rose)">
              {drag && drag.days > 0 ? "+" : ""}
              {drag?.days} d
            </text>
          </>
        )}
      </svg>
      {/* what the pointer takes hold of lies over the drawing */}
      {/* biome-ignore lint/a11y/noStaticElementInteractions: the schedule itself takes the keys */}
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: the schedule itself takes the keys */}
      <div
        data-bar={row.id}
        title={`${row.title}: ${sayFull(row.start)} to ${sayFull(row.finish)}, ${row.percent} % done`}
        className={`absolute top-1 h-[21px] ${canEdit ? "cursor-grab touch-none" : "cursor-pointer"}`}
        style={{ left: row.kind === "milestone" ? x - 8 : x, width: row.kind === "milestone" ? 16 : width }}
        onPointerDown={take("move")}
        onClick={() => !canEdit && open()}
      />
      {canEdit && row.kind !== "milestone" && !half && (
        <div
          data-stretch={row.id}
          className="absolute top-1 h-[21px] w-2.5 cursor-ew-resize touch-none"
          style={{ left: right - 4 }}
          onPointerDown={take("stretch")}
        />
      )}
    </div>
  );
}
