/** One row of the schedule: the task and its columns at the left, its bar at the right. */
import { memo, useMemo } from "react";
import type { Schemas, TaskRow } from "../../data/api";
import { Facet } from "../../parts/facet";
import { sayFull, saySlack } from "../../parts/format";
import { Marks } from "../../parts/marks";
import { Sign } from "../../parts/sign";
import { tintStyle } from "../../parts/tint";
import type { Column } from "../../tasks/outline/columns";
import { type CellProps, Fold, OtherCell } from "../../tasks/outline/row";
import type { OutlineRow } from "../../tasks/rows";
import type { Tint } from "../../views/view";
import type { Axis } from "./axis";
import { Bar, type Ghost, pinned } from "./bar";
import { placeOf, ROW } from "./geometry";

interface Props extends Omit<CellProps, "row"> {
  one: OutlineRow & { dim: boolean; hasBelow: boolean };
  folded: boolean;
  index: number;
  columns: Column[];
  opened: boolean;
  linking: boolean;
}

/** The columns of a row. Its bar is a cell of the same row, but stands in the pane at the right. */
export const ScheduleRow = memo(function ScheduleRow(props: Props) {
  const { one, columns, opened, active, actions, linking } = props;
  const { row } = one;
  const tint = props.tints?.row;
  return (
    <div
      role="row"
      tabIndex={-1}
      aria-rowindex={props.index + 2}
      aria-level={one.depth + 1}
      aria-expanded={one.hasBelow ? !props.folded : undefined}
      aria-owns={`bar-${row.id}`}
      data-row={row.id}
      className={`absolute left-0 flex w-full items-center border-r border-b border-r-rule-2 border-b-rule/60 pl-2 ${
        opened || linking ? "bg-rose-soft" : "bg-sheet"
      } ${row.is_summary ? "font-semibold" : ""} ${one.dim ? "text-ink-3" : ""} ${props.editing === null ? "" : "z-20"}`}
      style={{ top: props.index * ROW, height: ROW }}
      title={tint ? `Tint: ${tint.name}` : undefined}
    >
      {tint && !opened && <span className="absolute inset-0" style={tintStyle(tint)} />}
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
        <Fold one={one} folded={props.folded} fold={actions.fold} />
        <Facet row={row} size={15} />
        <span className="truncate" title={row.title}>
          {row.title}
        </span>
        {tint && <Sign shape={tint.sign} colour={tint.colour} size={10} />}
        <Marks row={row} project={props.project} />
        <span className="ml-auto flex-none pl-1 text-[11px] font-normal text-ink-3">{row.number || ""}</span>
      </div>
      {columns.map((column) => (
        <OtherCell key={column.id} {...props} row={row} column={column} />
      ))}
    </div>
  );
});

interface BarProps {
  row: TaskRow;
  index: number;
  axis: Axis;
  dayMinutes: number;
  canEdit: boolean;
  seenFrom: number;
  ghost: Ghost | null;
  /** in a draft: where it stands in the plan */
  inPlan: Schemas["DifferenceOut"] | null;
  percent: number | null;
  active: boolean;
  /** its folio is open, or a link begins at it */
  marked: boolean;
  hovered: boolean;
  tint: Tint | undefined;
}

/** The bar of a row, in the pane at the right. */
export const ScheduleBar = memo(function ScheduleBar(props: BarProps) {
  const { row, axis, active, dayMinutes } = props;
  const words = useMemo(() => barWords(row, dayMinutes), [row, dayMinutes]); // the same at every scale
  return (
    <div data-row={row.id} className="absolute left-0 w-full" style={{ top: props.index * ROW, height: ROW }}>
      <div
        id={`bar-${row.id}`}
        role="gridcell"
        tabIndex={active ? 0 : -1}
        data-cell="bar"
        aria-label={words}
        className={`relative h-full border-b border-rule/60 outline-offset-[-2px] ${props.marked ? "bg-rose-soft/50" : ""}`}
      >
        <Bar
          row={row}
          axis={axis}
          place={placeOf(row, axis)}
          canEdit={props.canEdit}
          seenFrom={props.seenFrom}
          ghost={props.ghost}
          inPlan={props.inPlan}
          percent={props.percent}
          hot={props.hovered || active}
          tint={props.tint}
        />
      </div>
    </div>
  );
});

/** What a bar shows, for those who hear it. */
function barWords(row: TaskRow, dayMinutes: number): string {
  if (!row.start && !row.finish) return `${row.title}: no dates. Press D to date it`;
  const slack = saySlack(row, dayMinutes);
  const name = row.held ? `${row.title} · held: ${row.held}` : row.title;
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
