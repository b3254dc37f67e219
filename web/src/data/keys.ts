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

/** What of a project changes only with its settings: itself, what can be shown, what is kept and agreed. */
const SETTINGS = new Set<unknown>([undefined, "columns", "sheets", "agreed", "checklists"]);
const ROWS = rowsKey("any")[2];

/** Ask again for what a change to tasks may have touched, also over all projects; of it what is on the screen at once. */
export function refreshTasks(queries: QueryClient, code: string, rowsToo = true) {
  queries.invalidateQueries({
    queryKey: projectKey(code),
    predicate: ({ queryKey: [, , what] }) => !SETTINGS.has(what) && (rowsToo || what !== ROWS),
  });
  queries.invalidateQueries({ queryKey: ["task"] });
  queries.invalidateQueries({
    queryKey: allKey(),
    predicate: ({ queryKey: [, what] }) => what !== "notices" && !SETTINGS.has(what),
  });
}

/** Ask again for everything of a project. */
export function refreshProject(queries: QueryClient, code: string) {
  queries.invalidateQueries({ queryKey: projectKey(code) });
  queries.invalidateQueries({ queryKey: ["task"] });
  queries.invalidateQueries({ queryKey: allKey() });
}
