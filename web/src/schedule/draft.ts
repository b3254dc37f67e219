/** Drafts of a plan: entered and left, compared with it, started, changed and thrown away. */

import { type QueryClient, useQuery, useQueryClient } from "@tanstack/react-query";
import { ask, client, newId, type Schemas, send } from "../data/api";
import { projectKey } from "../data/keys";
import { makeStore } from "../data/store";

export type Draft = Schemas["DraftOut"];
export type DraftComparison = Schemas["DraftComparisonOut"];

/** What is kept of projects was read with a draft, or without one: it is no use on the other side. */
const READ_WITH = new Set(["rows", "page", "brief", "view", "compare", "soundness", "print"]);
let readWith: string | null = null;

/** To be called while a page is drawn: enters or leaves a draft. */
export function enterDraft(queries: QueryClient, id: string | null) {
  if (readWith === id) return;
  readWith = id;
  queries.removeQueries({ queryKey: ["task"] });
  queries.removeQueries({
    queryKey: ["project"],
    predicate: ({ queryKey }) => READ_WITH.has(String(queryKey[2])),
  });
}

/** A draft to be opened, when it was made away from a page's own hands. */
export const toOpen = makeStore<string | null>(null);

export function useDrafts(code: string) {
  return useQuery({
    queryKey: projectKey(code, "drafts"),
    queryFn: () => ask(client.GET("/api/projects/{code}/drafts", { params: { path: { code } } })),
  });
}

/** The draft that the page is in, beside the plan. */
export function useDraftComparison(code: string, id: string | null) {
  return useQuery({
    queryKey: projectKey(code, "draft", id),
    enabled: id !== null,
    queryFn: () =>
      ask(
        client.GET("/api/projects/{code}/drafts/{draft_id}/comparison", {
          params: { path: { code, draft_id: id ?? "" } },
        }),
      ),
  });
}

/** Start a draft, empty or as a copy of another. */
export function startDraft(code: string, name: string, copyOf?: string): Promise<Draft> {
  const body = { id: newId(), name, copy_of: copyOf ?? null };
  return send((headers) => client.POST("/api/projects/{code}/drafts", { params: { path: { code } }, body, headers }));
}

/** Rename, share, throw away. */
export function useDraftChanges(code: string) {
  const queries = useQueryClient();
  const refresh = () => {
    queries.invalidateQueries({ queryKey: projectKey(code, "drafts") });
    queries.invalidateQueries({ queryKey: projectKey(code, "draft") });
  };
  const path = (draft_id: string) => ({ params: { path: { code, draft_id } } });
  return {
    start: (name: string, copyOf?: string) => startDraft(code, name, copyOf).finally(refresh),
    edit: (id: string, body: { name?: string; shared?: boolean }) =>
      send((headers) => client.PATCH("/api/projects/{code}/drafts/{draft_id}", { ...path(id), body, headers })).finally(
        refresh,
      ),
    /** Throw a draft away. Resolves to the change by which that can be taken back. */
    remove: async (id: string) => {
      let change = "";
      await send((headers) => {
        change = headers["Rhodonite-Change"];
        return client.DELETE("/api/projects/{code}/drafts/{draft_id}", { ...path(id), headers });
      }).finally(refresh);
      return change;
    },
    restore: (change_id: string) =>
      send((headers) =>
        client.POST("/api/changes/{change_id}/undo", { params: { path: { change_id } }, headers }),
      ).finally(refresh),
  };
}
