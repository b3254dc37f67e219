/** One row of the outline. */
import { ChevronDown, ChevronRight, GripVertical } from "lucide-react";
import { memo, useState } from "react";
import type { Project, TaskRow } from "../../data/api";
import { may, usePeople } from "../../data/hooks";
import { Menu } from "../../parts/basics";
import { PersonChooser, PriorityItems, StateMenu } from "../../parts/choosers";
import { Facet } from "../../parts/facet";
import { times } from "../../parts/format";
import { comeBy } from "../../parts/grid/use-grid";
import { Marks } from "../../parts/marks";
import { Sign } from "../../parts/sign";
import { TaskCounts } from "../../parts/task-counts";
import { Tile } from "../../parts/tile";
import { type RowTints, tintStyle } from "../../parts/tint";
import { ParsedBookings } from "../../resources/parsed-bookings";
import { TimerButton } from "../../time/timer-button";
import { fieldOf } from "../custom-fields";
import { ParsedLinks } from "../parsed-links";
import type { RowActions } from "../row-actions";
import { shownState } from "../shown-state";
import { CellInput, CellText } from "./cell";
import { type Column, type ColumnId, cellText, isFixed, keyOf } from "./columns";
import { CustomChoice } from "./custom-choice";

export interface CellProps {
  row: TaskRow;
  project: Project;
  active: ColumnId | null;
  editing: string | null;
  /** why what stands in the field was refused */
  refused?: string;
  canEdit: boolean;
  now: Date;
  actions: RowActions;
  /** what colours the row and its cells */
  tints?: RowTints;
}

/** Takes hold of a row, to drag it. */
type Take = (event: React.PointerEvent, id: string) => void;

interface Props extends CellProps {
  index: number;
  depth: number;
  number: string;
  dim: boolean;
  folded: boolean;
  hasBelow: boolean;
  columns: Column[];
  selected: boolean;
  opened: boolean;
  /** the title has room for more beside it */
  roomy: boolean;
  /** time can be entered on it */
  mayEnter: boolean;
  take: Take;
}

export const OutlineRowView = memo(function OutlineRowView(props: Props) {
  const { row, depth, number, dim, folded, hasBelow, columns, selected, opened, canEdit } = props;
  // what only the pointer needs is made when the pointer comes, so that rows that scroll by stay light
  const [warm, setWarm] = useState(false);
  return (
    // biome-ignore lint/a11y/useFocusableInteractive: the cells take the focus
    <div
      role="row"
      aria-level={depth + 1}
      aria-rowindex={props.index + 2}
      aria-expanded={hasBelow ? !folded : undefined}
      aria-selected={selected}
      data-row={row.id}
      onPointerEnter={() => setWarm(true)}
      onPointerLeave={() => setWarm(false)}
      className={`group flex h-[29px] items-center border-b border-rule/60 pl-1 ${
        selected ? "bg-rose-soft" : opened ? "bg-rose-soft/60" : "hover:bg-paper"
      } ${opened ? "shadow-[inset_3px_0_0_var(--color-rose)]" : ""} ${row.is_summary ? "font-semibold" : ""} ${dim ? "text-ink-3" : ""}`}
      style={selected || opened ? undefined : tintStyle(props.tints?.row)}
      title={props.tints?.row ? `Tint: ${props.tints.row.name}` : undefined}
    >
      {columns.map((column) =>
        column.id === "title" ? (
          <TitleCell key="title" {...props} warm={warm} canHold={warm && canEdit} />
        ) : (
          <OtherCell key={column.id} {...props} column={column} />
        ),
      )}
      <span className="sr-only">{number}</span>
      <span aria-hidden="true" className="w-9 flex-none" />
    </div>
  );
});

function Grip({ id, take }: { id: string; take: Take }) {
  return (
    <span
      onPointerDown={(event) => take(event, id)}
      data-grip
      className="invisible flex-none cursor-grab touch-none text-ink-3 group-hover:visible"
      aria-hidden="true"
    >
      <GripVertical size={13} />
    </span>
  );
}

/** Folds what is under a row, and unfolds it; of a row with nothing under it, its room. */
export function Fold({
  one: { row, hasBelow },
  folded,
  fold,
}: {
  one: { row: TaskRow; hasBelow: boolean };
  folded: boolean;
  fold: (id: string) => void;
}) {
  if (!hasBelow) return <span className="w-3.5 flex-none" />;
  return (
    <button
      type="button"
      tabIndex={-1}
      aria-label={folded ? `Unfold ${row.title}` : `Fold ${row.title}`}
      className="flex-none text-ink-2"
      onClick={(event) => {
        event.stopPropagation();
        fold(row.id);
      }}
    >
      {folded ? <ChevronRight size={14} /> : <ChevronDown size={14} />}
    </button>
  );
}

function TitleCell(props: Props & { warm: boolean; canHold: boolean }) {
  const { row, depth, number, folded, project, active, editing, canEdit, actions, warm, canHold } = props;
  const [menu, setMenu] = useState(false);
  const isActive = active === "title";
  const title = props.columns[0] as Column;
  const facet = (
    <button
      type="button"
      tabIndex={-1}
      aria-label={`State of ${row.title}`}
      className="flex-none"
      disabled={!canEdit || row.is_summary}
    >
      <Facet row={row} />
    </button>
  );
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the grid handles keys
    <div
      role="gridcell"
      tabIndex={isActive ? 0 : -1}
      data-cell="title"
      className="flex h-full min-w-0 flex-1 items-center gap-1.5 outline-offset-[-2px]"
      style={{ paddingLeft: depth * 16 }}
      onClick={(event) => actions.focus(row.id, "title", comeBy(event))}
      onDoubleClick={() => canEdit && actions.beginEdit(row.id, "title")}
    >
      {canHold && may(project, "edit") ? (
        <Grip id={row.id} take={props.take} />
      ) : (
        <span className="w-[13px] flex-none" />
      )}
      <Fold one={props} folded={folded} fold={actions.fold} />
      {(canHold || menu) && !row.is_summary ? (
        // biome-ignore lint/a11y/noStaticElementInteractions: only keeps a click from moving the focus to the cell
        // biome-ignore lint/a11y/useKeyWithClickEvents: only keeps a click from moving the focus to the cell
        <span className="flex flex-none" onClick={(event) => event.stopPropagation()}>
          <StateMenu
            open={menu}
            onOpenChange={setMenu}
            project={project}
            row={row}
            trigger={facet}
            onChoose={(state) =>
              actions.save(row, { ...title, id: "state", field: "state_id" }, state, shownState(project, row, state))
            }
          />
        </span>
      ) : (
        <Facet row={row} />
      )}
      {editing !== null && isActive ? (
        <CellInput
          first={editing || row.title}
          shown={row.title}
          wrong={props.refused}
          label="Title"
          onSave={(text) => actions.save(row, title, text, { title: text })}
          onDone={(how) => actions.endEdit(row.id, "title", how)}
        />
      ) : (
        <span className="min-w-0 truncate" title={row.title}>
          <span className={`mr-1.5 ${props.tints?.row ? "text-ink-2" : "text-ink-3"}`}>{number}</span>
          {row.title}
        </span>
      )}
      {editing === null && (
        <button
          type="button"
          tabIndex={-1}
          className="hidden flex-none px-0.5 text-[12px] font-normal text-rose group-hover:block hover:underline"
          onClick={(event) => {
            event.stopPropagation();
            actions.open(row);
          }}
        >
          open
        </button>
      )}
      {warm && props.mayEnter && editing === null && (
        <TimerButton
          task={row}
          tabIndex={-1}
          className="invisible flex-none px-0.5 text-ink-2 group-hover:visible hover:text-rose"
        />
      )}
      {props.tints?.row && <Sign shape={props.tints.row.sign} colour={props.tints.row.colour} size={10} />}
      <Marks row={row} project={project} />
      {/* where there is little room the sign of being held stands without its reason */}
      {row.held && <span className="hatched size-3 flex-none @[15rem]:hidden" aria-hidden="true" />}
      {row.held && (
        <span
          className="hatched hidden max-w-44 flex-none truncate @[15rem]:block px-1.5 text-[11.5px] font-medium text-ink"
          title={`Held: ${row.held}`}
        >
          Held: {row.held}
        </span>
      )}
      {row.pushes > 0 && row.late_days > 0 && (
        <span className="hidden flex-none text-[11.5px] font-normal whitespace-nowrap text-ember @[15rem]:block">
          pushed {times(row.pushes)}
        </span>
      )}
      {props.roomy && (
        <span className="ml-auto flex flex-none items-center gap-2 pr-2 text-[11px] font-normal text-ink-2">
          <TaskCounts row={row} />
        </span>
      )}
      {/* links name tasks by this number, not by their place in the outline */}
      {props.columns.some((one) => one.id === "waits") && (
        <span
          className={`flex-none pl-1 text-[11px] font-normal text-ink-3 ${props.roomy ? "" : "ml-auto"}`}
          title={`${project.code} ${row.number}`}
        >
          {row.number || ""}
        </span>
      )}
    </div>
  );
}

/** A cell of any column but the title. The schedule shows the same. */
export function OtherCell(props: CellProps & { column: Column }) {
  const { row, column, project, active, editing, canEdit, actions, now } = props;
  const people = usePeople();
  const isActive = active === column.id;
  const computed = isFixed(row, column, project);
  const tint = props.tints?.[`cell:${keyOf(column)}`];
  const text = () => cellText(row, column.id, project, now, people);
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the grid handles keys
    <div
      role="gridcell"
      tabIndex={isActive ? 0 : -1}
      data-cell={column.id}
      aria-readonly={computed || !canEdit}
      title={tint ? `Tint: ${tint.name}` : computed && row.is_summary ? "Computed from the tasks under it" : undefined}
      className={`flex h-full flex-none items-center gap-1 px-1.5 text-[12.5px] outline-offset-[-2px] ${column.right ? "justify-end" : ""} ${
        row.is_summary ? "" : "text-ink-2"
      }`}
      style={{ width: column.width, ...tintStyle(tint) }}
      onClick={(event) => actions.focus(row.id, column.id, comeBy(event))}
      onDoubleClick={() => canEdit && !computed && actions.beginEdit(row.id, column.id)}
    >
      {tint && <Sign shape={tint.sign} colour={tint.colour} size={9} />}
      {column.typed || column.readOnly ? (
        editing !== null && isActive && !computed ? (
          <CellInput
            first={editing || text()}
            shown={text()}
            wrong={props.refused}
            label={column.head}
            right={column.right}
            below={
              column.id === "waits"
                ? (text) => <ParsedLinks code={project.code} id={row.id} text={text} />
                : column.id === "people"
                  ? (text) => <ParsedBookings code={project.code} id={row.id} text={text} />
                  : undefined
            }
            onSave={(text) => actions.save(row, column, text)}
            onDone={(how) => actions.endEdit(row.id, column.id, how)}
          />
        ) : (
          <CellText row={row} column={column} project={project} />
        )
      ) : (
        <Chosen {...props} computed={computed} isActive={isActive} />
      )}
    </div>
  );
}

function Chosen(props: CellProps & { column: Column; computed: boolean; isActive: boolean }) {
  const { row, column, project, editing, canEdit, actions, computed, isActive } = props;
  const { byId } = usePeople();
  const open = editing !== null && isActive;
  const setOpen = (next: boolean) =>
    next ? actions.beginEdit(row.id, column.id) : actions.endEdit(row.id, column.id, "stay");
  const own = fieldOf(project, column.id);
  if (own) return <CustomChoice {...props} field={own} />;
  const person = byId.get(row.owner_id ?? "");
  const shown =
    column.id === "owner" ? (
      <Tile person={person} size={22} />
    ) : (
      <CellText row={row} column={column} project={project} />
    );
  if (!canEdit || computed) return shown;
  const save = (value: unknown, change: Partial<TaskRow>) => actions.save(row, column, value, change);
  const button = (
    <button
      type="button"
      tabIndex={-1}
      className="min-h-6 w-full min-w-0 truncate text-left"
      aria-label={`${column.head} of ${row.title}`}
    >
      {shown}
    </button>
  );
  // a chooser is only built for the cell that is being edited: thousands of rows stay light
  if (!open)
    return (
      <button
        type="button"
        tabIndex={-1}
        className="min-h-6 w-full min-w-0 truncate text-left"
        aria-label={`${column.head} of ${row.title}: ${column.id === "owner" ? (person?.name ?? "no owner") : cellText(row, column.id, project, props.now) || "none"}`}
        onClick={(event) => {
          if (event.shiftKey || event.ctrlKey || event.metaKey) return;
          event.stopPropagation();
          actions.beginEdit(row.id, column.id);
        }}
      >
        {shown}
      </button>
    );
  if (column.id === "owner")
    return (
      <PersonChooser
        project={project}
        value={row.owner_id}
        open
        onOpenChange={setOpen}
        trigger={button}
        onChoose={(id) => save(id, { owner_id: id })}
      />
    );
  if (column.id === "state")
    return (
      <StateMenu
        project={project}
        row={row}
        open
        onOpenChange={setOpen}
        trigger={button}
        onChoose={(id) => save(id, shownState(project, row, id))}
      />
    );
  return (
    <Menu trigger={button} open onOpenChange={setOpen}>
      <PriorityItems
        value={row.priority}
        onChoose={(value) => save(value, { priority: value as TaskRow["priority"] })}
      />
    </Menu>
  );
}
