/** The rows of a project: fetched once, then only what changed. */
import { type QueryClient, skipToken, useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { ask, client, type TaskRow } from "../data/api";
import { rowsKey } from "../data/keys";
import { mergeRows, type OutlineRow, outlineOf, type Rows } from "./merge";

export type { OutlineRow, Rows } from "./merge";

/** The rows as they are held, which somebody else asks for. */
export function useHeldRows(code: string): Rows | undefined {
  return useQuery<Rows>({ queryKey: rowsKey(code), queryFn: skipToken, structuralSharing: false }).data;
}

/** One row as it is held, and when that was last brought up to date, in milliseconds. */
export function useHeldRow(code: string, id: string): { row: TaskRow | undefined; at: number } {
  const { data, dataUpdatedAt } = useQuery<Rows, Error, TaskRow | undefined>({
    queryKey: rowsKey(code),
    queryFn: skipToken,
    structuralSharing: false,
    select: (rows) => rows.byId.get(id),
  });
  return { row: data, at: dataUpdatedAt };
}

export function useRows(code: string) {
  const queries = useQueryClient();
  return useQuery({
    queryKey: rowsKey(code),
    queryFn: ({ signal }) => askRows(queries, code, signal),
    structuralSharing: false,
    refetchInterval: 5 * 60_000,
  });
}

/** Ask for what has changed of the rows, and give all of them. */
async function askRows(queries: QueryClient, code: string, signal?: AbortSignal): Promise<Rows> {
  const held = () => queries.getQueryData<Rows>(rowsKey(code));
  const query = { since: held()?.mark };
  const answer = await ask(client.GET("/api/projects/{code}/tasks", { params: { path: { code }, query }, signal }));
  return mergeRows(held(), answer);
}

/** Bring the rows that are held up to date. */
export async function refreshRows(queries: QueryClient, code: string) {
  queries.setQueryData<Rows>(rowsKey(code), await askRows(queries, code));
}

/** All rows in outline order, with depth and outline number. */
export function useOutline(rows: Rows | undefined): OutlineRow[] {
  return useMemo(() => (rows ? outlineOf(rows.byId) : []), [rows]);
}
