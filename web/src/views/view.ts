/** How work is shown: columns, groups, order and tints, kept in the address so that a link can be sent; and sheets. */

import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo } from "react";
import { useSearchParams } from "react-router";
import { ask, client, newId, type Project, type Schemas } from "../data/api";
import { allKey, projectKey } from "../data/keys";
import { refreshSoon } from "../data/refresh";
import { sendUndoable } from "../data/undo";
import type { RowTints, Tint } from "../parts/tint";
import { asked, partsOf } from "./conditions";
import { readScope, type Scope, scopeQuery, writeScope } from "./scope";

export type CatalogueColumn = Schemas["ColumnOut"];
export type Catalogue = Schemas["CatalogueOut"];
export type Sheet = Schemas["SheetOut"];
export type ViewAnswer = Schemas["ViewOut"];
export type ViewGroup = Schemas["ViewGroupOut"];
export type TintCount = Schemas["TintCountOut"];
export type SeenBy = Schemas["SheetNew"]["seen_by"];
export type Foot = "sum" | "average" | "least" | "most" | "filled";

export type { Clause, Group } from "../data/clauses";
export type { Tint } from "../parts/tint";

export interface ShownColumn {
  key: string;
  width?: number;
  foot?: Foot;
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

/** What a sentence speaks of: a project, or all of them, which have no code. */
export type Ground = Pick<Project, "code" | "kinds" | "states" | "members" | "may">;
export const ALL_PROJECTS: Ground = { code: "", kinds: [], states: [], members: {}, may: [] };

/** Every field by which work can be shown and asked for. */
export function useCatalogue(code: string) {
  return useQuery({
    queryKey: projectKey(code, "columns"),
    queryFn: () =>
      code
        ? ask(client.GET("/api/projects/{code}/columns", { params: { path: { code } } }))
        : ask(client.GET("/api/columns")),
    staleTime: 60_000,
  });
}

/** A tint whose condition is still being written colours nothing. */
const finished = (tint: Tint) =>
  tint.covers.length > 0 &&
  tint.name.trim() !== "" &&
  partsOf(tint.where).length > 0 &&
  JSON.stringify(asked(tint.where)) === JSON.stringify(tint.where);

/** The tints of a view that can be asked for. */
export const tintsOnly = (view: View) => ({ tints: (view.tints ?? []).filter(finished) });

/** The tints of a view as print and exports take them. */
export function tintQuery(view: View): string | undefined {
  const only = tintsOnly(view);
  return only.tints.length ? JSON.stringify(only) : undefined;
}

const viewBody = (view: View): Schemas["ViewIn"] => ({
  columns: view.columns ?? [],
  groups: view.groups ?? [],
  sorts: view.sorts ?? [],
  tints: tintsOnly(view).tints,
});

/** The view made for the tasks of the sentence; asked for only where it says something that the rows do not. */
export function useViewAnswer(code: string, scope: Scope, view: View, wanted: boolean) {
  return useQuery({
    queryKey: projectKey(code, "view", scope, view),
    enabled: wanted,
    queryFn: ({ signal }) =>
      ask(
        client.POST("/api/projects/{code}/view", {
          params: { path: { code }, query: scopeQuery(scope) },
          body: viewBody(view),
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
  });
}

/** The view made for the tasks of all projects that the sentence leaves. */
export function useAcross(scope: Scope, view: View) {
  return useQuery({
    queryKey: allKey("across", scope, view),
    queryFn: ({ signal }) =>
      ask(client.POST("/api/view", { params: { query: scopeQuery(scope) }, body: viewBody(view), signal })),
    placeholderData: keepPreviousData,
  });
}

/** By task the tints that colour it. */
export function useTints(view: View, answer: ViewAnswer | undefined): Map<string, RowTints> | undefined {
  return useMemo(() => {
    if (!view.tints?.length || !answer) return undefined;
    const byId = new Map(view.tints.map((one) => [one.id, one]));
    const found = new Map<string, RowTints>();
    for (const [task, given] of Object.entries(answer.tints)) {
      const tints: RowTints = {};
      for (const [target, id] of Object.entries(given)) {
        const tint = byId.get(id);
        if (tint) tints[target] = tint;
      }
      found.set(task, tints);
    }
    return found;
  }, [view.tints, answer]);
}

/** Each clause of a condition in words. */
export function useClauseWords(code: string, where: string) {
  return useQuery({
    queryKey: projectKey(code, "clauses", where),
    enabled: where !== "",
    queryFn: () =>
      code
        ? ask(client.GET("/api/projects/{code}/clauses", { params: { path: { code }, query: { where } } }))
        : ask(client.GET("/api/clauses", { params: { query: { where } } })),
    placeholderData: keepPreviousData,
    staleTime: 60_000,
  });
}

// --- sheets

export function useSheets(code: string) {
  return useQuery({
    queryKey: projectKey(code, "sheets"),
    queryFn: () =>
      code
        ? ask(client.GET("/api/projects/{code}/sheets", { params: { path: { code } } }))
        : ask(client.GET("/api/sheets")),
  });
}

/** What a sheet keeps: its lens, and everything of the address that says what is shown and how. */
interface Kept {
  lens: string;
  /** the sentence and the rest, as it stands in an address */
  query: string;
}

/** Of the board its rows and days; of the report of time its groups, people, projects and days. */
const KEPT_BESIDES = [
  ...["rows", "days", "slips", "fields", "covers", "zoom", "folded"],
  ...["by", "who", "projects", "charged", "period", "from", "to"],
  ...["teams", "state", "health"],
];

/** What stands in an address for a view: the sentence, columns, groups, order and tints, and what the board shows. */
function viewParams(params: URLSearchParams): URLSearchParams {
  const kept = writeView(writeScope(new URLSearchParams(), readScope(params)), readView(params));
  for (const name of KEPT_BESIDES) {
    const value = params.get(name);
    if (value) kept.set(name, value);
  }
  kept.sort();
  return kept;
}

const keptOf = (sheet: Sheet) => sheet.view as unknown as Kept;

/** Where a lens over all projects stands. */
const PLACES: Record<string, string> = { time: "/people/time", goals: "/goals" };
export const placeOf = (lens: string) => PLACES[lens] ?? `/desk/${lens}`;

/** Whether a sheet stands at the foot of a lens: the report of time and the goals have places of their own. */
export const standsAt = (sheet: Sheet, lens: string | null) => {
  const own = keptOf(sheet).lens;
  return own in PLACES || (lens ?? "") in PLACES ? own === lens : true;
};

/** The address that opens a sheet. */
export function sheetAddress(code: string, sheet: Sheet): string {
  const { lens, query } = keptOf(sheet);
  return `${code ? `/p/${code}/${lens}` : placeOf(lens)}?sheet=${sheet.id}${query ? `&${query}` : ""}`;
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
  const where = readScope(params).where || undefined;
  return { lens, query, ...trimmed(view), where } as unknown as Schemas["ViewKept"];
}

export function useSheetChanges(code: string) {
  const queries = useQueryClient();
  const refresh = () => refreshSoon(queries, projectKey(code, "sheets"));
  const run = (what: string, call: Parameters<typeof sendUndoable>[3]) =>
    sendUndoable(queries, code, what, call).finally(refresh);
  const edit = (sheet_id: string, body: Partial<Schemas["SheetEdit"]>) =>
    run("Changed a sheet", (headers) =>
      code
        ? client.PATCH("/api/projects/{code}/sheets/{sheet_id}", {
            params: { path: { code, sheet_id } },
            body,
            headers,
          })
        : client.PATCH("/api/sheets/{sheet_id}", { params: { path: { sheet_id } }, body, headers }),
    );
  return {
    keep: async (name: string, seen_by: SeenBy, people: string[], lens: string, params: URLSearchParams) => {
      const id = newId();
      const body = { id, name, seen_by, people, view: toKeep(lens, params) };
      await run(`Kept the sheet ${name}`, (headers) =>
        code
          ? client.POST("/api/projects/{code}/sheets", { params: { path: { code } }, body, headers })
          : client.POST("/api/sheets", { body, headers }),
      );
      return id;
    },
    keepAnew: (id: string, lens: string, params: URLSearchParams) => edit(id, { view: toKeep(lens, params) }),
    edit,
    remove: (sheet_id: string) =>
      run("Took a sheet away", (headers) =>
        code
          ? client.DELETE("/api/projects/{code}/sheets/{sheet_id}", { params: { path: { code, sheet_id } }, headers })
          : client.DELETE("/api/sheets/{sheet_id}", { params: { path: { sheet_id } }, headers }),
      ),
  };
}
