/** One row of the schedule: the task and its columns at the left, its bar at the right. */
import { memo } from "react";
import type { TaskRow } from "../../data/api";
import type { OutlineRow } from "../../data/rows";
import { Facet } from "../../parts/facet";
import { sayFull } from "../../parts/say";
import { type Column, type ColumnId, saySlack } from "../outline/columns";
import { type CellProps, OtherCell } from "../outline/row";
import type { Axis } from "./axis";
import { Bar, type Ghost, pinned } from "./bar";
import { placeOf, ROW } from "./geometry";

interface Props extends Omit<CellProps, "row" | "active"> {
  one: OutlineRow & { dim: boolean };
  index: number;
  columns: Column[];
  grid: number;
  axis: Axis;
  seenFrom: number;
  ghost: Ghost | null;
  percent: number | null;
  active: ColumnId | "bar" | null;
  opened: boolean;
  linking: boolean;
  hovered: boolean;
}

export const ScheduleRow = memo(function ScheduleRow(props: Props) {
  const { one, columns, grid, axis, opened, active, canEdit, actions, linking } = props;
  const { row } = one;
  const cells: CellProps = { ...props, row, active: active === "bar" ? null : active };
  const ground = opened || linking ? "bg-rose-soft" : "bg-sheet";
  return (
    <div
      role="row"
      tabIndex={-1}
      aria-rowindex={props.index + 2}
      aria-level={one.depth + 1}
      data-row={row.id}
      className="absolute left-0 flex"
      style={{ top: props.index * ROW, height: ROW, width: grid + axis.width }}
    >
      <div
        className={`sticky left-0 ${props.editing === null ? "z-10" : "z-30"} flex flex-none items-center border-r border-b border-r-rule-2 border-b-rule/60 pl-2 ${ground} ${
          row.is_summary ? "font-semibold" : ""
        } ${one.dim ? "text-ink-3" : ""}`}
        style={{ width: grid }}
      >
        {/* biome-ignore lint/a11y/useKeyWithClickEvents: the grid handles keys */}
        <div
          role="gridcell"
          tabIndex={active === "title" ? 0 : -1}
          data-cell="title"
          className="flex h-full min-w-0 flex-1 cursor-pointer items-center gap-2 px-1.5 outline-offset-[-2px]"
          style={{ paddingLeft: 6 + one.depth * 16 }}
          onClick={() => {
            actions.focus(row.id, "title");
            actions.open(row);
          }}
        >
          <Facet row={row} size={15} />
          <span className="truncate" title={row.title}>
            {row.title}
          </span>
          <span className="ml-auto flex-none pl-1 text-[11px] font-normal text-ink-3">{row.number || ""}</span>
        </div>
        {columns.map((column) => (
          <OtherCell key={column.id} {...cells} column={column} />
        ))}
      </div>
      <div
        role="gridcell"
        tabIndex={active === "bar" ? 0 : -1}
        data-cell="bar"
        aria-label={barWords(row, props.project.day_minutes)}
        className={`relative flex-none border-b border-rule/60 outline-offset-[-2px] ${
          opened || linking ? "bg-rose-soft/50" : ""
        } ${active ? "" : ""}`}
        style={{ width: axis.width }}
      >
        <Bar
          row={row}
          axis={axis}
          place={placeOf(row, axis)}
          canEdit={canEdit}
          seenFrom={props.seenFrom}
          ghost={props.ghost}
          percent={props.percent}
          hot={props.hovered || active === "bar"}
        />
      </div>
    </div>
  );
});

/** What a bar shows, for those who hear it. */
function barWords(row: TaskRow, dayMinutes: number): string {
  if (!row.start && !row.finish) return `${row.title}: no dates. Press D to date it`;
  const slack = saySlack(row, dayMinutes);
  const name = row.held_reason ? `${row.title} · held: ${row.held_reason}` : row.title;
  return [
    `${name}: ${row.start ? `from ${sayFull(row.start)} ` : ""}to ${sayFull(row.finish)}`,
    `${row.percent} % done`,
    row.critical ? "critical" : slack && `slack ${slack}`,
    pinned(row) && "pinned",
    row.late_days > 0 && "late",
    row.waits && `waits for ${row.waits}`,
  ]
    .filter(Boolean)
    .join(", ");
}
