/** The fields of a task, each edited in place. */
import { useState } from "react";
import { type Project, type Schemas, sentence, type TaskRow } from "../../data/api";
import { mayShape, useMe, usePeople } from "../../data/hooks";
import { note } from "../../data/notes";
import { hasField, kindName } from "../../data/own";
import { Menu, MenuItem, Pop } from "../../parts/basics";
import { KINDS, PersonChooser, PersonList, PriorityItems, StateMenu } from "../../parts/choosers";
import { Facet } from "../../parts/facet";
import { Health } from "../../parts/health";
import { sayDuration, sayHours, sayLength, sayPriority, sayWeekday } from "../../parts/say";
import { Sign } from "../../parts/sign";
import { TextField } from "../../parts/text-field";
import { Tile } from "../../parts/tile";
import { Understood } from "../../parts/understood";
import { capital, useWhy } from "../../parts/why";
import { MarksField, OwnCell } from "./own-fields";
import { RepeatsField } from "./repeats";
import { TaskFinder } from "./task-finder";

export type EditField = (what: string, fields: Record<string, unknown>, shown?: Partial<TaskRow>) => Promise<void>;

export function Fields({
  row,
  project,
  canEdit,
  edit,
  openTask,
  detail,
}: {
  row: TaskRow;
  detail: Schemas["TaskOut"];
  project: Project;
  canEdit: boolean;
  edit: EditField;
  openTask: (id: string) => void;
}) {
  const { byId } = usePeople();
  const { now } = useMe();
  const tell = (promise: Promise<void>) => promise.catch((error) => note(sentence(error), "wrong"));
  const state = project.states.find((one) => one.id === row.state_id);
  const owner = byId.get(row.owner_id ?? "");
  const open = canEdit && !row.is_summary;
  const milestone = row.kind === "milestone";
  const typed = (label: string, name: string, value: string, editable = open) => (
    <Cell label={isPinned(row, name) ? `⊙ ${label}` : label}>
      <TextField
        value={value}
        label={label}
        readOnly={!editable}
        hint={row.is_summary && name !== "deadline" ? "Computed from the tasks under it" : undefined}
        className="-mx-1.5 w-full px-1.5"
        onSave={(text) => edit(label, { [name]: text })}
      />
    </Cell>
  );
  const stateShown = (
    <span className="flex items-center gap-2">
      <Facet row={row} /> {state?.name}
    </span>
  );
  return (
    <dl className="grid grid-cols-2 gap-x-4 border-t border-rule-2">
      <Cell label="State">
        {open ? (
          <StateMenu
            project={project}
            row={row}
            onChoose={(id) => tell(edit("State", { state_id: id }))}
            trigger={
              <button type="button" className={PICK} aria-label={`State: ${state?.name}`}>
                {stateShown}
              </button>
            }
          />
        ) : (
          stateShown
        )}
      </Cell>
      <Cell label="Health">
        <Health value={row.health} />
      </Cell>
      <Cell label="Owner">
        {canEdit ? (
          <PersonChooser
            project={project}
            value={row.owner_id}
            onChoose={(id) => tell(edit("Owner", { owner_id: id }, { owner_id: id }))}
            trigger={
              <button
                type="button"
                className={`${PICK} flex items-center gap-2`}
                aria-label={`Owner: ${owner?.name ?? "nobody"}`}
              >
                <Tile person={owner} size={22} label={false} /> {owner?.name ?? "No owner"}
              </button>
            }
          />
        ) : (
          <span className="flex items-center gap-2">
            <Tile person={owner} size={22} label={false} /> {owner?.name ?? "No owner"}
          </span>
        )}
      </Cell>
      <Cell label="Helpers">
        <Helpers
          row={row}
          project={project}
          canEdit={canEdit}
          onChange={(ids) => tell(edit("Helpers", { helpers: ids }, { helpers: ids }))}
        />
      </Cell>
      {!milestone && typed("Start", "start", row.start ? sayWeekday(row.start, now) : "")}
      {typed(milestone ? "Date" : "Finish", "finish", row.finish ? sayWeekday(row.finish, now) : "")}
      {!milestone && typed("Duration", "duration", sayLength(row))}
      {typed("Deadline", "deadline", row.deadline ? sayWeekday(row.deadline, now) : "", canEdit)}
      <Cell label="Waits for" wide>
        <TextField
          value={row.waits}
          label="Waits for"
          placeholder={canEdit ? "Nothing. Write a number or a title: 12 + 2 d" : "Nothing"}
          readOnly={!canEdit}
          className="-mx-1.5 w-full px-1.5"
          below={(text) => <Understood code={project.code} id={row.id} text={text} />}
          onSave={(text) => edit("Links", { waits_for: text })}
        />
      </Cell>
      <Neighbours label="Which are" tasks={detail.waits_for} openTask={openTask} />
      <Neighbours label="Awaited by" tasks={detail.awaited_by} openTask={openTask} />
      {[...new Set(detail.named_in.map((one) => one.field))].map((field) => (
        <Neighbours
          key={field}
          label={`${field} of`}
          tasks={detail.named_in.filter((one) => one.field === field).map((one) => one.task)}
          openTask={openTask}
        />
      ))}
      {!row.is_summary && <Constraint row={row} open={open} edit={(fields) => tell(edit("Constraint", fields))} />}
      {!row.is_summary && project.calendars.length > 0 && (
        <Cell label="Calendar">
          <CalendarPick
            project={project}
            row={row}
            open={open}
            choose={(id) => tell(edit("Calendar", { calendar_id: id }))}
          />
        </Cell>
      )}
      {typed("Percent done", "percent", `${row.percent} %`)}
      {typed("Effort", "effort", sayHours(row.effort))}
      <Cell label="Priority">
        {canEdit ? (
          <Menu
            trigger={
              <button type="button" className={PICK} aria-label={`Priority: ${sayPriority(row.priority) || "none"}`}>
                {sayPriority(row.priority) || "none"}
              </button>
            }
          >
            <PriorityItems value={row.priority} onChoose={(value) => tell(edit("Priority", { priority: value }))} />
          </Menu>
        ) : (
          sayPriority(row.priority) || "none"
        )}
      </Cell>
      <Cell label="Kind">
        {canEdit ? (
          <Menu
            trigger={
              <button
                type="button"
                className={`${PICK} flex items-center gap-1.5`}
                aria-label={`Kind: ${kindName(project, row.kind)}`}
              >
                {kindName(project, row.kind)}
              </button>
            }
          >
            {KINDS.map((kind) => (
              <MenuItem key={kind} chosen={kind === row.kind} onSelect={() => tell(edit("Kind", { kind }))}>
                {kind}
              </MenuItem>
            ))}
            {project.kinds.map((kind) => (
              <MenuItem
                key={kind.id}
                chosen={kind.id === row.kind}
                onSelect={() => tell(edit("Kind", { kind: kind.id }))}
              >
                <Sign shape={kind.shape} colour={kind.colour} /> {kind.name}
              </MenuItem>
            ))}
          </Menu>
        ) : (
          kindName(project, row.kind)
        )}
      </Cell>
      <RepeatsField row={row} project={project} canEdit={canEdit && mayShape(project)} edit={edit} />
      {(project.marks.length > 0 || row.marks.length > 0) && (
        <Cell label="Marks" wide>
          <MarksField row={row} project={project} canEdit={canEdit} edit={edit} />
        </Cell>
      )}
      {project.fields
        .filter((field) => hasField(row, field))
        .map((field) => (
          <OwnCell
            key={field.id}
            field={field}
            row={row}
            project={project}
            canEdit={canEdit}
            edit={edit}
            computed={detail.computed[field.id] ?? ""}
            openTask={openTask}
          />
        ))}
      {!row.is_summary && (row.state_class === "queued" || row.state_class === "active") && (
        <HeldBy row={row} project={project} canEdit={canEdit} edit={edit} openTask={openTask} />
      )}
    </dl>
  );
}

/** By which hours a task is worked: the project's, or another calendar of it. */
function CalendarPick({
  project,
  row,
  open,
  choose,
}: {
  project: Project;
  row: TaskRow;
  open: boolean;
  choose: (id: string | null) => void;
}) {
  const name = project.calendars.find((one) => one.id === row.calendar_id)?.name ?? "the project’s";
  if (!open) return name;
  return (
    <Menu
      trigger={
        <button type="button" className={PICK} aria-label={`Calendar: ${name}`}>
          {name}
        </button>
      }
    >
      <MenuItem chosen={!row.calendar_id} onSelect={() => choose(null)}>
        the project’s
      </MenuItem>
      {project.calendars.map((one) => (
        <MenuItem key={one.id} chosen={one.id === row.calendar_id} onSelect={() => choose(one.id)}>
          {one.name}
        </MenuItem>
      ))}
    </Menu>
  );
}

/** True for the date that a pin holds; of a milestone both pins hold its one date. */
const isPinned = (row: TaskRow, name: string) =>
  row.constraint_type.startsWith("must_") &&
  (row.constraint_type === `must_${name}` || row.kind === "milestone") &&
  (name === "start" || name === "finish");

const CONSTRAINTS: [TaskRow["constraint_type"], string][] = [
  ["asap", "as soon as possible"],
  ["alap", "as late as possible"],
  ["start_no_earlier", "start no earlier than"],
  ["start_no_later", "start no later than"],
  ["finish_no_earlier", "finish no earlier than"],
  ["finish_no_later", "finish no later than"],
  ["must_start", "⊙ must start on"],
  ["must_finish", "⊙ must finish on"],
];

/** What holds a task in time, the date that it speaks of, and why the task stands where it does. */
function Constraint({
  row,
  open,
  edit,
}: {
  row: TaskRow;
  open: boolean;
  edit: (fields: Record<string, unknown>) => Promise<unknown>;
}) {
  const { now } = useMe();
  const { data: why } = useWhy(row.start || row.finish ? row.id : null, row.revision);
  const words = CONSTRAINTS.find(([name]) => name === row.constraint_type)?.[1];
  const chosen = row.kind === "milestone" ? CONSTRAINTS.filter(([name]) => !name.includes("start")) : CONSTRAINTS;
  return (
    <>
      <Cell label="Constraint" wide>
        <span className="flex items-center gap-2">
          {open ? (
            <Menu
              trigger={
                <button
                  type="button"
                  className="-mx-1.5 min-h-6 px-1.5 hover:bg-rose-soft"
                  aria-label={`Constraint: ${words}`}
                >
                  {words}
                </button>
              }
            >
              {chosen.map(([name, text]) => (
                <MenuItem
                  key={name}
                  chosen={name === row.constraint_type}
                  onSelect={() => edit({ constraint_type: name })}
                >
                  {text}
                </MenuItem>
              ))}
            </Menu>
          ) : (
            words
          )}
          {row.constraint_at && (
            <TextField
              value={sayWeekday(row.constraint_at, now)}
              label="Date of the constraint"
              readOnly={!open}
              className="w-36 px-1.5"
              onSave={async (text) => {
                await edit({ constraint_at: text });
              }}
            />
          )}
        </span>
      </Cell>
      {why && (
        <Cell label="Because" wide>
          <span className="block py-1 leading-snug">
            {capital(why.start)}.{why.slack && row.state_class !== "finished" ? ` ${capital(why.slack)}.` : ""}
            {why.conflicts.map((line) => (
              <b key={line} className="block font-semibold text-ember">
                {line}
              </b>
            ))}
          </span>
        </Cell>
      )}
    </>
  );
}

export const PICK = "-mx-1.5 min-h-6 w-[calc(100%+12px)] px-1.5 hover:bg-rose-soft";

export function Cell({ label, wide, children }: { label: string; wide?: boolean; children: React.ReactNode }) {
  return (
    <div className={`flex min-h-8 items-center gap-2 border-b border-rule ${wide ? "col-span-2" : ""}`}>
      <dt className="w-[84px] flex-none text-[12px] text-ink-2">{label}</dt>
      <dd className="min-w-0 flex-1">{children}</dd>
    </div>
  );
}

function Helpers({
  row,
  project,
  canEdit,
  onChange,
}: {
  row: TaskRow;
  project: Project;
  canEdit: boolean;
  onChange: (ids: string[]) => void;
}) {
  const { byId } = usePeople();
  return (
    <span className="flex flex-wrap items-center gap-1">
      {row.helpers.map((id) =>
        canEdit ? (
          <button
            key={id}
            type="button"
            aria-label={`Take out ${byId.get(id)?.name}`}
            title={`Take out ${byId.get(id)?.name}`}
            onClick={() => onChange(row.helpers.filter((one) => one !== id))}
          >
            <Tile person={byId.get(id)} size={22} label={false} />
          </button>
        ) : (
          <Tile key={id} person={byId.get(id)} size={22} />
        ),
      )}
      {canEdit ? (
        <Pop
          label="Add a helper"
          trigger={
            <button type="button" className="text-rose hover:underline">
              + helper
            </button>
          }
        >
          <PersonList
            project={project}
            value={null}
            onChoose={(id) => id && !row.helpers.includes(id) && onChange([...row.helpers, id])}
          />
        </Pop>
      ) : (
        !row.helpers.length && <span className="text-ink-3">none</span>
      )}
    </span>
  );
}

/** What holds a task: a reason that is written, or another task until that is finished. */
function HeldBy({
  row,
  project,
  canEdit,
  edit,
  openTask,
}: {
  row: TaskRow;
  project: Project;
  canEdit: boolean;
  edit: EditField;
  openTask: (id: string) => void;
}) {
  const { now } = useMe();
  const [choosing, setChoosing] = useState(false);
  const tell = (fields: Record<string, unknown>) =>
    edit("Held", fields).catch((error) => note(sentence(error), "wrong"));
  const before = row.held_minutes ? `held ${sayDuration(row.held_minutes, project.day_minutes)} before` : "";
  const since = row.held_since ? `since ${sayWeekday(row.held_since, now)}` : "";
  return (
    <Cell label="Held by" wide>
      <span className="flex items-center gap-2">
        {row.held_by_id ? (
          <span className="hatched flex min-w-0 flex-1 items-center gap-2 px-1.5 font-semibold">
            <button
              type="button"
              className="min-w-0 truncate underline decoration-rule-2"
              onClick={() => openTask(row.held_by_id ?? "")}
            >
              {row.held}
            </button>
            {canEdit && (
              <button
                type="button"
                className="ml-auto flex-none py-0.5 font-normal underline"
                onClick={() => tell({ held_by_id: null })}
              >
                let it go on
              </button>
            )}
          </span>
        ) : (
          <span className="min-w-0 flex-1">
            <TextField
              value={row.held_reason ?? ""}
              label="Held by"
              placeholder={canEdit ? "Not held. Write the reason to hold it" : "Not held"}
              readOnly={!canEdit}
              className={`-mx-1.5 w-full px-1.5 ${row.held_reason ? "hatched font-semibold" : ""}`}
              onSave={(text) => edit("Held", { held_reason: text }, { held_reason: text.trim() || null })}
            />
          </span>
        )}
        {canEdit && !row.held && (
          <Pop
            label="The task that holds it"
            align="end"
            open={choosing}
            onOpenChange={setChoosing}
            trigger={
              <button type="button" className="flex-none text-rose hover:underline">
                by a task
              </button>
            }
          >
            <TaskFinder
              code={project.code}
              without={row.id}
              onChoose={(task) => {
                setChoosing(false);
                tell({ held_by_id: task.id });
              }}
            />
          </Pop>
        )}
        {(since || before) && (
          <span className="flex-none text-[11.5px] text-ink-2">{[since, before].filter(Boolean).join(", ")}</span>
        )}
      </span>
    </Cell>
  );
}

const MOST_NEIGHBOURS = 6;

/** The tasks at the other ends of its links: the way there; back leads the same list in the other one. */
function Neighbours({
  label,
  tasks,
  openTask,
}: {
  label: string;
  tasks: Schemas["NeighbourOut"][];
  openTask: (id: string) => void;
}) {
  const [all, setAll] = useState(false);
  if (!tasks.length) return null;
  const shown = all ? tasks : tasks.slice(0, MOST_NEIGHBOURS);
  return (
    <Cell label={label} wide>
      <span className="flex flex-wrap gap-x-3 py-1">
        {shown.map((task) => (
          <button
            key={task.id}
            type="button"
            className="flex min-h-6 max-w-full items-center gap-1.5 hover:underline"
            onClick={() => openTask(task.id)}
          >
            <Facet
              row={{
                percent: task.percent,
                health: "not_judged",
                kind: "task",
                state_class: task.state_class as "queued",
              }}
              size={13}
            />
            <span className="truncate">{task.title}</span>
          </button>
        ))}
        {tasks.length > shown.length && (
          <button type="button" className="text-rose hover:underline" onClick={() => setAll(true)}>
            and {tasks.length - shown.length} more
          </button>
        )}
      </span>
    </Cell>
  );
}
