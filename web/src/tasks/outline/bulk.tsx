/** Many tasks at once: change fields, shift dates, replace in titles. What will change is counted first. */

import { useMemo, useState } from "react";
import { type Project, sentence, type TaskRow } from "../../data/api";
import { type People, usePeople } from "../../data/hooks";
import { kinds, priorities, sayPriority } from "../../data/vocabulary";
import { Button, Modal, Wrong } from "../../parts/basics";

import { count, sayDay, sayHours, sayLength } from "../../parts/format";
import { Select } from "../../parts/select";
import { useRipple } from "../../schedule/ripple";
import type { Changes, Edit } from "../changes";
import { type CustomField, ownKey, ownText } from "../custom-fields";

export type BulkKind = "fields" | "shift" | "replace";

interface Props {
  kind: BulkKind;
  rows: TaskRow[];
  project: Project;
  changes: Changes;
  close: () => void;
}

const TITLES: Record<BulkKind, string> = {
  fields: "Change",
  shift: "Shift",
  replace: "Find and replace in the titles of",
};

export function Bulk(props: Props) {
  // a ripple is decided on first: the dialog makes room for it, and what was chosen here is kept
  const ripple = useRipple();
  const [lines, setLines] = useState<Line[]>([{ field: "owner_id", value: null }]);
  const [wrong, setWrong] = useState("");
  return (
    <Modal
      open={!ripple}
      onOpenChange={props.close}
      title={`${TITLES[props.kind]} ${count(props.rows.length, "task")}`}
      width={560}
    >
      {props.kind === "fields" && (
        <Fields {...props} lines={lines} setLines={setLines} wrong={wrong} setWrong={setWrong} />
      )}
      {props.kind === "shift" && <Shift {...props} />}
      {props.kind === "replace" && <Replace {...props} />}
    </Modal>
  );
}

interface Choice {
  value: string;
  name: string;
}

interface Field {
  field: string;
  name: string;
  /** computed on a summary task from the tasks under it */
  computed: boolean;
  /** what may be chosen; typed where there is none */
  choices?: (project: Project, people: People) => Choice[];
  /** what a row shows now */
  say: (row: TaskRow, project: Project, people: People) => string;
  hint?: string;
}

const UNCHOSEN = "unchosen";
const nobody = { value: "", name: "nobody" };
const FIELDS: Field[] = [
  {
    field: "owner_id",
    name: "Owner",
    computed: false,
    choices: (_, people) => [nobody, ...people.active.map((one) => ({ value: one.id, name: one.name }))],
    say: (row, _, people) => people.byId.get(row.owner_id ?? "")?.name ?? "nobody",
  },
  {
    field: "state_id",
    name: "State",
    computed: true,
    choices: (project) => project.states.map((one) => ({ value: one.id, name: one.label })),
    say: (row, project) => project.states.find((one) => one.id === row.state_id)?.name ?? "",
  },
  {
    field: "priority",
    name: "Priority",
    computed: false,
    choices: () => [{ value: "", name: "none" }, ...priorities().map((one) => ({ value: one.id, name: one.name }))],
    say: (row) => sayPriority(row.priority) || "none",
  },
  {
    field: "kind",
    name: "Kind",
    computed: false,
    choices: (project) => [...[...kinds(), ...project.kinds].map((one) => ({ value: one.id, name: one.name }))],
    say: (row) => row.kind,
  },
  { field: "start", name: "Start", computed: true, say: (row) => sayDay(row.start) || "none", hint: "next mon" },
  { field: "finish", name: "Finish", computed: true, say: (row) => sayDay(row.finish) || "none", hint: "26 Mar" },
  { field: "duration", name: "Duration", computed: true, say: (row) => sayLength(row) || "none", hint: "3 days" },
  { field: "deadline", name: "Deadline", computed: false, say: (row) => sayDay(row.deadline) || "none", hint: "1 May" },
  { field: "percent", name: "Percent done", computed: true, say: (row) => `${row.percent} %`, hint: "50" },
  { field: "effort", name: "Effort", computed: true, say: (row) => sayHours(row.effort) || "none", hint: "6 h" },
  { field: "waits_for", name: "Waits for", computed: false, say: (row) => row.waits || "nothing", hint: "12 + 2 d" },
  {
    field: "held_reason",
    name: "Held by",
    computed: true,
    say: (row) => row.held ?? "not held",
    hint: "a reason; empty: no longer held",
  },
];

/** The fields that can be changed on many tasks, the project's own included. */
const fieldsOf = (project: Project): Field[] => [
  ...FIELDS,
  ...(project.marks.length
    ? [
        {
          field: "marks",
          name: "Put on the mark",
          computed: false,
          choices: () => [
            { value: "", name: "take all off" },
            ...project.marks.map((one) => ({ value: one.id, name: one.name })),
          ],
          say: (row: TaskRow) =>
            project.marks
              .filter((one) => row.marks.includes(one.id))
              .map((one) => one.name)
              .join(", ") || "none",
        },
      ]
    : []),
  ...project.fields
    .filter((one) => !["computed", "tasks", "tied", "choices"].includes(one.type))
    .map((one) => ({
      field: ownKey(one),
      name: one.name,
      computed: false,
      choices: ownChoices(one),
      say: (row: TaskRow, _: Project, people: People) => ownText(one, row.own[one.id], people) || "none",
      hint: one.help || one.unit || undefined,
    })),
];

function ownChoices(one: CustomField): Field["choices"] {
  const none = { value: "", name: "none" };
  if (one.type === "choice")
    return () => [none, ...one.options.map((option) => ({ value: option.id ?? "", name: option.name }))];
  if (one.type === "yes_no") return () => [none, { value: "yes", name: "yes" }, { value: "no", name: "no" }];
  if (one.type === "person")
    return (_, people) => [nobody, ...people.active.map((each) => ({ value: each.id, name: each.name }))];
  return undefined;
}

interface Line {
  field: string;
  /** null: nothing is chosen or typed yet */
  value: string | null;
}

/** Set one or more fields of all, with how they differ now. */
function Fields({
  rows,
  project,
  changes,
  close,
  lines,
  setLines,
  wrong,
  setWrong,
}: Props & {
  lines: Line[];
  setLines: (lines: Line[]) => void;
  wrong: string;
  setWrong: (text: string) => void;
}) {
  const people = usePeople();
  const change = (index: number, part: Partial<Line>) => {
    setWrong("");
    setLines(lines.map((one, at) => (at === index ? { ...one, ...part } : one)));
  };
  const all = useMemo(() => fieldsOf(project), [project]);
  const edits = useMemo(() => editsOf(rows, lines, all), [rows, lines, all]);
  const left = all.filter((one) => !lines.some((line) => line.field === one.field));
  async function apply(event: React.FormEvent) {
    event.preventDefault();
    const names = lines.map((line) => all.find((one) => one.field === line.field)?.name ?? "");
    try {
      await changes.edit(`${names.join(", ")} of ${count(edits.length, "task")}`, edits);
      close();
    } catch (error) {
      setWrong(sentence(error));
    }
  }
  return (
    <form onSubmit={apply}>
      {lines.map((line, index) => {
        const field = all.find((one) => one.field === line.field) as Field;
        const choices = field.choices?.(project, people);
        return (
          <div key={line.field} className="mb-3">
            <div className="flex gap-2">
              <Select
                aria-label="Field"
                className="w-36"
                value={line.field}
                onChange={(event) => change(index, { field: event.target.value, value: null })}
              >
                {[field, ...left].map((one) => (
                  <option key={one.field} value={one.field}>
                    {one.name}
                  </option>
                ))}
              </Select>
              {choices ? (
                <Select
                  aria-label={`New ${field.name.toLowerCase()}`}
                  className="flex-1"
                  value={line.value ?? UNCHOSEN}
                  onChange={(event) => change(index, { value: event.target.value })}
                >
                  {line.value === null && <option value={UNCHOSEN}>choose</option>}
                  {choices.map((one) => (
                    <option key={one.value} value={one.value}>
                      {one.name}
                    </option>
                  ))}
                </Select>
              ) : (
                <input
                  aria-label={`New ${field.name.toLowerCase()}`}
                  className="input flex-1"
                  placeholder={field.hint}
                  value={line.value ?? ""}
                  onChange={(event) => change(index, { value: event.target.value })}
                />
              )}
              {lines.length > 1 && (
                <Button look="quiet" onClick={() => setLines(lines.filter((_, at) => at !== index))}>
                  Leave it
                </Button>
              )}
            </div>
            <p className="mt-0.5 text-[12.5px] text-ink-2">
              now: {differing(rows.map((row) => field.say(row, project, people)))}
            </p>
          </div>
        );
      })}
      {left.length > 0 && (
        <Button
          look="rose"
          className="px-1"
          onClick={() => setLines([...lines, { field: left[0]?.field ?? "", value: null }])}
        >
          + another field
        </Button>
      )}
      <Wrong text={wrong || undefined} />
      {lines.some((line) => line.value !== null) && (
        <Summary
          all={rows.length}
          some={edits.length}
          why="have it already, or are computed from the tasks under them"
        />
      )}
      <Button look="go" type="submit" disabled={!edits.length}>
        Change {count(edits.length, "task")}
      </Button>
    </form>
  );
}

/** What is sent: only where something changes, as far as that is known here. */
function editsOf(rows: TaskRow[], lines: Line[], all: Field[]): Edit[] {
  const edits: Edit[] = [];
  for (const row of rows) {
    const fields: Record<string, unknown> = {};
    for (const line of lines) {
      const field = all.find((one) => one.field === line.field);
      if (!field || line.value === null || (field.computed && row.is_summary)) continue;
      if (field.field === "marks") {
        const after = line.value ? [...new Set([...row.marks, line.value])] : [];
        if (after.length !== row.marks.length) fields.marks = after;
      } else if (!field.choices) fields[field.field] = line.value;
      else if (heldNow(row, field.field) !== line.value) fields[field.field] = line.value || null;
    }
    if (Object.keys(fields).length) edits.push({ id: row.id, fields });
  }
  return edits;
}

/** What a row holds now, in the form in which it is chosen. */
function heldNow(row: TaskRow, field: string): unknown {
  if (!field.startsWith("own.")) return (row as Record<string, unknown>)[field] ?? "";
  const value = row.own[field.slice(4)];
  return typeof value === "boolean" ? (value ? "yes" : "no") : (value ?? "");
}

/** How often each value stands there: `Ines Oduya 4 · nobody 3`. */
function differing(values: string[]): string {
  const counts = new Map<string, number>();
  for (const value of values) counts.set(value, (counts.get(value) ?? 0) + 1);
  const sorted = [...counts].sort((a, b) => b[1] - a[1]);
  if (sorted.length === 1) return `${sorted[0]?.[0]}, all of them`;
  const more = sorted.length - 5;
  return (
    sorted
      .slice(0, 5)
      .map(([value, times]) => `${value} ${times}`)
      .join(" · ") + (more > 0 ? ` and ${more} more` : "")
  );
}

function Summary({ all, some, why }: { all: number; some: number; why: string }) {
  return (
    <p role="status" className="my-3">
      <b className="font-semibold">{some === all ? `All ${all}` : `${some} of ${all}`}</b> will change
      {some < all && `; ${all - some} ${why}`}.
    </p>
  );
}

/** Shift dates by working days; the ripple shows what else moves. */
function Shift({ rows, changes, close }: Props) {
  const [typed, setTyped] = useState("1");
  const days = Number(typed.replace(",", ".").replace("−", "-"));
  const valid = typed.trim() !== "" && !Number.isNaN(days) && days !== 0 && Math.abs(days) <= 2000;
  return (
    <form
      onSubmit={async (event) => {
        event.preventDefault();
        if (
          await changes.shiftBy(
            rows.map((row) => row.id),
            days,
          )
        )
          close();
      }}
    >
      <label className="flex items-center gap-2">
        Shift by
        <input
          className="input w-20 text-right"
          inputMode="decimal"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
        working days
      </label>
      <p className="my-3 text-ink-2">
        Less than nothing shifts to an earlier day. Dates set by hand move, with all under a summary task; what follows
        by its links follows. Deadlines and work that has begun stay where they are.
      </p>
      <Button look="go" type="submit" disabled={!valid}>
        Shift {count(rows.length, "task")}
      </Button>
    </form>
  );
}

/** Find and replace in titles, shown before it is done. */
function Replace({ rows, changes, close }: Props) {
  const [find, setFind] = useState("");
  const [put, setPut] = useState("");
  const [exact, setExact] = useState(false);
  const [wrong, setWrong] = useState("");
  const found = useMemo(() => {
    if (!find) return [];
    const pattern = new RegExp(find.replace(/[.*+?^${}()|[\]\\]/g, "\\$&"), exact ? "g" : "gi");
    return rows
      .map((row) => ({ row, title: row.title.replace(pattern, () => put) }))
      .filter((one) => one.title !== one.row.title);
  }, [rows, find, put, exact]);
  async function apply(event: React.FormEvent) {
    event.preventDefault();
    try {
      const edits = found.map(({ row, title }) => ({ id: row.id, fields: { title }, shown: { title } }));
      await changes.edit(`Titles of ${count(edits.length, "task")}`, edits);
      close();
    } catch (error) {
      setWrong(sentence(error));
    }
  }
  return (
    <form onSubmit={apply}>
      <label className="mb-2 block">
        <span className="label">Find</span>
        <input className="input w-full" value={find} onChange={(event) => setFind(event.target.value)} />
      </label>
      <label className="mb-2 block">
        <span className="label">Replace with</span>
        <input className="input w-full" value={put} onChange={(event) => setPut(event.target.value)} />
      </label>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="accent-rose"
          checked={exact}
          onChange={(event) => setExact(event.target.checked)}
        />
        Large and small letters count
      </label>
      {find && <Summary all={rows.length} some={found.length} why="do not have it" />}
      <ul className="mb-3 max-h-52 overflow-auto">
        {found.slice(0, 100).map(({ row, title }) => (
          <li key={row.id} className="truncate border-t border-rule py-0.5 text-[12.5px]">
            <s className="text-ink-3">{row.title}</s> {title}
          </li>
        ))}
      </ul>
      <Wrong text={wrong || undefined} />
      <Button look="go" type="submit" disabled={!found.length}>
        Replace in {count(found.length, "title")}
      </Button>
    </form>
  );
}
