/** On a task: what it is tied to in other projects, and the fields that are carried across, changed here as there. */
import { ArrowUpRight } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import { sentence } from "../../data/api";
import { useMe, useProject } from "../../data/hooks";
import { note } from "../../data/notes";
import { priorities } from "../../data/vocabulary";
import { Pop } from "../../parts/basics";
import { PersonList } from "../../parts/choosers";
import { sayDay } from "../../parts/format";
import { Health } from "../../parts/health";
import { Picker } from "../../parts/picker";
import { TextField } from "../../parts/text-field";
import { type Tied, useEditTied, useTied } from "../../views/tied";
import type { CustomField } from "../custom-fields";
import type { FieldProps } from "./cell";
import { TaskFinder } from "./task-finder";

export function TiedWork({
  field,
  row,
  project,
  canEdit,
  save,
}: FieldProps & { field: CustomField; save: (value: unknown) => void }) {
  const here = useTied(project)[row.id]?.find((one) => one.field_id === field.id);
  const ids = (row.own[field.id] as string[] | undefined) ?? [];
  const [open, setOpen] = useState(false);
  return (
    <span className="block py-1">
      {here?.tied.map((one) => (
        <TiedTask
          key={one.task_id}
          code={project.code}
          tied={one}
          untie={canEdit ? () => save(ids.filter((id) => id !== one.task_id)) : undefined}
        />
      ))}
      {here !== undefined && here.hidden > 0 && (
        <span className="block text-[12px] text-ink-2">
          {here.hidden === 1 ? "One more that you may not see" : `${here.hidden} more that you may not see`}
        </span>
      )}
      {field.progress && ids.length > 0 && (
        <span className="block text-[12px] text-ink-2">Its percent done comes from what it is tied to.</span>
      )}
      {canEdit ? (
        <Pop
          label={field.name}
          open={open}
          onOpenChange={setOpen}
          trigger={
            <button type="button" className="text-rose hover:underline">
              + task of another project
            </button>
          }
        >
          <TaskFinder
            without={row.id}
            onChoose={(task) => {
              setOpen(false);
              if (task.code === project.code) note("That task is of this project. Tie work of another.", "wrong");
              else if (!ids.includes(task.id)) save([...ids, task.id]);
            }}
          />
        </Pop>
      ) : (
        !ids.length && <span className="text-ink-3">none</span>
      )}
    </span>
  );
}

function TiedTask({ code, tied, untie }: { code: string; tied: Tied; untie?: () => void }) {
  const edit = useEditTied(code);
  const { now } = useMe();
  const name = `${tied.code} ${tied.number}`;
  return (
    <span className="mb-1.5 block border-l-2 border-slate pl-2">
      <span className="flex items-center gap-1.5">
        <Link
          to={`/p/${tied.code}/task/${tied.number}`}
          className="min-w-0 truncate font-[550] hover:underline"
          title={`Open ${name} in its project`}
        >
          <ArrowUpRight size={13} className="mr-1 inline text-slate" aria-hidden="true" />
          {tied.title}
        </Link>
        <span className="flex-none text-[11.5px] text-ink-2">{name}</span>
        <span className="ml-auto flex-none">
          <Health value={tied.health} />
        </span>
        {untie && (
          <button
            type="button"
            className="flex-none text-ink-2 hover:text-ink"
            aria-label={`Untie ${tied.title}`}
            onClick={untie}
          >
            ×
          </button>
        )}
      </span>
      <span className="grid grid-cols-2 gap-x-3">
        {tied.carried.map((one) => (
          <span key={one.name} className="flex min-h-7 items-center gap-1.5">
            <span className="w-[76px] flex-none truncate text-[11.5px] text-ink-2" title={`${one.called} of ${name}`}>
              {one.called}
            </span>
            {one.field && tied.may_edit && TYPED.has(one.name) ? (
              <span className="min-w-0 flex-1">
                <TextField
                  value={one.type === "date" ? sayDay(one.words || null, now) : one.words}
                  label={`${one.called} of ${name}`}
                  className="w-full px-1"
                  onSave={(text) => edit(tied, one.called, { [one.field ?? ""]: text })}
                />
              </span>
            ) : one.field && tied.may_edit && one.name in CHOSEN ? (
              <Choose tied={tied} carried={one} save={(fields) => edit(tied, one.called, fields)} />
            ) : (
              <span className="min-w-0 truncate">
                {one.type === "date" ? sayDay(one.words || null, now) : one.words}
              </span>
            )}
          </span>
        ))}
      </span>
    </span>
  );
}

type Carried = Tied["carried"][number];

interface ChoiceProps {
  tied: Tied;
  choose: (fields: Record<string, unknown>) => void;
}

/** What is carried and chosen from a list of the other project. */
const CHOSEN: Record<string, (props: ChoiceProps) => React.ReactNode> = {
  state: StateChoice,
  owner: OwnerChoice,
  priority: PriorityChoice,
};

function Choose({
  tied,
  carried,
  save,
}: {
  tied: Tied;
  carried: Carried;
  save: (fields: Record<string, unknown>) => Promise<void>;
}) {
  const [open, setOpen] = useState(false);
  const label = `${carried.called} of ${tied.code} ${tied.number}`;
  const List = CHOSEN[carried.name];
  return (
    <Pop
      label={label}
      open={open}
      onOpenChange={setOpen}
      trigger={
        <button
          type="button"
          className="min-w-0 truncate px-1 hover:bg-rose-soft"
          aria-label={`${label}: ${carried.words || "none"}`}
        >
          {carried.words || <span className="text-ink-3">none</span>}
        </button>
      }
    >
      {List && (
        <List
          tied={tied}
          choose={(fields) => {
            setOpen(false);
            save(fields).catch((error) => note(sentence(error), "wrong"));
          }}
        />
      )}
    </Pop>
  );
}

function StateChoice({ tied, choose }: ChoiceProps) {
  const states = useProject(tied.code).data?.states ?? [];
  return (
    <Picker
      label="Find a state"
      choices={states.map((one) => ({ id: one.id, name: one.label, chosen: one.label === tied.state }))}
      onChoose={(state_id) => choose({ state_id })}
    />
  );
}

function OwnerChoice({ tied, choose }: ChoiceProps) {
  const project = useProject(tied.code).data;
  return <PersonList project={project} value={null} none="No owner" onChoose={(owner_id) => choose({ owner_id })} />;
}

function PriorityChoice({ choose }: ChoiceProps) {
  return (
    <Picker
      label="Find a priority"
      choices={[...priorities().map(({ id, name }) => ({ id, name })), { id: "", name: "no priority" }]}
      onChoose={(priority) => choose({ priority: priority || null })}
    />
  );
}

/** Of what is carried that which is typed. */
const TYPED = {
  has: (name: string) => ["start", "finish", "deadline", "percent", "effort"].includes(name) || name.startsWith("own:"),
};
