/** A task on the board: a slip that is dragged, walked to by the arrow keys, and opened. In three sizes. */
import { memo } from "react";
import type { TaskRow } from "../data/api";
import type { usePeople } from "../data/hooks";
import { Facet } from "../parts/facet";
import { sayDay, sayFull, sayTaskDue, times } from "../parts/format";
import { Marks } from "../parts/marks";
import { Sign } from "../parts/sign";
import { TaskCounts } from "../parts/task-counts";
import { Tile } from "../parts/tile";
import type { Tint } from "../parts/tint";
import { kindName } from "../tasks/custom-fields";
import type { LensProps } from "../tasks/lens";
import { TimerButton } from "../time/timer-button";

export type Size = "small" | "usual" | "large";

export interface SlipProps {
  tints: LensProps["tints"];
  project: LensProps["project"];
  people: ReturnType<typeof usePeople>["byId"];
  now: Date;
  size: Size;
  /** the chosen fields, each with its name and by task its value in words */
  fields: { key: string; name: string; words: Record<string, string> }[];
  /** by task the picture on its slip */
  covers: Record<string, string>;
  /** whether time can be entered on a task */
  mayEnter: (row: TaskRow) => boolean;
  opened: string | null;
  openTask: (id: string) => void;
  onKey: (event: React.KeyboardEvent, row: TaskRow) => void;
}

export const Slip = memo(function Slip({ row, isOpen, ...props }: { row: TaskRow; isOpen: boolean } & SlipProps) {
  const { mayEnter, openTask, onKey, tints } = props;
  return (
    <div role="listitem" className="slip-box reveals relative -mx-1 -mt-1 p-1 pb-0 data-[taken]:opacity-40">
      <div
        role="button"
        tabIndex={0}
        data-slip={row.id}
        aria-keyshortcuts="Alt+ArrowLeft Alt+ArrowRight Alt+ArrowUp Alt+ArrowDown"
        onKeyDown={(event) => onKey(event, row)}
        onClick={() => openTask(row.id)}
        className="mb-[7px] touch-manipulation select-none focus-visible:outline-offset-2 data-[taken]:opacity-40"
      >
        <Face row={row} {...props} tint={tints?.get(row.id)?.slip} className={isOpen ? "border-rose" : ""} />
      </div>
      {mayEnter(row) && (
        <TimerButton
          task={row}
          tabIndex={-1}
          className="reveal absolute top-1 right-2.5 bg-sheet p-1 text-ink-2 hover:text-rose"
        />
      )}
    </div>
  );
});

function Face({
  row,
  project,
  tint,
  people,
  now,
  size,
  fields,
  covers,
  className,
}: SlipProps & { row: TaskRow; tint?: Tint; className: string }) {
  const cover = size === "small" ? undefined : covers[row.id];
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
      {cover && (
        <img
          src={`/api/files/${cover}`}
          alt=""
          loading="lazy"
          decoding="async"
          draggable={false}
          className="-mx-2 -mt-[7px] mb-1.5 h-[84px] w-[calc(100%+16px)] max-w-none object-cover"
        />
      )}
      <div className="flex gap-[7px]">
        <span className="pt-px">
          <Facet row={row} size={15} />
        </span>
        <span
          className={`min-w-0 flex-1 pr-1.5 leading-[1.28] font-[550] ${size === "small" ? "truncate" : "break-words"}`}
        >
          {row.title}
        </span>
        {size === "small" && (
          <span className="pr-1">
            <Tile person={people.get(row.owner_id ?? "")} size={17} />
          </span>
        )}
      </div>
      {size !== "small" && <Facts {...{ row, project, people, now, tint }} />}
      {size === "large" && <Fields row={row} fields={fields} />}
      {row.held &&
        (size === "small" ? (
          <div className="hatched -mx-2 mt-1 -mb-1.5 h-[5px]" title={`Held: ${row.held}`}>
            <span className="sr-only">Held: {row.held}</span>
          </div>
        ) : (
          <div className="hatched -mx-2 mt-1.5 -mb-1.5 px-2 py-[3px] text-[11.5px] font-[550]">Held: {row.held}</div>
        ))}
    </div>
  );
}

function Facts({
  row,
  project,
  people,
  now,
  tint,
}: { row: TaskRow; tint?: Tint } & Pick<SlipProps, "project" | "people" | "now">) {
  const date = row.state_class === "finished" ? row.actual_finish : row.finish;
  return (
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
  );
}

/** The chosen fields that the task has something in. */
function Fields({ row, fields }: { row: TaskRow; fields: SlipProps["fields"] }) {
  const filled = fields.filter((one) => one.words[row.id]);
  if (!filled.length) return null;
  return (
    <dl className="mt-1.5 grid grid-cols-[auto_1fr] gap-x-2 border-t border-rule pt-1 text-[11.5px]">
      {filled.map((one) => (
        <div key={one.key} className="contents">
          <dt className="text-ink-2">{one.name}</dt>
          <dd className="min-w-0 truncate" title={one.words[row.id]}>
            {one.words[row.id]}
          </dd>
        </div>
      ))}
    </dl>
  );
}
