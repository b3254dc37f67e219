/** A task on the board: a slip that is dragged, walked to by the arrow keys, and opened. */
import { useSortable } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { memo } from "react";
import type { TaskRow } from "../../data/api";
import type { usePeople } from "../../data/hooks";
import { Facet } from "../../parts/facet";
import { sayDay, sayFull, sayTaskDue, times } from "../../parts/format";
import { Marks } from "../../parts/marks";
import { Sign } from "../../parts/sign";
import { TaskCounts } from "../../parts/task-counts";
import { Tile } from "../../parts/tile";
import { TimerButton } from "../../time/timer-button";
import type { Tint } from "../../views/view";
import { kindName } from "../custom-fields";
import type { LensProps } from "../lens";

export interface SlipProps {
  tints: LensProps["tints"];
  project: LensProps["project"];
  people: ReturnType<typeof usePeople>["byId"];
  now: Date;
  canEdit: boolean;
  /** whether time can be entered on a task */
  mayEnter: (row: TaskRow) => boolean;
  opened: string | null;
  openTask: (id: string) => void;
  onKey: (event: React.KeyboardEvent, row: TaskRow) => void;
}

export const Slip = memo(function Slip({
  row,
  cell,
  isOpen,
  marked,
  project,
  tints,
  people,
  now,
  canEdit,
  mayEnter,
  openTask,
  onKey,
}: { row: TaskRow; cell: string; isOpen: boolean; marked: boolean } & SlipProps) {
  const times = mayEnter(row);
  const sort = useSortable({ id: row.id, data: { cell }, disabled: !canEdit });
  return (
    <div
      role="listitem"
      ref={sort.setNodeRef}
      style={{ transform: CSS.Translate.toString(sort.transform) }}
      className={`group/slip relative ${sort.isDragging ? "opacity-40" : ""}`}
    >
      {marked && <div className="mb-1 h-[3px] bg-rose" />}
      <div
        role="button"
        tabIndex={0}
        data-slip={row.id}
        {...sort.listeners}
        aria-keyshortcuts="Alt+ArrowLeft Alt+ArrowRight Alt+ArrowUp Alt+ArrowDown"
        onKeyDown={(event) => onKey(event, row)}
        onClick={() => openTask(row.id)}
        className="mb-[7px] focus-visible:outline-offset-2"
      >
        <SlipFace
          row={row}
          project={project}
          people={people}
          now={now}
          tint={tints?.get(row.id)?.slip}
          className={isOpen ? "border-rose" : ""}
        />
      </div>
      {times && (
        <TimerButton
          task={row}
          tabIndex={-1}
          className="invisible absolute top-1 right-2.5 bg-sheet p-1 text-ink-2 group-focus-within/slip:visible group-hover/slip:visible hover:text-rose"
        />
      )}
    </div>
  );
});

export function SlipFace({
  row,
  project,
  tint,
  people,
  now,
  className = "",
}: {
  row: TaskRow;
  project: SlipProps["project"];
  tint?: Tint;
  people: SlipProps["people"];
  now: Date;
  className?: string;
}) {
  const date = row.state_class === "finished" ? row.actual_finish : row.finish;
  return (
    <div
      className={`cut-10 slip-edge border border-rule-2 bg-sheet px-2 pt-[7px] pb-1.5 ${className}`}
      style={
        tint && {
          backgroundColor: `color-mix(in srgb, var(--color-${tint.colour}) 15%, var(--color-sheet))`,
          borderLeft: `3px solid var(--color-${tint.colour})`,
        }
      }
      title={tint ? `Tint: ${tint.name}` : undefined}
    >
      <div className="flex gap-[7px]">
        <span className="pt-px">
          <Facet row={row} size={15} />
        </span>
        <span className="min-w-0 pr-1.5 leading-[1.28] font-[550] break-words">{row.title}</span>
      </div>
      <div className="mt-[5px] flex flex-wrap items-center gap-x-[7px] text-[11.5px] whitespace-nowrap text-ink-2">
        <span title={sayFull(date)} className={row.late_days ? "font-semibold text-ember" : ""}>
          {date &&
            (row.late_days
              ? `${sayDay(date, now)}, ${row.late_days} d late`
              : row.state_class === "finished"
                ? sayDay(date, now)
                : `due ${sayTaskDue({ ...row, finish: date }, now)}`)}
        </span>
        {row.priority === "must" && <span>must</span>}
        {row.kind !== "task" && <span>{kindName(project, row.kind)}</span>}
        {tint && <Sign shape={tint.sign} colour={tint.colour} size={10} />}
        <Marks row={row} project={project} />
        {row.pushes > 1 && <span>pushed {times(row.pushes)}</span>}
        <TaskCounts row={row} />
        <span className="ml-auto">
          <Tile person={people.get(row.owner_id ?? "")} size={19} />
        </span>
      </div>
      {row.held && (
        <div className="hatched -mx-2 mt-1.5 -mb-1.5 px-2 py-[3px] text-[11.5px] font-[550]">Held: {row.held}</div>
      )}
    </div>
  );
}
