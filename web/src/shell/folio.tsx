/** The folio: one task, beside the lens. Every field is edited in place. */
import { X } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { type Project, type Schemas, sentence, type TaskRow } from "../data/api";
import { may, mayShape, useMe, usePeople, useTask } from "../data/hooks";
import { note } from "../data/notes";
import type { Changes } from "../data/rows";
import { Button, Failed, IconButton, Loading, Menu, MenuItem, Pop, Reading } from "../parts/basics";
import { KINDS, PersonChooser, PersonList, PriorityItems, StateMenu } from "../parts/choosers";
import { Facet } from "../parts/facet";
import { Health } from "../parts/health";
import { sayHours, sayLength, sayPriority, sayWeekday, sayWhen } from "../parts/say";
import { TextField } from "../parts/text-field";
import { Tile } from "../parts/tile";
import { Understood } from "../parts/understood";
import { capital, useWhy } from "../parts/why";

export function Folio({
  id,
  project,
  changes,
  close,
  openTask,
}: {
  id: string;
  project: Project;
  changes: Changes;
  close: () => void;
  openTask: (id: string) => void;
}) {
  const { data, error, refetch } = useTask(id);
  const panel = useRef<HTMLElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the folio takes the focus each time another task opens
  useEffect(() => {
    panel.current?.focus({ preventScroll: true });
  }, [id]);
  return (
    <aside
      ref={panel}
      tabIndex={-1}
      aria-label="Task"
      className="absolute inset-0 z-30 flex flex-col overflow-auto border-l border-ink bg-sheet px-4 py-3 outline-none sm:relative sm:inset-auto sm:w-[440px] sm:flex-none sm:shadow-[-14px_0_34px_-22px_#231a2455] lg:w-[500px]"
      onKeyDown={(event) =>
        event.key === "Escape" && !(event.target as HTMLElement).closest("input, textarea") && close()
      }
    >
      {error ? (
        <>
          <IconButton label="Close" className="self-end" onClick={close}>
            <X size={15} />
          </IconButton>
          <Failed error={error} retry={refetch} />
        </>
      ) : data ? (
        <Contents
          key={data.row.id}
          detail={data}
          project={project}
          changes={changes}
          close={close}
          openTask={openTask}
        />
      ) : (
        <Loading what="the task" />
      )}
    </aside>
  );
}

type Detail = Schemas["TaskOut"];

function Contents({
  detail,
  project,
  changes,
  close,
  openTask,
}: {
  detail: Detail;
  project: Project;
  changes: Changes;
  close: () => void;
  openTask: (id: string) => void;
}) {
  const { row } = detail;
  const canEdit = may(project, "edit");
  const edit = (what: string, fields: Record<string, unknown>, shown?: Partial<TaskRow>) =>
    changes.edit(`${what} of “${row.title}”`, [{ id: row.id, fields, shown }]);
  const above = detail.above.at(-1);
  const [shifting, setShifting] = useState<string | null>(null);
  return (
    <>
      <div className="flex items-center gap-2 text-[12px] text-ink-2">
        <b className="font-semibold tracking-wide text-rose">
          {detail.code} {row.number}
        </b>
        <span className="min-w-0 flex-1 truncate">
          {detail.outline}
          {above && (
            <>
              {" under "}
              <button
                type="button"
                className="underline decoration-rule-2 hover:text-ink"
                onClick={() => openTask(above.id ?? "")}
              >
                {above.title}
              </button>
            </>
          )}
        </span>
        {canEdit && (
          <Menu
            align="end"
            trigger={
              <button type="button" className="font-semibold text-ink-2 hover:text-ink">
                More
              </button>
            }
          >
            {row.start && (
              <MenuItem onSelect={() => setShifting(row.start?.slice(0, 10) ?? "")}>Shift to a new start</MenuItem>
            )}
            {mayShape(project) && (
              <MenuItem
                onSelect={async () => {
                  close();
                  await changes.remove([row.id]);
                }}
              >
                Delete
              </MenuItem>
            )}
          </Menu>
        )}
        <IconButton label="Close the task" onClick={close}>
          <X size={15} />
        </IconButton>
      </div>
      <TextField
        value={row.title}
        label="Title"
        readOnly={!canEdit}
        className="font-head -mx-1.5 w-full px-1.5 text-[19px] font-semibold"
        onSave={(text) => edit("Title", { title: text }, { title: text })}
      />
      {shifting !== null && (
        <form
          aria-label="Shift to a new start"
          className="my-2 flex flex-wrap items-center gap-2 bg-band px-2 py-1.5"
          onSubmit={async (event) => {
            event.preventDefault();
            if (await changes.shift(row.id, shifting)) setShifting(null);
          }}
        >
          <label className="flex items-center gap-2">
            {row.is_summary ? "Let all under it start on" : "Let it start on"}
            <input
              type="date"
              required
              className="input"
              value={shifting}
              onChange={(event) => setShifting(event.target.value)}
            />
          </label>
          <Button type="submit">Shift</Button>
          <Button look="quiet" onClick={() => setShifting(null)}>
            Cancel
          </Button>
        </form>
      )}
      <p className="mt-1 mb-3 text-[14px] leading-relaxed text-ink-2">
        <Reading text={detail.reading} />
      </p>
      <Fields row={row} project={project} canEdit={canEdit} edit={edit} />
      <Description key={row.id} id={row.id} text={detail.description} canEdit={mayShape(project)} edit={edit} />
      <History detail={detail} />
    </>
  );
}

type EditField = (what: string, fields: Record<string, unknown>, shown?: Partial<TaskRow>) => Promise<void>;

function Fields({
  row,
  project,
  canEdit,
  edit,
}: {
  row: TaskRow;
  project: Project;
  canEdit: boolean;
  edit: EditField;
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
              <button type="button" className={PICK} aria-label={`Kind: ${row.kind}`}>
                {row.kind}
              </button>
            }
          >
            {KINDS.map((kind) => (
              <MenuItem key={kind} chosen={kind === row.kind} onSelect={() => tell(edit("Kind", { kind }))}>
                {kind}
              </MenuItem>
            ))}
          </Menu>
        ) : (
          row.kind
        )}
      </Cell>
      {!row.is_summary && (row.state_class === "queued" || row.state_class === "active") && (
        <Cell label="Held by" wide>
          <TextField
            value={row.held_reason ?? ""}
            label="Held by"
            placeholder={canEdit ? "Not held. Write the reason to hold it" : "Not held"}
            readOnly={!canEdit}
            className={`-mx-1.5 w-full px-1.5 ${row.held_reason ? "hatched font-semibold" : ""}`}
            onSave={(text) => edit("Held", { held_reason: text }, { held_reason: text.trim() || null })}
          />
        </Cell>
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

const PICK = "-mx-1.5 min-h-6 w-[calc(100%+12px)] px-1.5 hover:bg-rose-soft";

function Cell({ label, wide, children }: { label: string; wide?: boolean; children: React.ReactNode }) {
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

/** The description. What is typed is kept in the browser until the server has it. */
function Description({ id, text, canEdit, edit }: { id: string; text: string; canEdit: boolean; edit: EditField }) {
  const key = `rhodonite.description.${id}`;
  const [typed, setTyped] = useState<string | null>(() => localStorage.getItem(key));
  const [wrong, setWrong] = useState("");
  async function save() {
    if (typed === null) return;
    if (typed === text) {
      localStorage.removeItem(key);
      return setTyped(null);
    }
    try {
      await edit("Description", { description: typed });
      if (localStorage.getItem(key) === typed) localStorage.removeItem(key);
      setTyped((now) => (now === typed ? null : now));
      setWrong("");
    } catch (error) {
      setWrong(sentence(error));
    }
  }
  const shown = typed ?? text;
  if (!canEdit && !shown) return null;
  return (
    <section className="mt-4">
      <h2 className="mb-1 font-sans text-[13px] font-semibold">
        Description
        {typed !== null && typed !== text && <span className="ml-2 font-normal text-ochre">not saved yet</span>}
      </h2>
      <textarea
        aria-label="Description"
        className="field-sizing-content min-h-[64px] w-full border border-rule-2 bg-transparent p-2 leading-relaxed"
        placeholder="What has to be done, and how it can be seen to be finished"
        value={shown}
        readOnly={!canEdit}
        onChange={(event) => {
          setTyped(event.target.value);
          localStorage.setItem(key, event.target.value);
        }}
        onBlur={save}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) save();
        }}
      />
      {wrong && (
        <p role="alert" className="font-semibold text-ember">
          {wrong}
        </p>
      )}
    </section>
  );
}

function History({ detail }: { detail: Detail }) {
  const { byId } = usePeople();
  const { now } = useMe();
  return (
    <section className="mt-4 pb-4">
      <h2 className="mb-1 font-sans text-[13px] font-semibold">Changed</h2>
      <ol>
        {detail.history.map((one) => (
          <li key={one.id} className="flex gap-2 border-b border-rule py-1.5 text-[12.5px]">
            <Tile person={byId.get(one.person_id)} size={20} label={false} />
            <span className="min-w-0 flex-1 break-words text-ink-2">
              <b className="font-semibold text-ink">{byId.get(one.person_id)?.short ?? "Somebody"}</b>{" "}
              {one.lines.join(", ")}
            </span>
            <span className="flex-none text-[11.5px] text-ink-3">{sayWhen(one.at, now)}</span>
          </li>
        ))}
      </ol>
    </section>
  );
}
