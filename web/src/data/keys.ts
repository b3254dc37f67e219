/**
 * The names under which a page keeps what the server said. What belongs to a project stands under its code, so that all
 * of it is asked for again by that prefix; what is over all projects stands under `all`.
 */
import type { QueryClient } from "@tanstack/react-query";

/** Under a project; without a code, under all of them. */
export const projectKey = (code: string, ...rest: unknown[]): unknown[] =>
  code ? ["project", code, ...rest] : ["all", ...rest];
export const allKey = (...rest: unknown[]): unknown[] => ["all", ...rest];
export const rowsKey = (code: string) => projectKey(code, "rows");
export const taskKey = (id: string | null, ...rest: unknown[]): unknown[] => ["task", id, ...rest];

const ROWS = rowsKey("any")[2];

/** Ask again for everything that a change to a project may have touched, also of tasks and over all projects. */
export function refreshProject(queries: QueryClient, code: string, rowsToo = true) {
  queries.invalidateQueries({
    queryKey: projectKey(code),
    predicate: ({ queryKey }) => rowsToo || queryKey[2] !== ROWS,
  });
  queries.invalidateQueries({ queryKey: ["task"] });
  queries.invalidateQueries({ queryKey: allKey() });
}
