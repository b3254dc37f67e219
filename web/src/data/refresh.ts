import type { QueryClient } from "@tanstack/react-query";

/** Ask again for what a change may have touched. */
export const refreshSoon = (queries: QueryClient, ...keys: unknown[][]) =>
  Promise.all(keys.map((queryKey) => queries.invalidateQueries({ queryKey })));
