/** What holds a task in time: its constraint, its calendar, and why it stands where it does. */
import type { Project, TaskRow } from "../../data/api";
import { useMe } from "../../data/hooks";
import { Menu, MenuItem } from "../../parts/basics";
import { sayWeekday } from "../../parts/format";
import { TextField } from "../../parts/text-field";
import { capital, useWhy } from "../../parts/why";
import { Cell, PICK } from "./cell";

/** By which hours a task is worked: the project's, or another calendar of it. */
export function CalendarPick({
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
export const isPinned = (row: TaskRow, name: string) =>
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
export function Constraint({
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
