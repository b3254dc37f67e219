/** Choosing a person, a state, a priority or a kind from a short list. */
import { useState } from "react";
import type { Person, Project, TaskRow } from "../data/api";
import { usePeople } from "../data/hooks";
import { Menu, MenuItem, MenuLine, Pop } from "./basics";
import { Facet } from "./facet";
import { PRIORITIES, sayPriority } from "./format";
import { Tile } from "./tile";

export const KINDS = ["task", "milestone", "deliverable", "defect", "risk", "request"] as const;

/** People of the project first, then everyone else, narrowed by what is typed. */
export function PersonList({
  project,
  value,
  onChoose,
  none,
}: {
  project?: Project;
  value: string | null;
  onChoose: (id: string | null) => void;
  none?: string;
}) {
  const { active } = usePeople();
  const [text, setText] = useState("");
  const members = project?.members ?? {};
  const wanted = text.trim().toLowerCase();
  const shown = active
    .filter((person) => person.name.toLowerCase().includes(wanted))
    .sort((a, b) => Number(b.id in members) - Number(a.id in members) || a.name.localeCompare(b.name));
  return (
    <div className="w-60">
      <input
        className="input mb-1 w-full"
        aria-label="Find a person"
        placeholder="Find a person"
        value={text}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => {
          const first = shown[0];
          if (event.key === "Enter" && first) onChoose(first.id);
        }}
      />
      {none && !wanted && (
        <PersonItem person={undefined} name={none} chosen={value === null} onClick={() => onChoose(null)} />
      )}
      {shown.map((person) => (
        <PersonItem
          key={person.id}
          person={person}
          name={person.name}
          chosen={value === person.id}
          onClick={() => onChoose(person.id)}
        />
      ))}
      {!shown.length && <p className="px-2 py-1 text-ink-2">Nobody is called that.</p>}
    </div>
  );
}

function PersonItem({
  person,
  name,
  chosen,
  onClick,
}: {
  person: Person | undefined;
  name: string;
  chosen: boolean;
  onClick: () => void;
}) {
  return (
    <button
      type="button"
      aria-pressed={chosen}
      className={`flex min-h-8 w-full items-center gap-2 px-2 hover:bg-rose-soft focus-visible:bg-rose-soft ${chosen ? "font-semibold" : ""}`}
      onClick={onClick}
    >
      <Tile person={person} size={20} label={false} />
      {name}
    </button>
  );
}

export function PersonChooser({
  project,
  value,
  onChoose,
  trigger,
  none = "No owner",
  label = "Choose a person",
  open,
  onOpenChange,
}: {
  project?: Project;
  value: string | null;
  onChoose: (id: string | null) => void;
  trigger: React.ReactNode;
  none?: string;
  label?: string;
  open?: boolean;
  onOpenChange?: (open: boolean) => void;
}) {
  const [own, setOwn] = useState(false);
  const isOpen = open ?? own;
  const setOpen = onOpenChange ?? setOwn;
  return (
    <Pop trigger={trigger} open={isOpen} onOpenChange={setOpen} label={label}>
      <PersonList
        project={project}
        value={value}
        none={none}
        onChoose={(id) => {
          setOpen(false);
          onChoose(id);
        }}
      />
    </Pop>
  );
}

/** The facet as the button for state. */
export function StateMenu({
  project,
  row,
  onChoose,
  trigger,
  open,
  onOpenChange,
}: {
  project: Project;
  row: TaskRow;
  onChoose: (stateId: string) => void;
  trigger: React.ReactNode;
  open?: boolean;
  onOpenChange?: (open: boolean) => void;
}) {
  // a kind of the project's own may pass through some of the states only
  const through = project.kinds.find((kind) => kind.id === row.kind)?.states ?? [];
  const states = project.states.filter((state) => !through.length || through.includes(state.id));
  return (
    <Menu trigger={trigger} open={open} onOpenChange={onOpenChange}>
      {states.map((state) => (
        <MenuItem key={state.id} chosen={state.id === row.state_id} onSelect={() => onChoose(state.id)}>
          <Facet
            row={{
              ...row,
              kind: "task",
              state_class: state.state_class,
              percent: state.state_class === "finished" ? 100 : row.percent % 100,
            }}
          />
          {state.name}
        </MenuItem>
      ))}
    </Menu>
  );
}

export function PriorityItems({ value, onChoose }: { value: string | null; onChoose: (value: string | null) => void }) {
  return (
    <>
      {PRIORITIES.map((priority) => (
        <MenuItem key={priority} chosen={priority === value} onSelect={() => onChoose(priority)}>
          {sayPriority(priority)}
        </MenuItem>
      ))}
      <MenuLine />
      <MenuItem chosen={value === null} onSelect={() => onChoose(null)}>
        no priority
      </MenuItem>
    </>
  );
}
