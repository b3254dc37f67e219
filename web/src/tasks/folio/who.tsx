/** Who works on a task besides its owner, and what holds it. */
import { useState } from "react";
import { type Project, sentence, type TaskRow } from "../../data/api";
import { useMe, usePeople } from "../../data/hooks";
import { note } from "../../data/notes";
import { Pop } from "../../parts/basics";
import { PersonList } from "../../parts/choosers";
import { sayDuration, sayWeekday } from "../../parts/format";
import { TextField } from "../../parts/text-field";
import { Tile } from "../../parts/tile";
import { Cell, type FieldProps } from "./cell";
import { TaskFinder } from "./task-finder";

export function Helpers({
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

/** What holds a task: a reason that is written, or another task until that is finished. */
export function HeldBy({
  row,
  project,
  canEdit,
  edit,
  openTask,
}: FieldProps & {
  openTask: (id: string) => void;
}) {
  const { now } = useMe();
  const [choosing, setChoosing] = useState(false);
  const tell = (fields: Record<string, unknown>) =>
    edit("Held", fields).catch((error) => note(sentence(error), "wrong"));
  const before = row.held_minutes ? `held ${sayDuration(row.held_minutes, project.day_minutes)} before` : "";
  const since = row.held_since ? `since ${sayWeekday(row.held_since, now)}` : "";
  return (
    <Cell label="Held by" wide>
      <span className="flex items-center gap-2">
        {row.held_by_id ? (
          <span className="hatched flex min-w-0 flex-1 items-center gap-2 px-1.5 font-semibold">
            <button
              type="button"
              className="min-w-0 truncate underline decoration-rule-2"
              onClick={() => openTask(row.held_by_id ?? "")}
            >
              {row.held}
            </button>
            {canEdit && (
              <button
                type="button"
                className="ml-auto flex-none py-0.5 font-normal underline"
                onClick={() => tell({ held_by_id: null })}
              >
                let it go on
              </button>
            )}
          </span>
        ) : (
          <span className="min-w-0 flex-1">
            <TextField
              value={row.held_reason ?? ""}
              label="Held by"
              placeholder={canEdit ? "Not held. Write the reason to hold it" : "Not held"}
              readOnly={!canEdit}
              className={`-mx-1.5 w-full px-1.5 ${row.held_reason ? "hatched font-semibold" : ""}`}
              onSave={(text) => edit("Held", { held_reason: text }, { held_reason: text.trim() || null })}
            />
          </span>
        )}
        {canEdit && !row.held && (
          <Pop
            label="The task that holds it"
            align="end"
            open={choosing}
            onOpenChange={setChoosing}
            trigger={
              <button type="button" className="flex-none text-rose hover:underline">
                by a task
              </button>
            }
          >
            <TaskFinder
              code={project.code}
              without={row.id}
              onChoose={(task) => {
                setChoosing(false);
                tell({ held_by_id: task.id });
              }}
            />
          </Pop>
        )}
        {(since || before) && (
          <span className="flex-none text-[11.5px] text-ink-2">{[since, before].filter(Boolean).join(", ")}</span>
        )}
      </span>
    </Cell>
  );
}
