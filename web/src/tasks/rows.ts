/** The rows of a project: fetched once, then only what changed. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { ask, client } from "../data/api";
import { rowsKey } from "../data/keys";
import { mergeRows, type OutlineRow, outlineOf, type Rows } from "./merge";

export type { OutlineRow, Rows } from "./merge";

export function useRows(code: string) {
  const queries = useQueryClient();
  return useQuery({
    queryKey: rowsKey(code),
    queryFn: async ({ signal }) => {
      const since = queries.getQueryData<Rows>(rowsKey(code))?.mark;
      const answer = await ask(
        client.GET("/api/projects/{code}/tasks", { params: { path: { code }, query: { since } }, signal }),
      );
      return mergeRows(queries.getQueryData<Rows>(rowsKey(code)), answer);
    },
    structuralSharing: false,
    refetchInterval: 5 * 60_000,
  });
}

/** All rows in outline order, with depth and outline number. */
export function useOutline(rows: Rows | undefined): OutlineRow[] {
  return useMemo(() => (rows ? outlineOf(rows.byId) : []), [rows]);
}
