/** One bar of the schedule, with what the pointer can take hold of. */
import { memo } from "react";
import type { Schemas, TaskRow } from "../../data/api";
import type { Tint } from "../../views/view";
import type { Axis } from "./axis";
import { BEYOND_END, insideEnd, type Place, placeOf, ROW } from "./geometry";
import { textWidth } from "./text-width";

export type Hold = "move" | "stretch" | "percent" | "link-start" | "link-finish";

export interface Ghost {
  x: number;
  right: number;
  label: string;
}

const tone = (row: TaskRow) =>
  row.late_days
    ? "var(--color-ember)"
    : row.state_class === "dropped"
      ? "var(--color-rule-2)"
      : row.critical
        ? "var(--color-ink)"
        : row.health === "strained"
          ? "var(--color-ochre)"
          : "var(--color-ink-3)";

export const Bar = memo(function Bar({
  row,
  axis,
  place,
  canEdit,
  seenFrom,
  ghost,
  inPlan,
  percent,
  hot,
  tint,
}: {
  row: TaskRow;
  axis: Axis;
  place: Place | null;
  canEdit: boolean;
  /** what lies left of this is behind the grid */
  seenFrom: number;
  ghost: Ghost | null;
  inPlan: Schemas["DifferenceOut"] | null;
  /** while percent done is dragged: what it would be */
  percent: number | null;
  /** under the pointer, or where the keyboard is: only then there is something to take hold of but the bar itself */
  hot: boolean;
  tint?: Tint;
}) {
  const svg = "pointer-events-none absolute top-0 left-0 overflow-visible";
  if (!place)
    return ghost ? (
      <svg className={svg} width={1} height={ROW} aria-hidden="true">
        <GhostBar ghost={ghost} point={row.kind === "milestone"} />
      </svg>
    ) : null;
  const { x, right, half } = place;
  const milestone = row.kind === "milestone" && !row.is_summary;
  const deadline = row.deadline ? axis.x(row.deadline) : null;
  const open = canEdit && !row.is_summary;
  const stretches = open && !milestone && !half;
  const slack = row.late_finish && !row.is_summary ? axis.x(row.late_finish) : null;
  const name = nameBeside(row, place, { deadline, slack, seenFrom, milestone });
  return (
    <>
      <svg className={svg} width={1} height={ROW} aria-hidden="true">
        {tint && (
          <rect
            x={x - (milestone ? 11 : 4)}
            y="5"
            width={right - x + (milestone ? 22 : 8)}
            height="19"
            fill={`var(--color-${tint.colour})`}
            opacity=".26"
          />
        )}
        {inPlan && <InPlan row={row} inPlan={inPlan} axis={axis} />}
        <Tail row={row} place={place} slack={slack} behind={name} />
        <Agreed row={row} axis={axis} />
        {milestone ? (
          <Point row={row} x={x} />
        ) : row.is_summary ? (
          <Bracket row={row} place={place} />
        ) : (
          <Plain row={row} place={place} percent={percent ?? row.percent} />
        )}
        {deadline !== null && <Flag x={deadline} broken={row.breaks_deadline} />}
        {!ghost && name && <Label name={name} milestone={milestone} />}
        {ghost && <GhostBar ghost={ghost} point={milestone} />}
      </svg>
      {/* what the pointer takes hold of lies over the drawing */}
      <div
        data-bar={row.id}
        data-hold="move"
        data-stretches={stretches ? "" : undefined}
        title={tint ? `Tint: ${tint.name}` : undefined}
        className={`absolute top-1 h-[21px] ${open ? "cursor-grab touch-none" : "cursor-pointer"}`}
        style={{ left: milestone ? x - 8 : x, width: milestone ? 16 : right - x }}
      />
      {hot && stretches && (
        <>
          {right - x > 26 && row.state_class !== "dropped" && (
            <div
              data-percent={row.id}
              data-hold="percent"
              title={`${row.percent} % done: drag to change`}
              className="absolute top-[17px] h-[9px] w-[9px] cursor-col-resize touch-none bg-ink [clip-path:polygon(50%_0,100%_100%,0_100%)]"
              style={{ left: x + ((right - x) * (percent ?? row.percent)) / 100 - 4.5 }}
            />
          )}
          <div
            data-stretch={row.id}
            data-hold="stretch"
            className="absolute top-1 z-[6] h-[21px] cursor-ew-resize touch-none"
            style={{ left: right - insideEnd(right - x), width: insideEnd(right - x) + BEYOND_END }}
          />
        </>
      )}
      {hot && canEdit && !half && (
        <>
          <Knob row={row} end="start" left={(milestone ? x - 8 : x) - 13} />
          <Knob row={row} end="finish" left={(milestone ? x + 8 : right) + 5} />
        </>
      )}
    </>
  );
});

/** The end from which a link is drawn to another task. */
function Knob({ row, end, left }: { row: TaskRow; end: "start" | "finish"; left: number }) {
  return (
    <div
      data-hold={`link-${end}`}
      data-knob={`${row.id} ${end}`}
      title={`Drag to the task that waits for the ${end} of “${row.title}”`}
      className="absolute top-[10.5px] z-[6] size-2 cursor-crosshair touch-none border-[1.5px] border-rose bg-sheet"
      style={{ left }}
    />
  );
}

function Plain({ row, place, percent }: { row: TaskRow; place: Place; percent: number }) {
  const { x, right, half } = place;
  const width = right - x;
  const colour = tone(row);
  return (
    <>
      <rect
        x={x}
        y="9.5"
        width={width}
        height="10"
        fill={row.critical && !row.late_days ? "var(--color-sheet)" : "var(--color-band)"}
        stroke={colour}
        strokeWidth={row.critical ? 1.8 : 1}
        strokeDasharray={half ? "3 2" : undefined}
      />
      <rect x={x} y="9.5" width={(width * percent) / 100} height="10" fill={colour} />
      {row.held && (
        <path d={`M${x + width / 2 - 3},6v17M${x + width / 2 + 3},6v17`} stroke="var(--color-ember)" strokeWidth="2" />
      )}
      {pinned(row) && <Pin x={row.constraint_type === "must_finish" ? right : x} />}
    </>
  );
}

export const pinned = (row: TaskRow) => row.constraint_type === "must_start" || row.constraint_type === "must_finish";

/** The sign of a date that holds a task in place. */
function Pin({ x }: { x: number }) {
  return (
    <g>
      <circle cx={x} cy="9" r="4.2" fill="var(--color-sheet)" stroke="var(--color-ink)" strokeWidth="1.3" />
      <circle cx={x} cy="9" r="1.4" fill="var(--color-ink)" />
    </g>
  );
}

function Point({ row, x }: { row: TaskRow; x: number }) {
  const late = row.late_days > 0 && row.state_class !== "finished";
  return (
    <>
      <path
        d={`M${x},7.5l7,7-7,7-7-7z`}
        fill={
          late
            ? "var(--color-ember)"
            : row.critical || row.state_class === "finished"
              ? "var(--color-ink)"
              : "var(--color-ink-3)"
        }
      />
      {pinned(row) && <Pin x={x} />}
    </>
  );
}

function Bracket({ row, place }: { row: TaskRow; place: Place }) {
  const width = place.right - place.x;
  return (
    <>
      <path d={`M${place.x},19.5v-7h${width}v7`} fill="none" stroke="var(--color-ink-2)" strokeWidth="2.4" />
      <rect x={place.x} y="11.2" width={(width * row.percent) / 100} height="4" fill="var(--color-ink)" />
    </>
  );
}

/** Slack: a dotted tail after the bar, or after its name, that ends in a stop. */
function Tail({
  row,
  place,
  slack,
  behind,
}: {
  row: TaskRow;
  place: Place;
  slack: number | null;
  behind: NameBeside | null;
}) {
  if (slack === null || slack - place.right < 4) return null;
  const bar = place.right + (row.kind === "milestone" ? 5 : 1);
  const from = behind && behind.x < slack ? behind.end + 5 : bar;
  return (
    <g stroke="var(--color-ink-3)">
      {slack > from && <path d={`M${from},14.5H${slack}`} strokeDasharray="1.5 3" strokeWidth="1.4" />}
      <path d={`M${slack},10.5v8`} strokeWidth="1.3" />
    </g>
  );
}

/** Where it was agreed that a task stands: a thin line under the bar. */
function Agreed({ row, axis }: { row: TaskRow; axis: Axis }) {
  const from = row.agreed_start ?? row.agreed_finish;
  const to = row.agreed_finish ?? row.agreed_start;
  if (!from || !to || (row.agreed_start === row.start && row.agreed_finish === row.finish)) return null;
  const x = axis.x(from);
  const end = axis.x(to);
  if (row.kind === "milestone" && !row.is_summary)
    return (
      <path d={`M${end},18.5l4.5,4.5-4.5,4.5-4.5-4.5z`} fill="none" stroke="var(--color-slate)" strokeWidth="1.2" />
    );
  return <rect x={x} y="22.5" width={Math.max(3, end - x)} height="2.5" fill="var(--color-slate)" />;
}

/** In a draft: where the plan has the task, broken and hollow. */
function InPlan({ row, inPlan, axis }: { row: TaskRow; inPlan: Schemas["DifferenceOut"]; axis: Axis }) {
  const place = placeOf({ ...row, start: inPlan.start_before, finish: inPlan.finish_before }, axis);
  if (!place) return null;
  const look = { fill: "none", stroke: "var(--color-rose)", strokeWidth: 1.2, strokeDasharray: "3 2.5" };
  if (row.kind === "milestone" && !row.is_summary) return <path d={`M${place.x},7.5l7,7-7,7-7-7z`} {...look} />;
  return <rect x={place.x} y="6.5" width={place.right - place.x} height="16" {...look} />;
}

/** A deadline: a hollow flag. */
function Flag({ x, broken }: { x: number; broken: boolean }) {
  return (
    <path
      d={`M${x},24V6h8l-2.5,3.5L${x + 8},13H${x}`}
      fill="none"
      stroke={broken ? "var(--color-ember)" : "var(--color-ink-2)"}
      strokeWidth="1.3"
    />
  );
}

interface NameBeside {
  text: string;
  x: number;
  end: number;
}

/** The name to the right of a bar, and where it stands: clear of a flag, and behind the stop of slack that is too short
 * to reach past it. */
function nameBeside(
  row: TaskRow,
  place: Place,
  at: { deadline: number | null; slack: number | null; seenFrom: number; milestone: boolean },
): NameBeside | null {
  const { deadline, slack, seenFrom, milestone } = at;
  if (row.is_summary || place.right <= seenFrom || (!milestone && place.right - place.x >= 260)) return null;
  const text = row.held ? `${row.title} · held: ${row.held}` : row.title;
  const width = textWidth(text, 11, milestone ? 600 : 400);
  let x = place.right + (milestone ? 17 : 9);
  const end = () => x + width;
  if (deadline !== null && deadline > place.right - 14 && deadline < end() + 6) x = Math.max(x, deadline + 17);
  if (slack !== null && slack - place.right >= 4 && slack < end() + 14) x = Math.max(x, slack + 6);
  if (deadline !== null && deadline >= x - 10 && deadline < end() + 6) x = deadline + 17;
  return { text, x, end: end() };
}

function Label({ name, milestone }: { name: NameBeside; milestone: boolean }) {
  return (
    <text
      // moved rather than placed: so a zoom need not lay the letters out again
      transform={`translate(${name.x} 18.5)`}
      fontSize="11"
      fill="var(--color-ink-2)"
      fontWeight={milestone ? 600 : 400}
    >
      {name.text}
    </text>
  );
}

function GhostBar({ ghost, point }: { ghost: Ghost; point: boolean }) {
  return (
    <>
      {point ? (
        <path d={`M${ghost.x},7.5l7,7-7,7-7-7z`} fill="var(--color-rose)" opacity=".8" />
      ) : (
        <rect
          x={ghost.x}
          y="9.5"
          width={Math.max(3, ghost.right - ghost.x)}
          height="10"
          fill="var(--color-rose)"
          opacity=".8"
        />
      )}
      {ghost.label && (
        <text
          x={ghost.right + (point ? 12 : 8)}
          y="18.5"
          fontSize="11"
          fontWeight="650"
          fill="var(--color-rose)"
          stroke="var(--color-sheet)"
          strokeWidth="3"
          paintOrder="stroke"
        >
          {ghost.label}
        </text>
      )}
    </>
  );
}
