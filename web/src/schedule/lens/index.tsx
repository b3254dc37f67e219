/** The schedule: tasks as bars in working time, links between them, and the vein that decides the finish. */
import { useVirtualizer } from "@tanstack/react-virtual";
import { addDays, differenceInCalendarDays, format, max, min, parseISO } from "date-fns";
import { Printer } from "lucide-react";
import { lazy, Suspense, useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import { type Schemas, sentence, type TaskRow } from "../../data/api";
import { may, useMe } from "../../data/hooks";
import { note } from "../../data/notes";
import { Empty, IconButton } from "../../parts/basics";
import { type LensProps, visibleRows } from "../../tasks/lens";
import { type ColumnId, isComputed } from "../../tasks/outline/columns";
import type { RowActions } from "../../tasks/outline/row";
import type { OutlineRow } from "../../tasks/rows";
import { useScope } from "../../views/scope";
import { useRipple } from "../ripple";
import { type Axis, daysOf, makeAxis, SCALES, scaleOf } from "./axis";
import type { Ghost } from "./bar";
import { HEAD, placeOf, ROW, typeOf } from "./geometry";
import { AxisHead, Ground } from "./head";
import { type LinkChoice, LinkForm, lagText, linkText } from "./link-form";
import { Links, useEdges } from "./links";
import { ScheduleBar, ScheduleRow } from "./row";
import { ChooseColumns, inOrder, Scales, useColumns } from "./tools";
import { type Drag, rowAt, useDrag } from "./use-drag";
import { useZoom } from "./use-zoom";
import { type WhyAt, WhyTip } from "./why";

const Print = lazy(() => import("./print"));

const isoDay = (day: Date) => format(day, "yyyy-MM-dd");
const isoMoment = (at: Date) => format(at, "yyyy-MM-dd'T'HH:mm");

type Cell = ColumnId | "bar";

interface Props extends LensProps {
  /** in a draft: the tasks that stand elsewhere in the plan */
  inPlan?: Schemas["DifferenceOut"][];
}

export default function Schedule(props: Props) {
  if (!props.outline.length) {
    return (
      <Empty title="See the work in time">
        <p>
          Tasks with dates, a duration or links are bars here. Write the first tasks in the outline, then say how long
          they take and what waits for what.
        </p>
      </Empty>
    );
  }
  return <Chart {...props} />;
}

function Chart({ project, outline, inside, changes, opened, openTask, inPlan, tints }: Props) {
  const { now } = useMe();
  const [scope] = useScope();
  const canEdit = may(project, "edit");
  const scroller = useRef<HTMLDivElement>(null);
  const rows = useMemo(() => visibleRows(outline, inside, new Set()), [outline, inside]);
  const [at, setAt] = useState<{ id: string; cell: Cell } | null>(null);
  const [editing, setEditing] = useState<string | null>(null);
  const [refused, setRefused] = useState<string>();
  const [linking, setLinking] = useState<string | null>(null);
  const [choice, setChoice] = useState<LinkChoice | null>(null);
  const [why, setWhy] = useState<WhyAt | null>(null);
  const [hovered, setHovered] = useState<string | null>(null);
  const [printing, setPrinting] = useState(false);
  const wantsFocus = useRef(false);
  const open = useRipple();
  const ripple = open?.code === project.code ? open.ripple : null;
  const planned = useMemo(() => new Map(inPlan?.map((one) => [one.id, one])), [inPlan]);

  // the span of time: what is dated, today, and room to plan into
  const span = useMemo(() => {
    const dates = rows.flatMap(({ row }) => [row.start, row.finish, row.deadline].filter((one) => one !== null));
    const all = [...dates.map((one) => parseISO(one)), now, parseISO(project.start_day)];
    const window = scope.since && scope.until ? [parseISO(scope.since), parseISO(scope.until)] : null;
    return { from: window?.[0] ?? min(all), to: window?.[1] ?? max(all), narrowed: window !== null };
  }, [rows, now, project.start_day, scope.since, scope.until]);
  const days = useMemo(
    () => daysOf(project.calendar, addDays(span.from, -3), addDays(span.to, span.narrowed ? 3 : 75)),
    [project.calendar, span],
  );
  const { columns, shown, setShown, grid, width, left, setLeft, height } = useColumns(scroller);
  const { pixels, choose, fit, anchor } = useZoom(scroller, grid, days, span, setLeft);
  const axis = useMemo(() => makeAxis(days, pixels), [days, pixels]);
  const today = isoDay(now);
  const nowX = axis.x(now);
  const edges = useEdges(rows);

  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 8,
    paddingStart: HEAD,
    scrollPaddingStart: HEAD + 4,
    scrollPaddingEnd: 12,
  });
  const live = useRef({ rows, columns, at, editing });
  live.current = { rows, columns, at, editing };

  // after a zoom the moment under the pointer stays there; when the lens opens today stands at a third of the width
  const placed = useRef(false);
  useLayoutEffect(() => {
    const node = scroller.current;
    if (!node || !rows.length) return;
    if (!placed.current) {
      placed.current = true;
      node.scrollLeft = Math.max(0, axis.x(now) - (node.clientWidth - grid) / 3);
    } else if (anchor.current) node.scrollLeft = axis.x(anchor.current.moment) - anchor.current.offset;
    anchor.current = null;
  }, [axis, rows.length, now, grid, anchor]);

  const go = useCallback(
    (id: string, cell: Cell) => {
      wantsFocus.current = true;
      setAt({ id, cell });
      const index = live.current.rows.findIndex((one) => one.row.id === id);
      if (index >= 0) virtual.scrollToIndex(index, { align: "auto" });
    },
    [virtual],
  );
  useEffect(() => {
    if (!wantsFocus.current || !at || editing !== null) return;
    const cell = scroller.current?.querySelector<HTMLElement>(`[data-row="${at.id}"] [data-cell="${at.cell}"]`);
    if (!cell) return;
    cell.focus({ preventScroll: true });
    wantsFocus.current = false;
  });

  const tell = useCallback(
    (what: string, row: TaskRow, fields: Record<string, unknown>) =>
      changes.editOrTell(`${what} “${row.title}”`, [{ id: row.id, fields }]),
    [changes],
  );

  const actions = useMemo<RowActions>(
    () => ({
      focus: (id, column) => go(id, column),
      beginEdit: (id, column) => {
        wantsFocus.current = false;
        setAt({ id, cell: column });
        setEditing("");
      },
      endEdit: (id, column, how) => {
        setEditing(null);
        setRefused(undefined);
        const { rows: all, columns: cells } = live.current;
        const index = all.findIndex((one) => one.row.id === id);
        const step = how === "next" ? 1 : how === "back" ? -1 : 0;
        if (how === "down") go(all[index + 1]?.row.id ?? id, column);
        else go(id, cells[cells.findIndex((one) => one.id === column) + step]?.id ?? column);
      },
      save: async (row, column, value, shownAs) => {
        try {
          await changes.edit(`${column.head} of “${row.title}”`, [
            { id: row.id, fields: { [column.field]: value }, shown: shownAs },
          ]);
        } catch (error) {
          const why = sentence(error);
          if (!column.typed || live.current.editing !== null) return note(why, "wrong");
          setRefused(why);
          setAt({ id: row.id, cell: column.id });
          setEditing(String(value));
        }
      },
      fold: () => {},
      open: (row) => openTask(row.id),
    }),
    [changes, go, openTask],
  );

  // Dragging

  const byDay = axis.pixels < 200;
  const shiftOf = (drag: Drag) =>
    byDay ? differenceInCalendarDays(axis.dayAt(drag.x).date, axis.dayAt(drag.from).date) : 0;

  /** Where a moment comes to lie when it is dragged: whole days, or quarters of an hour at the scale of hours. */
  function dragged(iso: string, drag: Drag): string {
    if (byDay) return isoMoment(addDays(parseISO(iso), shiftOf(drag)));
    return isoMoment(axis.momentAt(axis.x(iso) + drag.x - drag.from));
  }

  function moveTo(row: TaskRow, start: string | null, finish: string | null) {
    if (row.kind === "milestone" || !row.start) return tell("Moved", row, { finish });
    return tell("Moved", row, { start });
  }

  function end(drag: Drag) {
    const row = rows.find((one) => one.row.id === drag.id)?.row;
    if (!row) return;
    if (drag.how === "link-start" || drag.how === "link-finish") return dropLink(row, drag);
    if (drag.how === "percent") {
      const percent = percentAt(row, drag, axis);
      if (percent !== null && percent !== row.percent) tell("Percent done of", row, { percent });
    } else if (drag.how === "draw") {
      const [a, b] = [axis.dayAt(Math.min(drag.from, drag.x)), axis.dayAt(Math.max(drag.from, drag.x))];
      if (row.kind === "milestone") tell("Dated", row, { finish: b.iso });
      else tell("Dated", row, byDay ? { start: a.iso, finish: b.iso } : drawn(drag, axis));
    } else if (drag.how === "stretch" && row.finish) {
      const to = dragged(row.finish, drag);
      if (to !== row.finish.slice(0, 16)) tell("Stretched", row, { stretch_to: byDay ? to.slice(0, 10) : to });
    } else if (drag.how === "move") {
      const from = row.start ?? row.finish;
      if (!from || dragged(from, drag) === from.slice(0, 16)) return;
      moveTo(row, dragged(from, drag), row.finish && dragged(row.finish, drag));
    }
  }

  function dropLink(row: TaskRow, drag: Drag) {
    const other = rowAt(rows, drag.y);
    const place = other && placeOf(other, axis);
    if (!other || other.id === row.id) return;
    const side = place && drag.x > (place.x + place.right) / 2 && drag.x - place.x > 8 ? "finish" : "start";
    const type = typeOf(drag.how === "link-start" ? "start" : "finish", side);
    openForm(row, other, type, drag.x, drag.y);
  }

  function openForm(from: TaskRow, to: TaskRow, type: LinkChoice["type"], x: number, y: number) {
    const node = scroller.current;
    const there = to.waits_for.find((link) => link.from_id === from.id);
    setChoice({
      from,
      to,
      type: there?.type ?? type,
      was: there?.type ?? null,
      x: Math.max((node?.scrollLeft ?? 0) + grid + 8, Math.min(grid + x + 12, (node?.scrollLeft ?? 0) + width - 290)),
      y: Math.max(
        (node?.scrollTop ?? 0) + HEAD + 4,
        Math.min(HEAD + y + 12, (node?.scrollTop ?? 0) + (node?.clientHeight ?? 400) - 262),
      ),
    });
  }

  const begin = useCallback(
    (id: string, how: Drag["how"]) => {
      const row = live.current.rows.find((one) => one.row.id === id)?.row;
      if (!row || !canEdit) return false;
      setAt({ id, cell: "bar" });
      setChoice(null);
      if (how === "draw") return !row.is_summary && !row.start && !row.finish;
      return how.startsWith("link") || !row.is_summary;
    },
    [canEdit],
  );
  const { drag, take } = useDrag(scroller, grid, begin, end, openTask, (id) => go(id, "bar"));

  function ghostOf(row: TaskRow): Ghost | null {
    if (drag?.id === row.id && !drag.how.startsWith("link") && drag.how !== "percent")
      return dragGhost(row, drag, axis, dragged, byDay ? shiftOf(drag) : null);
    const move = ripple?.moves.find((one) => one.id === row.id);
    const place = move && placeOf({ ...row, start: move.start, finish: move.finish }, axis);
    return place ? { x: place.x, right: place.right, label: "" } : null;
  }

  // Links

  async function saveLinks(to: TaskRow, text: string): Promise<string | null> {
    try {
      await changes.edit(`Links of “${to.title}”`, [{ id: to.id, fields: { waits_for: text } }]);
      return null;
    } catch (error) {
      return sentence(error);
    }
  }

  async function saveChoice(one: LinkChoice, type: LinkChoice["type"], lag: string): Promise<string | null> {
    const others = one.to.waits_for.filter((link) => !(link.from_id === one.from.id && link.type === one.was));
    const kept = others.map((link) => wordsOf(link, rows, project)).filter((text) => text !== null);
    const wrong = await saveLinks(one.to, [...kept, linkText(type, one.from.number, lag)].join(", "));
    if (!wrong) closeForm(one.to.id);
    return wrong;
  }

  async function removeChoice(one: LinkChoice) {
    const others = one.to.waits_for.filter((link) => !(link.from_id === one.from.id && link.type === one.was));
    closeForm(one.to.id);
    await tell("Deleted a link of", one.to, { waits_for: others });
  }

  function closeForm(id: string) {
    setChoice(null);
    go(id, "bar");
  }

  function pickLink(event: React.MouseEvent) {
    const key = (event.target as Element).closest<SVGElement>("[data-link]")?.dataset.link;
    if (!key || !canEdit) return;
    const [fromId, toId, type] = key.split(" ");
    const from = rows.find((one) => one.row.id === fromId)?.row;
    const to = rows.find((one) => one.row.id === toId)?.row;
    const box = scroller.current?.getBoundingClientRect();
    if (!from || !to || !box || !scroller.current) return;
    const x = event.clientX - box.left + scroller.current.scrollLeft - grid;
    const y = event.clientY - box.top + scroller.current.scrollTop - HEAD;
    openForm(from, to, type as LinkChoice["type"], x, y);
    setChoice((now) => now && { ...now, type: type as LinkChoice["type"], was: type as LinkChoice["type"] });
  }

  // Keys

  function key(event: React.KeyboardEvent) {
    if (editing !== null || !at || (event.target as HTMLElement).closest("[data-radix-popper-content-wrapper], form"))
      return;
    const index = rows.findIndex((one) => one.row.id === at.id);
    const row = rows[index]?.row;
    if (!row) return;
    const cells: Cell[] = ["title", ...columns.map((one) => one.id), "bar"];
    const place = cells.indexOf(at.cell);
    const column = columns.find((one) => one.id === at.cell);
    const page = Math.max(1, Math.floor(((scroller.current?.clientHeight ?? 400) - HEAD) / ROW) - 1);
    const to = (next: number, cell = place) =>
      go(
        rows[Math.max(0, Math.min(rows.length - 1, next))]?.row.id ?? row.id,
        cells[Math.max(0, Math.min(cells.length - 1, cell))] ?? "title",
      );
    const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    const handled = (_?: unknown) => event.preventDefault();
    if (step && event.altKey) {
      handled();
      if (canEdit && !row.is_summary) moveByKey(row, step, event.shiftKey);
    } else if (event.key === "ArrowDown") handled(to(index + 1));
    else if (event.key === "ArrowUp") handled(to(index - 1));
    else if (event.key === "PageDown") handled(to(index + page));
    else if (event.key === "PageUp") handled(to(index - page));
    else if (event.key === "Home") handled(event.ctrlKey ? to(0) : to(index, 0));
    else if (event.key === "End") handled(event.ctrlKey ? to(rows.length - 1) : to(index, cells.length - 1));
    else if (step && at.cell === "bar" && step > 0) handled(scroller.current?.scrollBy({ left: 120 }));
    else if (step) handled(to(index, place + step));
    else if (event.key === "Escape") {
      setLinking(null);
      setWhy(null);
      setChoice(null);
    } else if (event.key === "Enter" || event.key === "F2") {
      handled();
      if (column && canEdit && !isComputed(row, column.id) && !event.altKey) setEditing("");
      else openTask(row.id);
    } else if (event.ctrlKey || event.metaKey || event.altKey) return;
    else if (event.key === "+" || event.key === "-") choose(event.key === "+" ? "in" : "out");
    else if (event.key === "0" && !column) fit();
    else if (column?.typed && canEdit && !isComputed(row, column.id) && event.key.length === 1) {
      handled();
      setEditing(event.key);
    } else if (event.key === "w") showWhy(row);
    else if (event.key === "l" && canEdit) handled(linkByKey(row, index));
    else if (event.key === "d" && canEdit && !row.is_summary && !row.start && !row.finish)
      handled(tell("Dated", row, row.kind === "milestone" ? { finish: today } : { start: today, duration: "1 d" }));
  }

  function moveByKey(row: TaskRow, step: number, stretch: boolean) {
    const from = stretch ? row.finish : (row.start ?? row.finish);
    if (!from) return;
    const shift = nextWorked(axis, from, step);
    if (stretch) tell("Stretched", row, { stretch_to: isoDay(addDays(parseISO(from), shift)) });
    else {
      const moved = isoMoment(addDays(parseISO(from), shift));
      moveTo(row, moved, row.finish && isoMoment(addDays(parseISO(row.finish), shift)));
    }
  }

  function linkByKey(row: TaskRow, index: number) {
    if (!linking) return setLinking(row.id);
    const from = rows.find((one) => one.row.id === linking)?.row;
    setLinking(null);
    if (from && from.id !== row.id) openForm(from, row, "FS", placeOf(row, axis)?.x ?? left, index * ROW + ROW / 2);
  }

  function showWhy(row: TaskRow) {
    const box = document.activeElement?.getBoundingClientRect();
    setWhy(box ? { id: row.id, x: Math.max(box.left, grid + 12) + 8, y: box.bottom + 4 } : null);
  }

  // hovering a date or a bar says why it is what it is
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  function hover(event: React.PointerEvent) {
    clearTimeout(timer.current);
    const over = (event.target as Element)
      .closest?.<HTMLElement>("[data-cell=bar]")
      ?.closest<HTMLElement>("[data-row]");
    setHovered(over?.dataset.row ?? null);
    const target = (event.target as Element).closest?.(
      "[data-hold=move], [data-cell=start], [data-cell=finish], [data-cell=slack]",
    );
    const id = target?.closest<HTMLElement>("[data-row]")?.dataset.row;
    if (!id || drag) {
      if (why) setWhy(null);
      return;
    }
    const { clientX, clientY } = event;
    if (why?.id === id) return;
    timer.current = setTimeout(() => setWhy({ id, x: clientX + 12, y: clientY + 16 }), 350);
    if (why) setWhy(null);
  }
  useEffect(() => () => clearTimeout(timer.current), []);

  const seen = useMemo(() => ({ from: left - 200, to: left + width + 200 }), [left, width]);
  const total = virtual.getTotalSize();
  const items = virtual.getVirtualItems();
  const ground = Math.max(0, Math.min(height, total) - HEAD);
  const firstRow = items[0]?.index ?? 0;
  const linkFrom = linking ? rows.find((one) => one.row.id === linking)?.row : null;
  const whyRow = why && rows.find((one) => one.row.id === why.id)?.row;
  return (
    <div className="flex min-w-0 flex-1 flex-col">
      {/* biome-ignore lint/a11y/noStaticElementInteractions: the grid within takes the focus, and its keys come here */}
      <div
        ref={scroller}
        className="relative min-h-0 min-w-0 flex-1 overflow-auto"
        tabIndex={at ? -1 : 0}
        onFocus={(event) => {
          if (event.target === event.currentTarget && !at && rows[0]) go(rows[0].row.id, "title");
        }}
        onKeyDown={key}
        onPointerDown={take}
        onPointerMove={hover}
        onPointerLeave={() => {
          clearTimeout(timer.current);
          setWhy(null);
        }}
        onScroll={() => why && setWhy(null)}
        onClick={pickLink}
      >
        <div style={{ width: grid + axis.width, height: total, position: "relative" }}>
          {/* the ground is the same at every height, so it need not scroll up and down */}
          <div
            className="pointer-events-none sticky h-0"
            style={{ top: HEAD, width: grid + axis.width }}
            aria-hidden="true"
          >
            <svg className="absolute top-0" style={{ left: grid }} width={axis.width} height={ground}>
              <Ground axis={axis} height={ground} seen={seen} today={today} nowX={nowX} />
            </svg>
          </div>
          {/* over the heads of the columns, and no part of the grid */}
          <div className="sticky top-0 left-0 z-30 h-0" style={{ width: grid }}>
            <Scales scale={scaleOf(pixels)} choose={(name) => choose(SCALES[name])} fit={fit}>
              <ChooseColumns shown={shown} setShown={setShown} />
              <IconButton label="Print" className="!h-[20px] !w-6" onClick={() => setPrinting(true)}>
                <Printer size={14} />
              </IconButton>
            </Scales>
          </div>
          <div
            role="treegrid"
            aria-label="Schedule"
            aria-rowcount={rows.length + 1}
            className="relative"
            style={{ height: total }}
          >
            <div
              role="row"
              tabIndex={-1}
              aria-rowindex={1}
              className="sticky top-0 z-20 flex"
              style={{ height: HEAD, width: grid + axis.width }}
            >
              <div
                className="sticky left-0 z-10 flex flex-none items-end border-r border-b border-rule-2 bg-sheet pb-1 pl-2 text-[11.5px] text-ink-3"
                style={{ width: grid }}
              >
                <span role="columnheader" tabIndex={-1} className="min-w-0 flex-1 truncate px-1.5">
                  {linkFrom ? (
                    <span role="status" className="font-semibold text-rose">
                      Link from {linkFrom.title}: go to what waits, press L
                    </span>
                  ) : (
                    "Task"
                  )}
                </span>
                {columns.map((column) => (
                  <span
                    key={column.id}
                    role="columnheader"
                    tabIndex={-1}
                    className={`flex-none px-1.5 ${column.right ? "text-right" : ""}`}
                    style={{ width: column.width }}
                  >
                    {column.head}
                  </span>
                ))}
              </div>
              <span role="columnheader" tabIndex={-1} className="sr-only">
                Bar
              </span>
              <AxisHead axis={axis} seen={seen} today={today} />
            </div>
            {/* one pane that stays at the left: a cell of its own for each row would make scrolling slow */}
            <div className="sticky left-0 z-10" style={{ width: grid, height: Math.max(0, total - HEAD) }}>
              {items.map((item) => {
                const one = rows[item.index];
                if (!one) return null;
                const isAt = at?.id === one.row.id;
                return (
                  <ScheduleRow
                    key={one.row.id}
                    one={one}
                    index={item.index}
                    columns={columns}
                    project={project}
                    active={isAt && at.cell !== "bar" ? at.cell : null}
                    editing={isAt ? editing : null}
                    refused={isAt ? refused : undefined}
                    opened={opened === one.row.id}
                    linking={linking === one.row.id}
                    canEdit={canEdit}
                    now={now}
                    actions={actions}
                    tints={tints?.get(one.row.id)}
                  />
                );
              })}
            </div>
          </div>
          {/* the bars are cells of the rows above, which own them by their ids */}
          <div className="absolute" style={{ left: grid, top: HEAD }}>
            {items.map((item) => {
              const row = rows[item.index]?.row;
              return (
                row && (
                  <ScheduleBar
                    key={row.id}
                    row={row}
                    index={item.index}
                    axis={axis}
                    dayMinutes={project.day_minutes}
                    canEdit={canEdit}
                    seenFrom={left}
                    ghost={drag || ripple ? ghostOf(row) : null}
                    inPlan={planned.get(row.id) ?? null}
                    percent={drag?.how === "percent" && drag.id === row.id ? percentAt(row, drag, axis) : null}
                    active={at?.id === row.id && at.cell === "bar"}
                    marked={opened === row.id || linking === row.id}
                    hovered={hovered === row.id}
                    tint={tints?.get(row.id)?.bar}
                  />
                )
              );
            })}
          </div>
          <svg
            className="pointer-events-none absolute z-[5] overflow-visible"
            style={{ left: grid, top: HEAD + firstRow * ROW }}
            width={axis.width}
            height={items.length * ROW}
            aria-hidden="true"
          >
            <Links
              edges={edges}
              rows={rows}
              axis={axis}
              first={firstRow}
              last={items.at(-1)?.index ?? 0}
              chosen={choice ? `${choice.from.id} ${choice.to.id} ${choice.was}` : null}
            />
            {drag?.how.startsWith("link") && (
              <path
                d={`M${drag.from},${(rows.findIndex((one) => one.row.id === drag.id) + 0.5) * ROW}L${drag.x},${drag.y}`}
                transform={`translate(0 ${-firstRow * ROW})`}
                stroke="var(--color-rose)"
                strokeWidth="2"
              />
            )}
          </svg>
          {choice && (
            <LinkForm
              key={`${choice.from.id}${choice.to.id}${choice.was}`}
              choice={choice}
              lag={firstLag(choice, project)}
              save={(type, lag) => saveChoice(choice, type, lag)}
              remove={() => removeChoice(choice)}
              close={() => closeForm(choice.to.id)}
            />
          )}
        </div>
      </div>
      {printing && (
        <Suspense fallback={null}>
          <Print project={project} scope={scope} columns={inOrder(shown)} close={() => setPrinting(false)} />
        </Suspense>
      )}
      {why && whyRow && <WhyTip at={why} row={whyRow} project={project} />}
    </div>
  );
}

const firstLag = (choice: LinkChoice, project: LensProps["project"]) => {
  const link = choice.to.waits_for.find((one) => one.from_id === choice.from.id && one.type === choice.was);
  return link ? lagText(link.lag ?? 0, link.elapsed ?? false, project) : "";
};

function wordsOf(link: TaskRow["waits_for"][number], rows: OutlineRow[], project: LensProps["project"]): string | null {
  const number = rows.find((one) => one.row.id === link.from_id)?.row.number;
  return number === undefined
    ? null
    : linkText(link.type, number, lagText(link.lag ?? 0, link.elapsed ?? false, project));
}

function percentAt(row: TaskRow, drag: Drag, axis: Axis): number | null {
  const place = placeOf(row, axis);
  if (!place) return null;
  const part = ((drag.x - place.x) / Math.max(1, place.right - place.x)) * 100;
  return Math.max(0, Math.min(100, Math.round(part / 5) * 5));
}

const drawn = (drag: Drag, axis: Axis) => ({
  start: isoMoment(axis.momentAt(Math.min(drag.from, drag.x))),
  finish: isoMoment(axis.momentAt(Math.max(drag.from, drag.x))),
});

function dragGhost(
  row: TaskRow,
  drag: Drag,
  axis: Axis,
  dragged: (iso: string, drag: Drag) => string,
  shift: number | null,
): Ghost | null {
  if (drag.how === "draw") {
    const a = axis.dayAt(Math.min(drag.from, drag.x));
    const b = axis.dayAt(Math.max(drag.from, drag.x));
    return { x: a.x, right: b.x + b.width, label: "" };
  }
  const place = placeOf(row, axis);
  if (!place) return null;
  const by = drag.x - drag.from;
  const label =
    shift === null
      ? format(axis.momentAt((drag.how === "stretch" ? place.right : place.x) + by), "HH:mm")
      : signed(shift);
  if (drag.how === "stretch" && row.finish) {
    const right = shift === null ? place.right + by : axis.x(dragged(row.finish, drag));
    return { x: place.x, right: Math.max(place.x + 3, right), label };
  }
  const from = row.start ?? row.finish;
  if (!from) return null;
  const x = shift === null ? place.x + by : axis.x(dragged(from, drag));
  return { x, right: x + place.right - place.x, label };
}

const signed = (days: number) => (days ? `${days > 0 ? "+" : "−"}${Math.abs(days)} d` : "");

/** How many calendar days to the next or last worked day, so that a key always moves a bar by a working day. */
function nextWorked(axis: Axis, iso: string, step: number): number {
  const from = parseISO(iso);
  const first = axis.days[0]?.date ?? from;
  for (let days = step; Math.abs(days) < 30; days += step) {
    const day = axis.days[differenceInCalendarDays(addDays(from, days), first)];
    if (!day || day.worked) return days;
  }
  return step;
}
