/** The board of one workflow: its backlog, the heads of its columns, and its lanes. */
import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import {
  horizontalListSortingStrategy,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
} from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { ChevronsLeftRight, ChevronsRightLeft } from "lucide-react";
import { memo } from "react";
import type { TaskRow } from "../data/api";
import { orTell } from "../data/notes";
import { IconButton } from "../parts/basics";
import type { OutlineRow } from "../tasks/rows";
import type { Adding } from "./add-line";
import { AddPeriod, PeriodHead } from "./backlog";
import { type Place, useColumns } from "./board";
import { CellBox, FIRST_SHOWN } from "./cell";
import { AddHead, type HeadProps, StageHead } from "./heads";
import { AddLane, LaneHead } from "./lanes";
import type { Cell, Lane, Shape, Stage, Way } from "./shape";
import type { SlipProps } from "./slip";
import { WayBar } from "./way-bar";

export const LANE = 128;
export const BACKLOG = 220;
const LEAST_COLUMN = 216;
const FOLDED = 40;
const ADD = 110;

/** Columns share the room as long as each has its least width; then as many as fit are whole, and the rest is scrolled to. */
export function columnWidth(room: number, columns: number): number {
  const whole = Math.max(1, Math.min(columns, Math.floor(room / LEAST_COLUMN)));
  return Math.max(LEAST_COLUMN, Math.floor(room / whole));
}

export interface WayProps extends Omit<HeadProps, "way" | "places"> {
  way: Way;
  shape: Shape;
  places: Map<string, Place>;
  /** there are several */
  among: boolean;
  folded: Set<string>;
  fold: (id: string) => void;
  /** of the whole board, in its own pixels */
  width: number;
  more: Record<string, number>;
  showMore: (cell: string) => void;
  slip: SlipProps;
  adding: Adding | null;
  outline: OutlineRow[];
}

const NONE: TaskRow[] = [];

export const WayBoard = memo(function WayBoard(props: WayProps) {
  const { project, way, shape, places, among, folded, fold, manages, arranging, width, outline } = props;
  const isFolded = folded.has(`way:${way.id ?? ""}`);
  const { named } = way;
  const backlog = way.backlog.length > 0 || (arranging && manages);
  const backlogWidth = !backlog ? 0 : folded.has(`backlog:${way.id ?? ""}`) ? FOLDED : BACKLOG;
  const narrow = way.stages.filter((one) => folded.has(one.head.id)).reduce((sum, one) => sum + one.steps.length, 0);
  const room = width - (named ? LANE : 0) - backlogWidth - narrow * FOLDED - (arranging ? ADD : 0);
  const wide = columnWidth(room, Math.max(1, way.states.length - narrow));
  const columns = way.stages.flatMap((one) => one.steps.map(() => (folded.has(one.head.id) ? FOLDED : wide)));
  const template = [
    ...(backlog ? [backlogWidth] : []),
    ...(named ? [LANE] : []),
    ...columns,
    ...(arranging ? [ADD] : []),
  ].map((one) => `${one}px`);
  // heads, lanes, and the line that adds one; a backlog that is longer than these reaches into a row of its own
  const lines = way.lanes.length + (arranging ? 2 : 1);
  const sum = (cells: Cell[]) => cells.reduce((all, one) => all + (shape.slipsIn.get(one.key)?.length ?? 0), 0);
  const total = sum(way.lanes.flatMap((lane) => lane.cells));
  const waiting = sum(way.backlog.map((one) => one.cell));
  return (
    <section aria-label={among ? way.name : undefined}>
      {among && (
        <WayBar
          {...{ project, way, manages, outline, total, waiting }}
          folded={isFolded}
          fold={() => fold(`way:${way.id ?? ""}`)}
        />
      )}
      {!isFolded && (
        <div
          className="grid w-max content-start"
          style={{ gridTemplateColumns: template.join(" "), gridTemplateRows: `repeat(${lines}, auto) 1fr` }}
        >
          {backlog && <Backlog {...props} rows={lines + 1} />}
          {named && (
            <div className="sticky top-0 left-0 z-20 border-r border-b border-r-rule border-b-rule-2 bg-paper" />
          )}
          <Heads {...props} />
          {arranging && <AddHead project={project} way={way} top={0} />}
          {way.lanes.map((lane) => (
            <LaneRow key={lane.id} {...props} lane={lane} named={named} place={places.get(`lane:${lane.id}`)} />
          ))}
          {arranging && (
            <div style={{ gridColumn: `${backlog ? 2 : 1} / -1` }} className="border-b border-rule-2">
              <AddLane project={project} way={way} />
            </div>
          )}
        </div>
      )}
    </section>
  );
});

/** The heads; while the board is arranged they are dragged to other places. */
function Heads(props: WayProps) {
  const { way, project, folded, fold, arranging } = props;
  const columns = useColumns(project);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const heads = way.stages.map((stage) => ({
    stage,
    isFolded: folded.has(stage.head.id),
    fold: () => fold(stage.head.id),
  }));
  if (!arranging)
    return heads.map((one) => (
      <StageHead key={one.stage.head.id} {...props} stage={one.stage} folded={one.isFolded} fold={one.fold} top={0} />
    ));
  const end = ({ active, over }: DragEndEvent) => {
    const stage = way.stages.find((one) => one.head.id === active.id);
    const to = way.stages.findIndex((one) => one.head.id === over?.id);
    const from = way.stages.findIndex((one) => one.head.id === active.id);
    if (!stage || to < 0 || to === from) return;
    const rest = way.stages.filter((one) => one !== stage);
    orTell(columns.edit(stage.head, { after_id: rest[to - 1]?.head.id ?? null }));
  };
  return (
    <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={end}>
      <SortableContext items={way.stages.map((one) => one.head.id)} strategy={horizontalListSortingStrategy}>
        {heads.map((one) => (
          <DraggedHead key={one.stage.head.id} {...props} stage={one.stage} folded={one.isFolded} fold={one.fold} />
        ))}
      </SortableContext>
    </DndContext>
  );
}

function DraggedHead(props: HeadProps & { stage: Stage; folded: boolean; fold: () => void }) {
  const sort = useSortable({ id: props.stage.head.id });
  return (
    <div
      ref={sort.setNodeRef}
      className={`sticky top-0 ${sort.isDragging ? "z-20" : "z-10"} grid bg-paper`}
      style={{
        gridColumn: `span ${props.stage.steps.length}`,
        gridTemplateColumns: "subgrid",
        transform: CSS.Translate.toString(sort.transform),
        transition: sort.transition,
      }}
    >
      <StageHead {...props} top={0} grip={{ ...sort.attributes, ...sort.listeners, ref: sort.setActivatorNodeRef }} />
    </div>
  );
}

const LaneRow = memo(function LaneRow({
  project,
  way,
  shape,
  lane,
  named,
  place,
  folded,
  fold,
  manages,
  arranging,
  more,
  showMore,
  slip,
  adding,
}: WayProps & { lane: Lane; named: boolean; place: Place | undefined }) {
  const total = lane.cells.reduce((sum, cell) => sum + (shape.slipsIn.get(cell.key)?.length ?? 0), 0);
  const empty = total === 0 && named;
  const isFolded = folded.has(`lane:${lane.id}`);
  const columnOf = new Map(way.stages.flatMap((one) => one.steps.map((step) => [step.id, one.head.id])));
  return (
    <>
      {named && (
        <LaneHead
          {...{ project, way, lane, total, place, manages }}
          folded={isFolded || empty}
          fold={empty ? null : () => fold(`lane:${lane.id}`)}
        />
      )}
      {lane.cells.map((cell) => (
        <CellBox
          key={cell.key}
          cell={cell}
          slips={shape.slipsIn.get(cell.key) ?? NONE}
          span={cell.states.length}
          folded={isFolded || cell.states.every((one) => folded.has(columnOf.get(one) ?? ""))}
          low={empty || isFolded}
          more={more[cell.key] ?? FIRST_SHOWN}
          showMore={showMore}
          slip={slip}
          adding={adding}
        />
      ))}
      {arranging && <div className="border-b border-rule-2" />}
    </>
  );
});

/** The region before the first column, from top to bottom of the board. */
function Backlog({
  project,
  way,
  shape,
  manages,
  arranging,
  more,
  showMore,
  slip,
  adding,
  folded,
  fold,
  rows,
}: WayProps & { rows: number }) {
  const id = `backlog:${way.id ?? ""}`;
  const called = `backlog${project.workflows.length ? ` of ${way.name}` : ""}`;
  if (folded.has(id)) {
    const held = way.backlog.reduce((sum, one) => sum + (shape.slipsIn.get(one.cell.key)?.length ?? 0), 0);
    return (
      <div
        className="border-r-2 border-b border-r-rule-2 border-b-rule-2 bg-band py-2 text-center"
        style={{ gridRow: `1 / span ${rows}`, gridColumn: 1 }}
      >
        <IconButton
          label={`Unfold the ${called}`}
          aria-expanded={false}
          onClick={() => fold(id)}
          className="mx-auto block!"
        >
          <ChevronsLeftRight size={13} className="mx-auto" />
        </IconButton>
        <p className="text-[11.5px] text-ink-2">{held}</p>
        <h2 className="mx-auto mt-1 w-fit text-[12px] [writing-mode:vertical-rl]">Backlog</h2>
      </div>
    );
  }
  return (
    <div
      className="snap-start scroll-ml-0 border-r-2 border-b border-r-rule-2 border-b-rule-2 bg-band"
      style={{ gridRow: `1 / span ${rows}`, gridColumn: 1 }}
      role="group"
      aria-label={`B${called.slice(1)}`}
    >
      <div className="reveals sticky top-0 z-10 flex items-center border-b border-rule bg-band py-1 pr-0.5 pl-2">
        <h2 className="flex-1 py-1 text-[14px]">Backlog</h2>
        <span className="reveal">
          <IconButton label={`Fold the ${called}`} aria-expanded onClick={() => fold(id)} className="size-6!">
            <ChevronsRightLeft size={13} />
          </IconButton>
        </span>
      </div>
      {way.backlog.map(({ period, cell }) => {
        const slips = shape.slipsIn.get(cell.key) ?? NONE;
        return (
          <div key={period.id} className="border-b border-rule">
            <PeriodHead project={project} period={period} slips={slips} manages={manages} />
            <CellBox
              cell={cell}
              slips={slips}
              more={more[cell.key] ?? FIRST_SHOWN}
              showMore={showMore}
              slip={slip}
              adding={adding}
              plain
            />
          </div>
        );
      })}
      {arranging && <AddPeriod project={project} />}
    </div>
  );
}
