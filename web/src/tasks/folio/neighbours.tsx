import { useState } from "react";
import type { Schemas } from "../../data/api";
import { Facet } from "../../parts/facet";
import { Cell } from "./cell";

const MOST_NEIGHBOURS = 6;

/** The tasks at the other ends of its links: the way there; back leads the same list in the other one. */
export function Neighbours({
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
