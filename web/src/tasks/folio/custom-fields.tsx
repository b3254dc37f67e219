/** The project's own fields and its marks, on one task. */
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { type Project, sentence } from "../../data/api";
import { usePeople } from "../../data/hooks";
import { rowsKey } from "../../data/keys";
import { note } from "../../data/notes";
import { Pop, Tick } from "../../parts/basics";
import { Sign } from "../../parts/sign";
import { TextField } from "../../parts/text-field";
import { CustomFieldPicker } from "../custom-field-picker";
import { type CustomField, ownKey, ownText, TYPED } from "../custom-fields";
import type { Rows } from "../rows";
import { Cell, type FieldProps, PICK } from "./cell";
import { TaskFinder } from "./task-finder";
import { TiedWork } from "./tied";

interface OwnProps extends FieldProps {
  field: CustomField;
  /** what a computed field gives, in words */
  computed: string;
  openTask: (id: string) => void;
}

export function CustomCell(props: OwnProps) {
  const { field, row, project, canEdit, edit, computed } = props;
  const people = usePeople();
  const value = row.own[field.id];
  const needed = project.states.find((state) => state.id === field.required_from);
  const hint = [field.help, needed && `Needed from ${needed.name} on`].filter(Boolean).join(". ") || undefined;
  const save = (next: unknown) =>
    edit(field.name, { [ownKey(field)]: next }, { own: { ...row.own, [field.id]: next } }).catch((error) =>
      note(sentence(error), "wrong"),
    );
  const text = ownText(field, value, people);
  return (
    <Cell
      label={field.name}
      wide={["text", "tasks", "tied", "choices"].includes(field.type)}
      tall={field.type === "tied"}
    >
      <span title={hint} className="block">
        {field.type === "computed" ? (
          <span className="tabular-nums" title={`Computed: ${field.formula}`}>
            {computed || <span className="text-ink-3">nothing yet</span>}
          </span>
        ) : field.type === "tied" ? (
          <TiedWork {...props} save={save} />
        ) : field.type === "tasks" ? (
          <CustomTasks {...props} save={save} />
        ) : field.type === "link" && text ? (
          <span className="flex items-center gap-2">
            <a href={text} target="_blank" rel="noreferrer" className="min-w-0 truncate text-rose underline">
              {text.replace(/^https?:\/\//, "")}
            </a>
            {canEdit && (
              <button
                type="button"
                className="text-ink-2 hover:text-ink"
                aria-label={`Clear ${field.name}`}
                onClick={() => save(null)}
              >
                ×
              </button>
            )}
          </span>
        ) : TYPED.has(field.type) ? (
          <TextField
            value={text}
            label={field.name}
            readOnly={!canEdit}
            placeholder={field.help || undefined}
            className="-mx-1.5 w-full px-1.5"
            onSave={(typed) => edit(field.name, { [ownKey(field)]: typed })}
          />
        ) : canEdit ? (
          <Choose field={field} project={project} value={value} text={text} save={save} />
        ) : (
          text || "none"
        )}
      </span>
    </Cell>
  );
}

function Choose({
  field,
  project,
  value,
  text,
  save,
}: {
  field: CustomField;
  project: Project;
  value: unknown;
  text: string;
  save: (value: unknown) => void;
}) {
  const [open, setOpen] = useState(false);
  return (
    <Pop
      label={field.name}
      open={open}
      onOpenChange={setOpen}
      trigger={
        <button type="button" className={PICK} aria-label={`${field.name}: ${text || "none"}`}>
          {text || <span className="text-ink-3">none</span>}
        </button>
      }
    >
      <CustomFieldPicker
        field={field}
        value={value}
        project={project}
        onChoose={(next, close) => {
          save(next);
          if (close) setOpen(false);
        }}
      />
    </Pop>
  );
}

/** Tasks of a kind that this one points to. */
function CustomTasks({ field, row, project, canEdit, openTask, save }: OwnProps & { save: (value: unknown) => void }) {
  const rows = useQueryClient().getQueryData<Rows>(rowsKey(project.code));
  const ids = (row.own[field.id] as string[] | undefined) ?? [];
  const [open, setOpen] = useState(false);
  return (
    <span className="flex flex-wrap items-center gap-x-3 gap-y-1">
      {ids.map((id) => (
        <span key={id} className="flex items-center gap-1">
          <button type="button" className="hover:underline" onClick={() => openTask(id)}>
            {rows?.byId.get(id)?.title ?? "a task that is gone"}
          </button>
          {canEdit && (
            <button
              type="button"
              className="text-ink-2 hover:text-ink"
              aria-label={`Take out ${rows?.byId.get(id)?.title}`}
              onClick={() => save(ids.filter((one) => one !== id))}
            >
              ×
            </button>
          )}
        </span>
      ))}
      {canEdit && (
        <Pop
          label={field.name}
          open={open}
          onOpenChange={setOpen}
          trigger={
            <button type="button" className="text-rose hover:underline">
              + task
            </button>
          }
        >
          <TaskFinder
            code={project.code}
            without={row.id}
            fits={(id) => !field.target_kind || rows?.byId.get(id)?.kind === field.target_kind}
            onChoose={(task) => {
              setOpen(false);
              if (!ids.includes(task.id)) save([...ids, task.id]);
            }}
          />
        </Pop>
      )}
      {!canEdit && !ids.length && <span className="text-ink-3">none</span>}
    </span>
  );
}

/** The project's marks: put on and taken off by hand. */
export function MarksField({ row, project, canEdit, edit }: FieldProps) {
  const on = project.marks.filter((mark) => row.marks.includes(mark.id));
  const set = (marks: string[]) => edit("Marks", { marks }, { marks }).catch((error) => note(sentence(error), "wrong"));
  const shown = on.length ? (
    on.map((mark) => (
      <span key={mark.id} className="mr-3 inline-flex items-center gap-1">
        <Sign shape={mark.shape} colour={mark.colour} /> {mark.name}
      </span>
    ))
  ) : (
    <span className="text-ink-3">none</span>
  );
  if (!canEdit) return shown;
  return (
    <Pop
      label="Marks"
      trigger={
        <button
          type="button"
          className={PICK}
          aria-label={`Marks: ${on.map((mark) => mark.name).join(", ") || "none"}`}
        >
          {shown}
        </button>
      }
    >
      {project.marks.map((mark) => (
        <Tick
          key={mark.id}
          checked={row.marks.includes(mark.id)}
          onChange={(checked) => set(checked ? [...row.marks, mark.id] : row.marks.filter((one) => one !== mark.id))}
        >
          <Sign shape={mark.shape} colour={mark.colour} /> {mark.name}
        </Tick>
      ))}
    </Pop>
  );
}
