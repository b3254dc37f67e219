/** Dashboards: what the pages ask the server for, and what they send. */
import { keepPreviousData, type QueryClient, useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { ask, client, newId, type Schemas } from "../../data/api";
import { allKey } from "../../data/keys";
import { sendUndoable } from "../../data/undo";
import { partsOf, readWhere } from "../../views/conditions";
import { readScope, type Scope, WIDE, writeScope } from "../../views/scope";

export type Line = Schemas["DashboardLine"];
export type Dashboard = Schemas["DashboardOut"];
export type Panel = Schemas["PanelOut"];
export type PanelKind = Panel["kind"];
export type Options = Schemas["OptionsModel-Output"];
export type PanelNew = Schemas["PanelNew"];
/** What changes, and the version that was seen. */
type Edit<T> = Partial<Omit<T, "version">> & { version: number };
export type PanelEdit = Edit<Schemas["PanelEdit"]>;
export type PanelAnswer = Schemas["PanelAnswerOut"];
export type Answer = NonNullable<PanelAnswer["answer"]>;
export type Chart = Schemas["ChartOut"];
export type Item = Schemas["PanelItem"];
export type SeenBy = Line["seen_by"];

const listKey = ["dashboards"];
const answersKey = (id: string, ...rest: unknown[]) => allKey("panels", id, ...rest);

/** Ask again for dashboards, and what their panels show. */
export function refreshDashboards(queries: QueryClient) {
  queries.invalidateQueries({ queryKey: listKey });
  queries.invalidateQueries({ queryKey: allKey("panels") });
}

export function useDashboards() {
  return useQuery({ queryKey: listKey, queryFn: () => ask(client.GET("/api/dashboards")), staleTime: 60_000 });
}

export function useDashboard(id: string) {
  return useQuery({
    queryKey: [...listKey, id],
    queryFn: () => ask(client.GET("/api/dashboards/{dashboard_id}", { params: { path: { dashboard_id: id } } })),
  });
}

/** What the panels of a dashboard show; asked again, only what is another comes. */
export function useAnswers(id: string, scope: Scope | null) {
  const queries = useQueryClient();
  const queryKey = answersKey(id, scope);
  return useQuery({
    queryKey,
    placeholderData: keepPreviousData,
    queryFn: async ({ signal }) => {
      const before = queries.getQueryData<Map<string, PanelAnswer>>(queryKey);
      const known = Object.fromEntries([...(before ?? [])].map(([panel, one]) => [panel, one.mark]));
      const answers = await ask(
        client.POST("/api/dashboards/{dashboard_id}/answers", {
          params: { path: { dashboard_id: id } },
          body: { known, scope },
          signal,
        }),
      );
      return new Map(answers.map((one) => [one.id, (one.same && before?.get(one.id)) || one]));
    },
  });
}

/** What a panel would show. */
export function useTried(id: string, panel: PanelNew, wanted: boolean) {
  return useQuery({
    queryKey: answersKey(id, "tried", panel),
    enabled: wanted,
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      ask(
        client.POST("/api/dashboards/{dashboard_id}/preview", {
          params: { path: { dashboard_id: id } },
          body: panel,
          signal,
        }),
      ),
  });
}

export function useDashboardActions() {
  const queries = useQueryClient();
  return useMemo(() => {
    const run = async <T>(what: string, call: Parameters<typeof sendUndoable<T>>[3]) => {
      try {
        return await sendUndoable<T>(queries, "", what, call);
      } finally {
        refreshDashboards(queries);
      }
    };
    const at = (dashboard_id: string) => ({ params: { path: { dashboard_id } } });
    const panelAt = (dashboard_id: string, panel_id: string) => ({ params: { path: { dashboard_id, panel_id } } });
    return {
      keep: async (dashboard: Pick<Schemas["DashboardNew"], "name" | "code" | "seen_by" | "people" | "like">) => {
        const body = { ...dashboard, id: newId(), scope: WIDE, panels: [] };
        await run("Kept a dashboard", (headers) => client.POST("/api/dashboards", { body, headers }));
        return body.id;
      },
      edit: (id: string, body: Edit<Schemas["DashboardEdit"]>) =>
        run("Changed a dashboard", (headers) =>
          client.PATCH("/api/dashboards/{dashboard_id}", {
            ...at(id),
            body: body as Schemas["DashboardEdit"],
            headers,
          }),
        ),
      remove: (id: string) =>
        run("Took a dashboard away", (headers) =>
          client.DELETE("/api/dashboards/{dashboard_id}", { ...at(id), headers }),
        ),
      addPanel: (id: string, panel: PanelNew) =>
        run("Added a panel", (headers) =>
          client.POST("/api/dashboards/{dashboard_id}/panels", { ...at(id), body: { ...panel, id: newId() }, headers }),
        ),
      editPanel: (id: string, panel_id: string, body: PanelEdit) =>
        run("Changed a panel", (headers) =>
          client.PATCH("/api/dashboards/{dashboard_id}/panels/{panel_id}", {
            ...panelAt(id, panel_id),
            body: body as Schemas["PanelEdit"],
            headers,
          }),
        ),
      removePanel: (id: string, panel_id: string) =>
        run("Took a panel away", (headers) =>
          client.DELETE("/api/dashboards/{dashboard_id}/panels/{panel_id}", { ...panelAt(id, panel_id), headers }),
        ),
    };
  }, [queries]);
}

/** Where the tasks that a sentence leaves stand as a list; with further clauses, those of one value of a chart. */
export function listAddress(scope: Schemas["PanelScope"] | null, clauses: unknown[][] = []): string {
  const full = { ...readScope(new URLSearchParams()), ...scope };
  if (clauses.length) full.where = JSON.stringify({ all: [...partsOf(readWhere(full.where)), ...clauses] });
  return `/desk/all_work?${writeScope(new URLSearchParams(), full)}`;
}
