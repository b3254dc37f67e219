/** The checklists that the project keeps for loading on its tasks. */

import { useQueryClient } from "@tanstack/react-query";
import { Trash2 } from "lucide-react";
import { client, type Project } from "../../data/api";
import { projectKey } from "../../data/keys";
import { sendUndoable } from "../../data/undo";
import { IconButton } from "../../parts/basics";
import { count } from "../../parts/format";
import { orTell, useChecklistTemplates } from "../../talk/parts";

export function KeptChecklists({ project }: { project: Project }) {
  const { code } = project;
  const queries = useQueryClient();
  const { data = [] } = useChecklistTemplates(code);
  const remove = (template_id: string, name: string) =>
    orTell(
      sendUndoable(queries, code, `Took the checklist ${name} away`, (headers) =>
        client.DELETE("/api/projects/{code}/checklists/{template_id}", {
          params: { path: { code, template_id } },
          headers,
        }),
      ).finally(() => queries.invalidateQueries({ queryKey: projectKey(code, "checklists") })),
    );
  return (
    <section>
      <h2 className="mb-1 text-[17px]">Checklists to load</h2>
      <p className="mb-2 text-ink-2">
        {data.length ? "Kept" : "None is kept yet. They are kept"} from a task by “Keep for other tasks”, and loaded by
        “+ checklist”.
      </p>
      <ul>
        {data.map((one) => (
          <li key={one.id} className="flex min-h-9 items-start gap-2 border-b border-rule">
            <details className="min-w-0 flex-1 py-1">
              <summary>
                <b className="font-semibold">{one.name}</b>{" "}
                <span className="text-ink-2">{count(one.items.length, "line")}</span>
              </summary>
              <ul className="mt-1 list-disc pl-8 text-ink-2">
                {one.items.map((item) => (
                  <li key={item}>{item}</li>
                ))}
              </ul>
            </details>
            <IconButton label={`Take away the checklist ${one.name}`} onClick={() => remove(one.id, one.name)}>
              <Trash2 size={14} />
            </IconButton>
          </li>
        ))}
      </ul>
    </section>
  );
}
