/** What a portfolio shows, and what its lead joins to it. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { ask, client, newId, type Project, type Schemas } from "../data/api";
import { allKey, refreshProject } from "../data/keys";
import { sendUndoable } from "../data/undo";
import { useChangesOf } from "../tasks/changes";

export type PortfolioAnswer = Schemas["PortfolioOut"];
export type Item = Schemas["PortfolioItemOut"];
export type Part = Schemas["PartOut"];

/** It shows work of many projects, so a change to any of them asks for it again. */
export function usePortfolio(code: string) {
  return useQuery({
    queryKey: allKey("portfolio", code),
    queryFn: ({ signal }) => ask(client.GET("/api/projects/{code}/portfolio", { params: { path: { code } }, signal })),
  });
}

/** Each throws the problem where it was refused. */
export function useParts(code: string) {
  const queries = useQueryClient();
  const run = async (what: string, call: Parameters<typeof sendUndoable>[3]) => {
    await sendUndoable(queries, code, what, call);
    await queries.invalidateQueries({ queryKey: allKey("portfolio", code) });
    refreshProject(queries, code);
  };
  return {
    join: (joined: string, shows: string) =>
      run(`Joined ${joined}`, (headers) =>
        client.POST("/api/projects/{code}/parts", {
          params: { path: { code } },
          body: { id: newId(), code: joined, shows, states: {} },
          headers,
        }),
      ),
    edit: (part: Part, body: { shows?: string; states?: Record<string, string>; after_id?: string | null }) =>
      run(`Changed what is shown of ${part.code}`, (headers) =>
        client.PATCH("/api/projects/{code}/parts/{part_id}", {
          params: { path: { code, part_id: part.id } },
          body,
          headers,
        }),
      ),
    leave: (part: Part) =>
      run(`Took ${part.code} out`, (headers) =>
        client.DELETE("/api/projects/{code}/parts/{part_id}", {
          params: { path: { code, part_id: part.id } },
          headers,
        }),
      ),
  };
}

/** Changes to items, each in its own project; what the portfolio shows follows. */
export function useItemChanges(code: string) {
  const queries = useQueryClient();
  const changesOf = useChangesOf();
  const after = () => queries.invalidateQueries({ queryKey: allKey("portfolio", code) });
  return {
    mark: async (item: Item, marks: string[]) => {
      await changesOf(item.code).editOrTell(`Marks of “${item.title}”`, [
        { id: item.task_id, fields: { marks }, revision: item.revision },
      ]);
      await after();
    },
    tie: async (item: Item, field: string, to: string[]) => {
      await changesOf(item.code).editOrTell(`What “${item.title}” is tied to`, [
        { id: item.task_id, fields: { [`own.${field}`]: to }, revision: item.revision },
      ]);
      await after();
    },
    move: async (item: Item, state_id: string, fields: { lane_id?: string | null }) => {
      await changesOf(item.code).drop([item.task_id], { state_id, after_id: "end", fields }, {});
      await after();
    },
    add: async (title: string, fields: { state_id: string; lane_id?: string | null }) => {
      await changesOf(code).add([{ title, parent_id: null, after_id: "end", fields }]);
      await after();
    },
  };
}

export type Shown = "board" | "list" | "schedule";

/** The field that ties the larger items of a portfolio to work of its parts. */
export const tiedField = (project: Project) => project.fields.find((one) => one.type === "tied" && one.progress);
