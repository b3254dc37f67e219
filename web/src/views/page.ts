/** What every page of a project shows, asked for in one: its rows, what the sentence leaves of them, the horizon. */
import { keepPreviousData, type QueryClient, queryOptions, useQuery, useQueryClient } from "@tanstack/react-query";
import { ask, client } from "../data/api";
import { projectKey, rowsKey } from "../data/keys";
import { mergeRows, type Rows } from "../tasks/merge";
import { type Scope, scopeQuery } from "./scope";

/** Rows are taken over as they come; scope and horizon are kept for the sentence. */
export const pageQuery = (queries: QueryClient, code: string, scope: Scope) =>
  queryOptions({
    queryKey: projectKey(code, "page", scope),
    queryFn: ({ signal }) => askPage(queries, code, scope, signal),
  });

export function usePage(code: string, scope: Scope) {
  return useQuery({
    ...pageQuery(useQueryClient(), code, scope),
    placeholderData: keepPreviousData,
    refetchInterval: 5 * 60_000, // what is late becomes so by the mere passing of time
  });
}

async function askPage(queries: QueryClient, code: string, scope: Scope, signal: AbortSignal) {
  const key = rowsKey(code);
  const mark = queries.getQueryData<Rows>(key)?.mark;
  const query = { ...scopeQuery(scope), mark };
  const { rows, ...answer } = await ask(
    client.GET("/api/projects/{code}/page", { params: { path: { code }, query }, signal }),
  );
  queries.setQueryData<Rows>(key, mergeRows(queries.getQueryData<Rows>(key), rows));
  return answer;
}
