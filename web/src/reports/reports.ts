/** Status reports: what the pages ask the server for, and what they send. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { ask, client, newId, type Schemas, send } from "../data/api";
import { allKey, projectKey } from "../data/keys";

export type Reports = Schemas["ReportsOut"];
export type ReportLine = Schemas["ReportLine"];
export type Report = Schemas["StatusReportOut"];
export type Draft = Schemas["StatusDraftOut"];
export type ReportSettings = Schemas["ReportSettingsModel"];
export type IndicatorKey = "overall" | "time" | "cost" | "scope";
export type SectionKey = Draft["sections"][number]["key"];
export type Judged = "steady" | "strained" | "slipping" | "not_judged";

const path = (code: string) => ({ params: { path: { code } } });

export function useReports(code: string) {
  return useQuery({
    queryKey: projectKey(code, "reports"),
    queryFn: () => ask(client.GET("/api/projects/{code}/reports", path(code))),
  });
}

export function useReport(code: string, number: number | null) {
  return useQuery({
    queryKey: projectKey(code, "reports", number),
    enabled: number !== null,
    staleTime: 60_000,
    queryFn: () =>
      ask(client.GET("/api/projects/{code}/reports/{number}", { params: { path: { code, number: number ?? 0 } } })),
  });
}

export const draftKey = (code: string) => ["draft report", code];

/**
 * The report of today as it is proposed. It stands still while one writes; where the facts have changed by the time it is
 * published, that is refused and they are shown anew.
 */
export function useDraftReport(code: string, corrects: number | null) {
  return useQuery({
    queryKey: [...draftKey(code), corrects],
    refetchOnWindowFocus: false,
    gcTime: 0,
    queryFn: () =>
      ask(client.GET("/api/projects/{code}/reports/draft", { params: { path: { code }, query: { corrects } } })),
  });
}

export function useNewestReports() {
  return useQuery({ queryKey: allKey("reports"), queryFn: () => ask(client.GET("/api/reports")) });
}

export function useReportActions(code: string) {
  const queries = useQueryClient();
  return useMemo(() => {
    const refresh = () => {
      queries.invalidateQueries({ queryKey: projectKey(code, "reports") });
      queries.invalidateQueries({ queryKey: allKey("reports") });
    };
    return {
      publish: async (body: Omit<Schemas["ReportNew"], "id">) => {
        const id = newId();
        const made = await send<{ number: number }>((headers) =>
          client.POST("/api/projects/{code}/reports", { ...path(code), body: { ...body, id }, headers }),
        );
        refresh();
        return made.number;
      },
      settle: async (body: Schemas["ReportSettingsModel"]) => {
        await send((headers) => client.PUT("/api/projects/{code}/reports/settings", { ...path(code), body, headers }));
        refresh();
      },
      read: (number: number) =>
        ask(client.POST("/api/projects/{code}/reports/{number}/read", { params: { path: { code, number } } }))
          .then(refresh)
          .catch(() => null),
    };
  }, [queries, code]);
}
