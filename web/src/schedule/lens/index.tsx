/** The schedule: tasks as bars in working time, links between them, and the vein that decides the finish. */
import { addDays } from "date-fns";
import { Printer } from "lucide-react";
import { Suspense, useMemo, useRef, useState } from "react";
import type { Schemas, TaskRow } from "../../data/api";
import { may, useMe } from "../../data/hooks";
import { Empty, IconButton } from "../../parts/basics";
import { type At, useGrid } from "../../parts/grid/use-grid";
import { later } from "../../parts/later";
import { treeOf, useFolds } from "../../tasks/folds";
import { type LensProps, visibleRows } from "../../tasks/lens";
import { type Column, isComputed } from "../../tasks/outline/columns";
import { useRowActions } from "../../tasks/row-actions";
import { useScope } from "../../views/scope";
import { useRipple } from "../ripple";
import { daysOf, makeAxis, SCALES, scaleOf } from "./axis";
import type { Ghost } from "./bar";
import { HEAD, placeOf, ROW } from "./geometry";
import { AxisHead, Ground } from "./head";
import { LinkForm } from "./link-form";
import { Links, useEdges } from "./links";
import { type BarChange, changeByDrag, changeByKey, ghostOf, isoDay, percentAt } from "./moving";
import { ScheduleBar, ScheduleRow } from "./row";
import { ChooseColumns, inOrder, Scales, useColumns } from "./tools";
import { type Drag, useDrag } from "./use-drag";
import { useLinkForm } from "./use-link-form";
import { usePlaceInTime, useSpan } from "./use-span";
import { useWhyTip } from "./use-why";
import { useZoom } from "./use-zoom";
import { WhyTip } from "./why";

/** Under so many pixels of columns the scales stand in a list. */
const NARROW = 330;

const Print = later(() => import("./print").then((module) => module.default));

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
  const folds = useFolds(project.code);
  const { folded, fold } = folds;
  const rows = useMemo(() => visibleRows(outline, inside, folded), [outline, inside, folded]);
  const byId = useMemo(() => new Map(rows.map((one) => [one.row.id, one])), [rows]);
  const ids = useMemo(() => [...byId.keys()], [byId]);
  const [linking, setLinking] = useState<string | null>(null);
  const [printing, setPrinting] = useState(false);
  const open = useRipple();
  const ripple = open?.code === project.code ? open.ripple : null;
  const planned = useMemo(() => new Map(inPlan?.map((one) => [one.id, one])), [inPlan]);

  const span = useSpan(rows, project.start_day);
  const days = useMemo(
    () => daysOf(project.calendar, addDays(span.from, -3), addDays(span.to, span.narrowed ? 3 : 75)),
    [project.calendar, span],
  );
  const { columns, shown, setShown, grid: gridWidth, width, left, setLeft, height } = useColumns(scroller);
  const { pixels, zooming, choose, fit, anchor } = useZoom(scroller, gridWidth, days, span, setLeft);
  const axis = useMemo(() => makeAxis(days, pixels), [days, pixels]);
  const today = isoDay(now);
  const nowX = axis.x(now);
  const edges = useEdges(rows);
  usePlaceInTime(scroller, axis, gridWidth, rows.length > 0, anchor);

  const columnOf = (cell: string) => columns.find((one) => one.id === cell);
  const grid = useGrid({
    scroller,
    ids,
    cells: ["title", ...columns.map((one) => one.id), "bar"],
    rowHeight: ROW,
    headHeight: HEAD,
    open: openTask,
    edits: (id, cell) => {
      const column = columnOf(cell);
      const row = byId.get(id)?.row;
      if (!canEdit || !column || !row || isComputed(row, column.id)) return null;
      return column.typed ? "typed" : "chosen";
    },
    tree: treeOf(byId, folds),
    onKey: key,
  });
  const { at, editing, refused, act } = grid;
  const actions = useRowActions(project.code, act, changes, fold, openTask);
  const links = useLinkForm({
    ...{ project, changes, outline, scroller, rows, axis, width, canEdit },
    grid: gridWidth,
    onClose: (id) => act.go(id, "bar"),
  });
  const { choice } = links;

  function begin(id: string, how: Drag["how"]): boolean {
    const row = byId.get(id)?.row;
    if (!row || !canEdit) return false;
    links.cancel();
    act.go(id, "bar");
    if (how === "draw") return !row.is_summary && !row.start && !row.finish;
    return how.startsWith("link") || !row.is_summary;
  }
  const { drag, take } = useDrag(scroller, gridWidth, begin, end, openTask, (id) => act.go(id, "bar"));
  const tip = useWhyTip(drag !== null);
  const { why } = tip;

  function tell(row: TaskRow, change: BarChange | null) {
    if (change) changes.editOrTell(`${change.what} “${row.title}”`, [{ id: row.id, fields: change.fields }]);
  }

  function end(done: Drag) {
    const row = byId.get(done.id)?.row;
    if (!row) return;
    if (done.how.startsWith("link")) links.drop(row, done);
    else tell(row, changeByDrag(row, done, axis));
  }

  function ghost(row: TaskRow): Ghost | null {
    if (drag?.id === row.id && !drag.how.startsWith("link") && drag.how !== "percent") return ghostOf(row, drag, axis);
    const move = ripple?.moves.find((one) => one.id === row.id);
    const place = move && placeOf({ ...row, start: move.start, finish: move.finish }, axis);
    return place ? { x: place.x, right: place.right, label: "" } : null;
  }

  /** The keys of the schedule alone: to move, date, link and explain a bar, and to zoom. */
  function key(event: React.KeyboardEvent, { id, cell }: At, index: number): boolean {
    const row = byId.get(id)?.row;
    if (!row) return false;
    const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (event.altKey) {
      if (step && canEdit && !row.is_summary) tell(row, changeByKey(row, step, event.shiftKey, axis));
      return step !== undefined;
    }
    if (event.ctrlKey || event.metaKey) return false;
    if (step === 1 && cell === "bar") scroller.current?.scrollBy({ left: 120 });
    else if (event.key === "Escape") rest();
    else if (event.key === "+" || event.key === "-") choose(event.key === "+" ? "in" : "out");
    else if (columnOf(cell)?.typed && canEdit && !isComputed(row, cell)) return false;
    else if (event.key === "0") fit();
    else if (event.key === "w") tip.show(id, gridWidth);
    else if (event.key === "l" && canEdit) linkByKey(row, index);
    else if (event.key === "d" && canEdit && !row.is_summary && !row.start && !row.finish)
      tell(row, {
        what: "Dated",
        fields: row.kind === "milestone" ? { finish: today } : { start: today, duration: "1 d" },
      });
    else return false;
    return true;
  }

  function rest() {
    setLinking(null);
    tip.hide();
    links.cancel();
  }

  function linkByKey(row: TaskRow, index: number) {
    if (!linking) return setLinking(row.id);
    const from = byId.get(linking)?.row;
    setLinking(null);
    if (from && from.id !== row.id) links.open(from, row, "FS", placeOf(row, axis)?.x ?? left, index * ROW + ROW / 2);
  }

  const seen = useMemo(() => ({ from: left - 200, to: left + width + 200 }), [left, width]);
  const total = grid.virtual.getTotalSize() + HEAD;
  const wide = gridWidth + axis.width;
  const { items } = grid;
  const ground = Math.max(0, Math.min(height, total) - HEAD);
  const firstRow = items[0]?.index ?? 0;
  const whyRow = why && byId.get(why.id)?.row;
  return (
    <div className="flex min-w-0 flex-1 flex-col">
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: the grid handles keys */}
      {/* biome-ignore lint/a11y/noStaticElementInteractions: the grid within takes the focus, and its keys come here */}
      <div
        {...grid.pane}
        className="relative min-h-0 min-w-0 flex-1 overflow-auto"
        onPointerDown={take}
        onPointerMove={tip.move}
        onPointerLeave={tip.hide}
        onScroll={() => why && tip.hide()}
        onClick={links.pick}
      >
        <div style={{ width: wide, height: total, position: "relative" }}>
          {/* the ground is the same at every height, so it need not scroll up and down */}
          <div className="pointer-events-none sticky h-0" style={{ top: HEAD, width: wide }} aria-hidden="true">
            {/* no wider than what is in sight: a picture of years would be painted anew at each scale */}
            <svg
              className="absolute top-0"
              style={{ left: gridWidth + seen.from }}
              viewBox={`${seen.from} 0 ${seen.to - seen.from} ${ground}`}
              width={seen.to - seen.from}
              height={ground}
            >
              <Ground axis={axis} height={ground} seen={seen} today={today} nowX={nowX} />
            </svg>
          </div>
          {/* over the heads of the columns, and no part of the grid */}
          <div className="sticky top-0 left-0 z-30 h-0" style={{ width: gridWidth }}>
            <Scales
              narrow={gridWidth < NARROW}
              scale={scaleOf(pixels)}
              choose={(name) => choose(SCALES[name])}
              fit={fit}
            >
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
              style={{ height: HEAD, width: wide }}
            >
              <ColumnHeads
                columns={columns}
                width={gridWidth}
                linkFrom={(linking && byId.get(linking)?.row.title) || null}
              />
              <AxisHead axis={axis} seen={seen} today={today} />
            </div>
            {/* one pane that stays at the left: a cell of its own for each row would make scrolling slow */}
            <div className="sticky left-0 z-10" style={{ width: gridWidth, height: Math.max(0, total - HEAD) }}>
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
                    folded={folded.has(one.row.id)}
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
          <div className="absolute" style={{ left: gridWidth, top: HEAD, width: axis.width }}>
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
                    ghost={drag || ripple ? ghost(row) : null}
                    inPlan={planned.get(row.id) ?? null}
                    percent={drag?.how === "percent" && drag.id === row.id ? percentAt(row, drag, axis) : null}
                    active={at?.id === row.id && at.cell === "bar"}
                    marked={opened === row.id || linking === row.id}
                    hovered={tip.hovered === row.id}
                    tint={tints?.get(row.id)?.bar}
                  />
                )
              );
            })}
          </div>
          <svg
            className="pointer-events-none absolute z-[5] overflow-visible"
            style={{ left: gridWidth, top: HEAD + firstRow * ROW }}
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
              still={!zooming}
              chosen={choice ? `${choice.from.id} ${choice.to.id} ${choice.was}` : null}
            />
            {drag?.how.startsWith("link") && <NewLink drag={drag} index={ids.indexOf(drag.id)} first={firstRow} />}
          </svg>
          {choice && (
            <LinkForm
              key={`${choice.from.id}${choice.to.id}${choice.was}`}
              choice={choice}
              lag={links.lag()}
              save={(type, lag) => links.save(choice, type, lag)}
              remove={() => links.remove(choice)}
              close={() => links.close(choice.to.id)}
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

function ColumnHeads({ columns, width, linkFrom }: { columns: Column[]; width: number; linkFrom: string | null }) {
  return (
    <>
      <div
        className="sticky left-0 z-10 flex flex-none items-end border-r border-b border-rule-2 bg-sheet pb-1 pl-2 text-[11.5px] text-ink-3"
        style={{ width }}
      >
        <span role="columnheader" tabIndex={-1} className="min-w-0 flex-1 truncate px-1.5">
          {linkFrom ? (
            <span role="status" className="font-semibold text-rose">
              Link from {linkFrom}: go to what waits, press L
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
    </>
  );
}

/** A link that is being drawn. */
function NewLink({ drag, index, first }: { drag: Drag; index: number; first: number }) {
  return (
    <path
      d={`M${drag.from},${(index + 0.5) * ROW}L${drag.x},${drag.y}`}
      transform={`translate(0 ${-first * ROW})`}
      stroke="var(--color-rose)"
      strokeWidth="2"
    />
  );
}
