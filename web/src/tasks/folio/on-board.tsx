/** On a task: the lane of the board and the period of the backlog in which it lies. */
import type { Project, TaskRow } from "../../data/api";
import { Menu, MenuItem, MenuLine } from "../../parts/basics";
import { Cell, PICK } from "./cell";

/** One of a few that the project defines for its board, or none. */
export function OnBoard({
  label,
  none,
  all,
  value,
  open,
  choose,
}: {
  label: string;
  none: string;
  all: { id: string; name: string }[];
  value: string | null;
  open: boolean;
  choose: (id: string | null) => void;
}) {
  const name = all.find((one) => one.id === value)?.name ?? none;
  return (
    <Cell label={label}>
      {open ? (
        <Menu
          trigger={
            <button type="button" className={PICK} aria-label={`${label}: ${name}`}>
              {name}
            </button>
          }
        >
          {all.map((one) => (
            <MenuItem key={one.id} chosen={one.id === value} onSelect={() => choose(one.id)}>
              {one.name}
            </MenuItem>
          ))}
          <MenuLine />
          <MenuItem chosen={!value} onSelect={() => choose(null)}>
            {none}
          </MenuItem>
        </Menu>
      ) : (
        name
      )}
    </Cell>
  );
}

/** The lanes of the workflow through which a task goes. */
export const lanesFor = (project: Project, row: TaskRow) => {
  const way = project.states.find((one) => one.id === row.state_id)?.workflow_id ?? null;
  return project.lanes.filter((one) => one.workflow === way);
};
