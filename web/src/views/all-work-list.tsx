/** The list of all work: a keyboard grid that is read, its tasks opened. */
import { parseISO } from "date-fns";
import { useMemo, useRef } from "react";
import type { Schemas } from "../data/api";
import { useMe } from "../data/hooks";
import { Empty } from "../parts/basics";
import { Facet } from "../parts/facet";
import { count, sayDay } from "../parts/format";
import { comeBy, type Grid, useGrid } from "../parts/grid/use-grid";
import { Sign } from "../parts/sign";
import { TaskCounts } from "../parts/task-counts";
import { type RowTints, tintStyle } from "../parts/tint";
import { useWide } from "../parts/use-wide";
import { type Column, keyOf } from "../tasks/outline/columns";
import { FootRow, GroupHead } from "../tasks/outline/groups";
import type { ViewGroup } from "./view";

export type Item = Schemas["AcrossRowOut"];
export type Answer = Schemas["AcrossOut"];

/** A line of the list: the head of a group, or a task. */
export type Line = { head: ViewGroup; outer: boolean } | { head?: undefined; item: Item };

const ROW = 29;
const HEAD = 27;

export function AllWorkList({
  answer,
  lines,
  columns,
  tints,
  opened,
  open,
  chooser,
}: {
  answer: Answer;
  lines: Line[];
  columns: Column[];
  tints: Map<string, RowTints> | undefined;
  opened: string | null;
  open: (id: string, code: string) => void;
  chooser: React.ReactNode;
}) {
  const scroller = useRef<HTMLDivElement>(null);
  const places = useMemo(
    () => new Map(lines.flatMap((line, index) => (line.head ? [] : [[line.item.row.id, { index, line }]]))),
    [lines],
  );
  const ids = useMemo(() => [...places.keys()], [places]);
  const grid = useGrid({
    scroller,
    ids,
    cells: columns.map((one) => one.id),
    lines: { count: lines.length, of: (id) => places.get(id)?.index ?? -1 },
    rowHeight: ROW,
    headHeight: HEAD,
    footHeight: Object.keys(answer.feet).length ? 34 : 12,
    open: (id) => {
      const item = places.get(id)?.line.item;
      if (item) open(id, item.code);
    },
  });
  const wide = columns.slice(1).reduce((sum, one) => sum + one.width, useWide() ? 360 : 190);
  return (
    <div {...grid.pane} className="min-w-0 flex-1 overflow-auto">
      <div
        role="treegrid"
        aria-label="Tasks"
        aria-readonly="true"
        aria-rowcount={lines.length + 1}
        style={{ minWidth: wide }}
      >
        <div
          role="row"
          tabIndex={-1}
          aria-rowindex={1}
          className="sticky top-0 z-10 flex h-[27px] items-center border-b border-rule-2 bg-band pl-1 text-[12px] text-ink-2"
        >
          {columns.map((column, index) => (
            <span
              key={column.id}
              role="columnheader"
              tabIndex={-1}
              className={
                index ? `flex-none truncate px-1.5 ${column.right ? "text-right" : ""}` : "min-w-0 flex-1 pl-[22px]"
              }
              style={index ? { width: column.width } : undefined}
            >
              {column.head}
            </span>
          ))}
          <span role="columnheader" tabIndex={-1} aria-label="Columns" className="w-9 flex-none">
            {chooser}
          </span>
        </div>
        <div className="relative" style={{ height: grid.virtual.getTotalSize() }}>
          {grid.items.map((at) => {
            const line = lines[at.index];
            if (!line) return null;
            return (
              <div
                key={line.head ? `head ${line.head.path.join(" ")} ${line.outer}` : line.item.row.id}
                className="absolute top-0 left-0 w-full"
                style={{ transform: `translateY(${at.start - HEAD}px)` }}
              >
                {line.head ? (
                  <GroupHead group={line.head} outer={line.outer} columns={columns} />
                ) : (
                  <TaskLine
                    item={line.item}
                    index={at.index}
                    columns={columns}
                    words={answer.words}
                    tints={tints?.get(line.item.row.id)}
                    here={opened === line.item.row.id}
                    active={grid.at?.id === line.item.row.id ? grid.at.cell : null}
                    focus={grid.act.focus}
                    open={open}
                  />
                )}
              </div>
            );
          })}
        </div>
      </div>
      {!lines.length && (
        <Empty title="Nothing is left by the sentence above">
          <p>Take a clause out of it, or choose another word.</p>
        </Empty>
      )}
      {answer.shown > answer.rows.length && (
        <p className="px-6 py-3 text-ink-2">
          These are the first {answer.rows.length.toLocaleString("en")} of {count(answer.shown, "task")}. Narrow the
          sentence to come to the others; groups and sums count all.
        </p>
      )}
      {Object.keys(answer.feet).length > 0 && (
        <div className="sticky bottom-0 z-10" style={{ minWidth: wide }}>
          <FootRow feet={answer.feet} columns={columns} />
        </div>
      )}
    </div>
  );
}

interface TaskLineProps {
  item: Item;
  index: number;
  columns: Column[];
  words: Answer["words"];
  tints: RowTints | undefined;
  here: boolean;
  /** the cell with the focus */
  active: string | null;
  focus: Grid["act"]["focus"];
  open: (id: string, code: string) => void;
}

function TaskLine({ item, index, columns, words, tints, here, active, focus, open }: TaskLineProps) {
  const { now } = useMe();
  const { row, code } = item;
  const late = row.late_days > 0;
  return (
    <div
      role="row"
      tabIndex={-1}
      aria-level={1}
      aria-rowindex={index + 2}
      data-row={row.id}
      className={`flex h-[29px] items-center border-b border-rule/60 pl-1 ${here ? "bg-rose-soft/60 shadow-[inset_3px_0_0_var(--color-rose)]" : "hover:bg-paper"}`}
      style={here ? undefined : tintStyle(tints?.row)}
      title={tints?.row ? `Tint: ${tints.row.name}` : undefined}
    >
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: the grid handles keys */}
      <span
        role="gridcell"
        tabIndex={active === "title" ? 0 : -1}
        data-cell="title"
        className="@container flex h-full min-w-0 flex-1 cursor-pointer items-center gap-1.5 pl-1 outline-offset-[-2px]"
        onClick={() => {
          focus(row.id, "title");
          open(row.id, code);
        }}
      >
        <Facet row={row} size={15} />
        {tints?.row && <Sign shape={tints.row.sign} colour={tints.row.colour} />}
        <span data-title className="min-w-0 truncate @[15rem]:shrink-[0.2] hover:underline">
          {row.title}
        </span>
        <span className="hidden min-w-0 items-center gap-2 overflow-hidden text-[11.5px] whitespace-nowrap text-ink-2 @[15rem]:flex">
          {row.held && !columns.some((one) => one.id === "held_by") && (
            <span className="hatched min-w-0 truncate px-1">held: {row.held}</span>
          )}
          <TaskCounts row={row} />
          <span>
            {code} {row.number}
          </span>
        </span>
      </span>
      {columns.slice(1).map((column) => {
        const key = keyOf(column);
        const tint = tints?.[`cell:${key}`];
        const said = words[key]?.[row.id] ?? "";
        return (
          // biome-ignore lint/a11y/useKeyWithClickEvents: the grid handles keys
          <span
            key={column.id}
            role="gridcell"
            tabIndex={active === column.id ? 0 : -1}
            data-cell={column.id}
            className={`flex h-full flex-none items-center px-1.5 outline-offset-[-2px] ${column.right ? "justify-end" : ""} ${late && key === "finish" ? "font-semibold text-ember" : ""}`}
            style={{ width: column.width, ...tintStyle(tint) }}
            title={tint ? `Tint: ${tint.name}` : said}
            onClick={(event) => focus(row.id, column.id, comeBy(event))}
          >
            <span className="truncate">
              {/^\d{4}-\d\d-\d\d$/.test(said) ? sayDay(parseISO(said).toISOString(), now) : said}
            </span>
          </span>
        );
      })}
      <span className="w-9 flex-none" />
    </div>
  );
}
