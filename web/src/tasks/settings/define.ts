/** Sending what a lead defines: fields, kinds and marks. */

import { useQueryClient } from "@tanstack/react-query";
import { client, newId, type Project } from "../../data/api";
import { projectKey, refreshProject } from "../../data/keys";
import { note } from "../../data/notes";
import { sendUndoable } from "../../data/undo";

export type Sort = "fields" | "kinds" | "marks" | "workflows" | "lanes" | "periods" | "blanks";

/** Each throws the problem where it was refused. */
export function useDefine(project: Project, sort: Sort) {
  const queries = useQueryClient();
  const code = project.code;
  const path = (definition_id: string) => ({ params: { path: { code, sort, definition_id } } });
  const refresh = async () => {
    await queries.invalidateQueries({ queryKey: projectKey(code) });
    refreshProject(queries, code);
  };
  const run = (what: string, call: Parameters<typeof sendUndoable>[3]) => sendUndoable(queries, code, what, call);
  return {
    add: async (name: string, settings: Record<string, unknown>) => {
      const body = { id: newId(), name, settings };
      await run(`Added ${name}`, (headers) =>
        client.POST("/api/projects/{code}/defined/{sort}", { params: { path: { code, sort } }, body, headers }),
      );
      await refresh();
    },
    edit: async (id: string, body: { name?: string; settings?: Record<string, unknown>; after_id?: string | null }) => {
      await run("Changed what the project defines", (headers) =>
        client.PATCH("/api/projects/{code}/defined/{sort}/{definition_id}", {
          ...path(id),
          body: { settings: {}, ...body },
          headers,
        }),
      );
      await refresh();
    },
    /** What stands in a lane or a period goes to another, or to none. */
    moveOut: async (id: string, name: string, move_to: string | null) => {
      await run(`Took away ${name}`, (headers) =>
        client.DELETE("/api/projects/{code}/defined/{sort}/{definition_id}", {
          params: { path: { code, sort, definition_id: id }, query: { move_to: move_to ?? undefined } },
          headers,
        }),
      );
      await refresh();
    },
    remove: async (id: string, name: string) => {
      await run(`Took away ${name}`, (headers) =>
        client.DELETE("/api/projects/{code}/defined/{sort}/{definition_id}", { ...path(id), headers }),
      );
      await refresh();
      note(`“${name}” is taken away. What tasks have in it is kept.`, "plain", {
        label: "Put it back",
        run: () =>
          run(`Put ${name} back`, (headers) =>
            client.POST("/api/projects/{code}/defined/{sort}/{definition_id}/restore", { ...path(id), headers }),
          ).then(refresh),
      });
    },
  };
}
