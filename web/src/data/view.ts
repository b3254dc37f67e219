/** How work is shown: columns, groups, order and tints, kept in the address so that a link can be sent; and sheets. */
import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo } from "react";
import { useSearchParams } from "react-router";
import { ask, client, newId, type Schemas, send } from "./api";
import { asked, partsOf } from "./conditions";
import { refreshSoon } from "./refresh";
import { readScope, type Scope, scopeQuery, writeScope } from "./scope";

export type CatalogueColumn = Schemas["ColumnOut"];
export type Catalogue = Schemas["CatalogueOut"];
export type Sheet = Schemas["SheetOut"];
export type ViewAnswer = Schemas["ViewOut"];
export type ViewGroup = Schemas["ViewGroupOut"];
export type TintCount = Schemas["TintCountOut"];
export type Foot = "sum" | "average" | "least" | "most" | "filled";

/** A clause: field, operator, and what it is held against. */
export type Clause = [key: string, operator: string, value?: unknown];
/** Clauses and groups of them, all or any of which must hold. */
export type Group = { all: (Clause | Group)[] } | { any: (Clause | Group)[] };

export interface ShownColumn {
  key: string;
  width?: number;
  foot?: Foot;
}

export interface Tint {
  id: string;
  name: string;
  where: Group;
  colour: string;
  sign: string;
  covers: ("row" | "cell" | "slip" | "bar")[];
  cell?: string;
}

export interface View {
  /** none: those for which there is room */
  columns?: ShownColumn[];
  groups?: string[];
  sorts?: { key: string; down: boolean }[];
  tints?: Tint[];
}

export const COLOURS = ["ink", "rose", "verdigris", "ochre", "ember", "slate", "violet", "moss"] as const;

/** What a view is without what it leaves to the usual. */
function trimmed(view: View): View {
  const out: View = {};
  if (view.columns?.length) out.columns = view.columns;
  if (view.groups?.length) out.groups = view.groups;
  if (view.sorts?.length) out.sorts = view.sorts;
  if (view.tints?.length) out.tints = view.tints;
  return out;
}

export function readView(params: URLSearchParams): View {
  try {
    return trimmed(JSON.parse(params.get("view") ?? "{}"));
  } catch {
    return {};
  }
}

function writeView(params: URLSearchParams, view: View): URLSearchParams {
  const next = new URLSearchParams(params);
  const text = JSON.stringify(trimmed(view));
  if (text === "{}") next.delete("view");
  else next.set("view", text);
  return next;
}

/** The view in the address, and a way to change parts of it. */
export function useView(): [View, (part: Partial<View>) => void] {
  const [params, setParams] = useSearchParams();
  const text = params.get("view") ?? "";
  // biome-ignore lint/correctness/useExhaustiveDependencies: the text is what changes
  const view = useMemo(() => readView(params), [text]);
  const change = useCallback(
    (part: Partial<View>) => setParams((now) => writeView(now, { ...readView(now), ...part }), { replace: true }),
    [setParams],
  );
  return [view, change];
}

/** Every field by which work can be shown and asked for. */
export function useCatalogue(code: string) {
  return useQuery({
    queryKey: ["columns", code],
    queryFn: () => ask(client.GET("/api/projects/{code}/columns", { params: { path: { code } } })),
    staleTime: 60_000,
  });
}

/** A tint whose condition is still being written colours nothing. */
const finished = (tint: Tint) =>
  tint.covers.length > 0 &&
  tint.name.trim() !== "" &&
  partsOf(tint.where).length > 0 &&
  JSON.stringify(asked(tint.where)) === JSON.stringify(tint.where);

/** The view made for the tasks of the sentence; asked for only where it says something that the rows do not. */
export function useViewAnswer(code: string, scope: Scope, view: View, wanted: boolean) {
  return useQuery({
    queryKey: ["view", code, scope, view],
    enabled: wanted,
    queryFn: ({ signal }) =>
      ask(
        client.POST("/api/projects/{code}/view", {
          params: { path: { code }, query: scopeQuery(scope) },
          body: {
            columns: (view.columns ?? []) as unknown as Record<string, unknown>[],
            groups: view.groups ?? [],
            sorts: view.sorts ?? [],
            tints: (view.tints ?? []).filter(finished) as unknown as Record<string, unknown>[],
          },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
  });
}

/** Each clause of a condition in words. */
export function useClauseWords(code: string, where: string) {
  return useQuery({
    queryKey: ["clauses", code, where],
    enabled: where !== "",
    queryFn: () => ask(client.GET("/api/projects/{code}/clauses", { params: { path: { code }, query: { where } } })),
    placeholderData: keepPreviousData,
    staleTime: 60_000,
  });
}

// --- sheets

export function useSheets(code: string) {
  return useQuery({
    queryKey: ["sheets", code],
    queryFn: () => ask(client.GET("/api/projects/{code}/sheets", { params: { path: { code } } })),
  });
}

/** What a sheet keeps: its lens, and everything of the address that says what is shown and how. */
interface Kept {
  lens: string;
  /** the sentence and the rest, as it stands in an address */
  query: string;
}

const KEPT_OF_BOARD = ["rows", "days"];

/** What stands in an address for a view: the sentence, columns, groups, order and tints, and what the board shows. */
function viewParams(params: URLSearchParams): URLSearchParams {
  const kept = writeView(writeScope(new URLSearchParams(), readScope(params)), readView(params));
  for (const name of KEPT_OF_BOARD) {
    const value = params.get(name);
    if (value) kept.set(name, value);
  }
  kept.sort();
  return kept;
}

const keptOf = (sheet: Sheet) => sheet.view as unknown as Kept;

/** The address that opens a sheet. */
export function sheetAddress(code: string, sheet: Sheet): string {
  const { lens, query } = keptOf(sheet);
  return `/p/${code}/${lens}?sheet=${sheet.id}${query ? `&${query}` : ""}`;
}

/** True where what is shown is no longer what the sheet keeps. */
export const sheetChanged = (sheet: Sheet, lens: string, params: URLSearchParams) =>
  keptOf(sheet).lens !== lens ||
  viewParams(new URLSearchParams(keptOf(sheet).query)).toString() !== viewParams(params).toString();

/** What a sheet would keep now. */
function toKeep(lens: string, params: URLSearchParams) {
  const view = readView(params);
  const query = viewParams(params).toString();
  // the parts that the server checks stand beside the address that the page reads
  return { lens, query, ...trimmed(view), where: readScope(params).where || undefined } as Record<string, unknown>;
}

export function useSheetChanges(code: string) {
  const queries = useQueryClient();
  const refresh = () => refreshSoon(queries, ["sheets", code]);
  const at = (sheet_id: string) => ({ params: { path: { code, sheet_id } } });
  const edit = (id: string, body: Partial<Schemas["SheetEdit"]>) =>
    send((headers) => client.PATCH("/api/projects/{code}/sheets/{sheet_id}", { ...at(id), body, headers })).finally(
      refresh,
    );
  return {
    keep: async (name: string, seen_by: string, people: string[], lens: string, params: URLSearchParams) => {
      const id = newId();
      const body = { id, name, seen_by, people, view: toKeep(lens, params) };
      await send((headers) =>
        client.POST("/api/projects/{code}/sheets", { params: { path: { code } }, body, headers }),
      ).finally(refresh);
      return id;
    },
    keepAnew: (id: string, lens: string, params: URLSearchParams) => edit(id, { view: toKeep(lens, params) }),
    edit,
    remove: (id: string) =>
      send((headers) => client.DELETE("/api/projects/{code}/sheets/{sheet_id}", { ...at(id), headers })).finally(
        refresh,
      ),
  };
}
