/** How a task stands to others besides links: what waits for it, and what it is related to. */
import { useState } from "react";
import { useNavigate } from "react-router";
import type { Project } from "../../data/api";
import { Button, Pop } from "../../parts/basics";
import { Facet } from "../../parts/facet";
import { Section } from "../../shell/folio/section";
import { TaskFinder } from "../../tasks/folio/task-finder";
import { orTell, type Parts, type Related, type RelationType } from "../parts";

const TYPES: [RelationType, string][] = [
  ["related", "related to"],
  ["duplicate", "duplicate of"],
  ["origin", "comes from"],
];

export function Relations({
  id,
  related,
  project,
  canEdit,
  parts,
  openTask,
}: {
  id: string;
  related: Related[];
  project: Project;
  canEdit: boolean;
  parts: Parts;
  openTask: (id: string) => void;
}) {
  const [open, setOpen] = useState(false);
  const [type, setType] = useState<RelationType>("related");
  const navigate = useNavigate();
  const go = (one: Related) =>
    one.code === project.code ? openTask(one.task_id) : navigate(`/p/${one.code}/outline?open=${one.task_id}`);
  if (!canEdit && !related.length) return null;
  return (
    <Section
      title="Relations"
      end={
        canEdit && (
          <Pop
            label="Relate to another task"
            align="end"
            open={open}
            onOpenChange={setOpen}
            trigger={
              <button type="button" className="text-rose hover:underline">
                + relation
              </button>
            }
          >
            <fieldset className="mb-1 flex gap-1">
              <legend className="sr-only">How this task stands to it</legend>
              {TYPES.map(([value, words]) => (
                <label
                  key={value}
                  className={`cursor-pointer px-2 py-1 ${value === type ? "bg-rose-soft font-semibold" : ""}`}
                >
                  <input
                    type="radio"
                    name="relation"
                    className="sr-only"
                    checked={value === type}
                    onChange={() => setType(value)}
                  />
                  {words}
                </label>
              ))}
            </fieldset>
            <TaskFinder
              without={id}
              onChoose={(task) => {
                setOpen(false);
                orTell(parts.relate(task.id, type));
              }}
            />
          </Pop>
        )
      }
    >
      {related.length ? (
        <ul>
          {related.map((one) => (
            <li key={one.id} className="flex min-h-8 items-center gap-2 border-b border-rule">
              <span className="w-28 flex-none text-[12px] text-ink-2">{one.word}</span>
              <Facet
                row={{ percent: 0, health: "not_judged", kind: "task", state_class: one.state_class as "queued" }}
                size={14}
              />
              <button type="button" className="min-w-0 truncate hover:underline" onClick={() => go(one)}>
                {one.title}
              </button>
              <span className="flex-none text-[11.5px] text-ink-2">
                {one.code} {one.number}
              </span>
              {canEdit && (
                <span className="ml-auto flex flex-none gap-2 text-[12px]">
                  {one.type === "duplicate" && one.outgoing && (
                    <Button look="rose" className="!h-6 !px-1.5" onClick={() => orTell(parts.closeDuplicate(one.id))}>
                      Close as duplicate
                    </Button>
                  )}
                  <button
                    type="button"
                    className="text-ink-2 hover:text-ink"
                    aria-label={`Take away: ${one.word} ${one.title}`}
                    onClick={() => orTell(parts.unrelate(one.id))}
                  >
                    ×
                  </button>
                </span>
              )}
            </li>
          ))}
        </ul>
      ) : (
        <p className="text-ink-3">None besides its links.</p>
      )}
    </Section>
  );
}
