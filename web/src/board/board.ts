/** What the server says of a board beside the rows, and what its lead changes on it. */
import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { ask, client, newId, type Project, type Schemas, type State, send } from "../data/api";
import { projectKey, refreshTasks, rowsKey } from "../data/keys";
import { remember } from "../data/undo";
import { mergeRows, type Rows } from "../tasks/merge";
import { useDefine } from "../tasks/settings/define";
import { useSaveProject } from "../tasks/settings/save";
import { withReason } from "./passing";

export type Place = Schemas["PlaceOut"];

/** In which lane each task falls, and how the limits stand. */
export function useBoard(code: string, covers: boolean) {
  return useQuery({
    queryKey: projectKey(code, "board", covers),
    queryFn: ({ signal }) =>
      ask(client.GET("/api/projects/{code}/board", { params: { path: { code }, query: { covers } }, signal })),
    placeholderData: keepPreviousData,
  });
}

/** Changes to the columns of a board; each throws the problem where it was refused. */
export function useColumns(project: Project) {
  const save = useSaveProject(project);
  const path = { code: project.code };
  const of = (state: State) => ({ params: { path: { ...path, state_id: state.id } } });
  return {
    add: (name: string, state_class: State["state_class"], workflow_id: string | null, after_id: string | null) =>
      save(`Added the column ${name}`, (headers) =>
        client.POST("/api/projects/{code}/states", {
          params: { path },
          body: { id: newId(), name, state_class, workflow_id, after_id },
          headers,
        }),
      ),
    edit: (state: State, body: Schemas["StateEdit"]) =>
      save(`Changed the column ${state.name}`, (headers) =>
        client.PATCH("/api/projects/{code}/states/{state_id}", { ...of(state), body, headers }),
      ),
    split: (state: State, first: string, second: string) =>
      save(`Split ${state.name}`, (headers) =>
        client.POST("/api/projects/{code}/states/{state_id}/steps", {
          ...of(state),
          body: { id: newId(), first, second },
          headers,
        }),
      ),
    join: (state: State) =>
      save(`Joined ${state.name} to its stage`, (headers) =>
        client.POST("/api/projects/{code}/states/{state_id}/join", { ...of(state), headers }),
      ),
    limits: (body: Pick<Schemas["ProjectEdit"], "limit_rule" | "person_limit" | "workflow_name">) =>
      save("Changed the limits", (headers) =>
        client.PATCH("/api/projects/{code}", {
          params: { path },
          body: { revision: project.revision, ...body },
          headers,
        }),
      ),
  };
}

/** What a lead defines for the board. */
export const useLanes = (project: Project) => useDefine(project, "lanes");
export const usePeriods = (project: Project) => useDefine(project, "periods");
export const useWorkflows = (project: Project) => useDefine(project, "workflows");
export const useBlanks = (project: Project) => useDefine(project, "blanks");

/** Keep a task as a blank, and make tasks from one. */
export function useFromBlank(code: string) {
  const queries = useQueryClient();
  return useCallback(
    async (blank_id: string, title: string, fields: Record<string, unknown>) => {
      const held = queries.getQueryData<Rows>(rowsKey(code));
      const body = { id: newId(), blank_id, title, fields };
      const answer = await withReason(
        (reason) =>
          send(
            (headers) =>
              client.POST("/api/projects/{code}/tasks/from-blank", {
                params: { path: { code }, query: { since: held?.mark } },
                body,
                headers,
              }),
            { reason },
          ),
        () => {},
      );
      if (!answer) return;
      queries.setQueryData<Rows>(rowsKey(code), mergeRows(queries.getQueryData<Rows>(rowsKey(code)), answer));
      refreshTasks(queries, code, false);
      if (answer.change) remember(queries, { change: answer.change, code, what: "Added a task from a blank" });
    },
    [queries, code],
  );
}
