/** Goals: what the pages ask the server for, and what they send. */
import { type QueryClient, useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { ask, client, newId, type Schemas } from "../data/api";
import { allKey, projectKey } from "../data/keys";
import { sendUndoable } from "../data/undo";
import { fileForm } from "../parts/table-file";

export type Goals = Schemas["GoalsOut"];
export type Goal = Schemas["GoalLine"];
export type GoalDetail = Schemas["GoalOut"];
export type Measure = Schemas["MeasureModel-Input"];
export type GoalNew = Schemas["GoalNew"];
export type GoalEdit = Schemas["GoalEdit"];
export type NoteNew = Schemas["NoteNew"];
export type Outcome = Schemas["CloseIn"]["outcome"];
export type GoalHealth = "steady" | "strained" | "slipping";

export const OUTCOMES: [Outcome, string][] = [
  ["met", "met"],
  ["partly_met", "partly met"],
  ["not_met", "not met"],
  ["withdrawn", "withdrawn"],
];
export const sayOutcome = (outcome: Outcome | null) => OUTCOMES.find(([one]) => one === outcome)?.[1] ?? "";

export const refreshGoals = (queries: QueryClient) => {
  queries.invalidateQueries({ queryKey: allKey("goals") });
  queries.invalidateQueries({ predicate: ({ queryKey }) => queryKey[0] === "project" && queryKey[2] === "goals" });
};

export function useGoals() {
  return useQuery({ queryKey: allKey("goals"), queryFn: () => ask(client.GET("/api/goals")) });
}

export function useGoal(id: string | null) {
  return useQuery({
    queryKey: allKey("goals", id),
    enabled: id !== null,
    queryFn: () => ask(client.GET("/api/goals/{goal_id}", { params: { path: { goal_id: id ?? "" } } })),
  });
}

/** One's own goals whose progress note is due. */
export function useDueNotes() {
  return useQuery({ queryKey: allKey("goals", "due"), queryFn: () => ask(client.GET("/api/goals/due")) });
}

/** The goals that a project serves. */
export function useServed(code: string) {
  return useQuery({
    queryKey: projectKey(code, "goals"),
    queryFn: () => ask(client.GET("/api/projects/{code}/goals", { params: { path: { code } } })),
  });
}

/** What a measure would find now. */
export function useTried(measure: Measure, first: string, last: string, wanted: boolean) {
  return useQuery({
    queryKey: allKey("goals", "tried", measure, first, last),
    enabled: wanted && Boolean(first && last),
    retry: false,
    queryFn: () => ask(client.POST("/api/goals/measure", { body: { measure, first, last } })),
  });
}

export function useGoalActions() {
  const queries = useQueryClient();
  return useMemo(() => {
    const run = async <T>(what: string, call: Parameters<typeof sendUndoable<T>>[3]) => {
      const answer = await sendUndoable<T>(queries, "", what, call);
      refreshGoals(queries);
      return answer;
    };
    const at = (goal_id: string) => ({ params: { path: { goal_id } } });
    return {
      aim: async (goal: Omit<GoalNew, "id">) => {
        const id = newId();
        await run("Set a goal", (headers) => client.POST("/api/goals", { body: { ...goal, id }, headers }));
        return id;
      },
      bring: (file: File) =>
        run<Schemas["BroughtOut"]>(`Brought ${file.name} in`, (headers) =>
          client.POST("/api/goals/table", { ...fileForm(file), headers }),
        ),
      edit: (id: string, body: GoalEdit) =>
        run("Changed a goal", (headers) => client.PATCH("/api/goals/{goal_id}", { ...at(id), body, headers })),
      remove: (id: string) =>
        run("Took a goal away", (headers) => client.DELETE("/api/goals/{goal_id}", { ...at(id), headers })),
      close: (id: string, outcome: Outcome, word: string) =>
        run("Closed a goal", (headers) =>
          client.POST("/api/goals/{goal_id}/close", { ...at(id), body: { outcome, word }, headers }),
        ),
      reopen: (id: string) =>
        run("Opened a goal again", (headers) => client.POST("/api/goals/{goal_id}/open", { ...at(id), headers })),
      note: (id: string, body: NoteNew) =>
        run("Wrote a progress note", (headers) =>
          client.POST("/api/goals/{goal_id}/notes", { ...at(id), body: { ...body, id: newId() }, headers }),
        ),
      removeNote: (note_id: string) =>
        run("Took a progress note away", (headers) =>
          client.DELETE("/api/goals/notes/{note_id}", { params: { path: { note_id } }, headers }),
        ),
      value: (id: string, day: string, value: string) =>
        run("Entered a value", (headers) =>
          client.POST("/api/goals/{goal_id}/values", { ...at(id), body: { id: newId(), day, value }, headers }),
        ),
      removeValue: (goal_id: string, value_id: string) =>
        run("Took a value away", (headers) =>
          client.DELETE("/api/goals/{goal_id}/values/{value_id}", { params: { path: { goal_id, value_id } }, headers }),
        ),
      purpose: (body: Schemas["PurposeEdit"]) =>
        run("Changed what the organisation is there for", (headers) =>
          client.PUT("/api/goals/purpose", { body, headers }),
        ),
      follow: async (id: string, on: boolean) => {
        await ask(client.PUT("/api/goals/{goal_id}/following", { ...at(id), body: { on } }));
        refreshGoals(queries);
      },
      /** nobody waits for it, and nothing is shown of it to who reads */
      read: (id: string) => ask(client.POST("/api/goals/{goal_id}/read", at(id))).catch(() => null),
    };
  }, [queries]);
}
