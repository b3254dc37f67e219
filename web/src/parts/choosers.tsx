/** Choosing a person, a state, a priority or a kind from a short list. */

import { Fragment, useState } from "react";
import type { Person, Project, TaskRow } from "../data/api";
import { usePeople } from "../data/hooks";
import { priorities } from "../data/vocabulary";
import { Menu, MenuHead, MenuItem, MenuLine, Pop } from "./basics";
import { Facet } from "./facet";

import { type Choice, Picker } from "./picker";
import { Tile } from "./tile";

const NOBODY = "nobody";

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
  const members = project?.members ?? {};
  const people = [...active].sort(
    (a, b) => Number(b.id in members) - Number(a.id in members) || a.name.localeCompare(b.name),
  );
  const choiceOf = (person: Person | undefined, name: string): Choice => ({
    id: person?.id ?? NOBODY,
    name,
    chosen: none !== undefined && value === (person?.id ?? null),
    before: <Tile person={person} size={20} label={false} />,
  });
  return (
    <Picker
      label="Find a person"
      nothing="Nobody is called that."
      choices={[...(none ? [choiceOf(undefined, none)] : []), ...people.map((one) => choiceOf(one, one.name))]}
      onChoose={(id) => onChoose(id === NOBODY ? null : id)}
    />
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
  const way = project.states.find((state) => state.id === row.state_id)?.workflow_id;
  const ways = [...new Set([way, ...states.map((state) => state.workflow_id)])];
  return (
    <Menu trigger={trigger} open={open} onOpenChange={onOpenChange}>
      {ways.map((one) => (
        <Fragment key={one ?? ""}>
          {one !== way && (
            <MenuHead>{project.workflows.find((each) => each.id === one)?.name ?? project.workflow_name}</MenuHead>
          )}
          {states
            .filter((state) => state.workflow_id === one)
            .map((state) => (
              <MenuItem key={state.id} chosen={state.id === row.state_id} onSelect={() => onChoose(state.id)}>
                <Facet
                  row={{
                    ...row,
                    kind: "task",
                    state_class: state.state_class,
                    percent: state.state_class === "finished" ? 100 : row.percent % 100,
                  }}
                />
                {state.step && !state.step_of ? `${state.name}: ${state.step}` : state.name}
              </MenuItem>
            ))}
        </Fragment>
      ))}
    </Menu>
  );
}

export function PriorityItems({ value, onChoose }: { value: string | null; onChoose: (value: string | null) => void }) {
  return (
    <>
      {priorities().map(({ id, name }) => (
        <MenuItem key={id} chosen={id === value} onSelect={() => onChoose(id)}>
          {name}
        </MenuItem>
      ))}
      <MenuLine />
      <MenuItem chosen={value === null} onSelect={() => onChoose(null)}>
        no priority
      </MenuItem>
    </>
  );
}
