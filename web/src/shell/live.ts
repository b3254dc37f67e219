/** Live updates: the server says which project has a new revision, and the page asks for what it shows of it. */
import { type QueryClient, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { refreshCosts } from "../cost/cost";
import type { Project } from "../data/api";
import { allKey, projectKey, refreshProject, refreshTasks, rowsKey } from "../data/keys";
import { refreshGoals } from "../goals/goals";
import { refreshDashboards } from "../reports/dashboards/dashboards";
import { staffKey } from "../resources/use-staff";
import { planChanged } from "../schedule/ripple";
import { type Rows, revisionOf } from "../tasks/merge";
import { makePace } from "./pace";

type Revisions = Record<string, number>;
type Pace = ReturnType<typeof makePace>;

export function useLiveUpdates() {
  const queries = useQueryClient();
  useEffect(() => follow(queries), [queries]);
}

/** At which revision a page asked for a project, where it did. What changed before the first message was heard of by nobody. */
const revisionOfProject = (queries: QueryClient, code: string) =>
  queries.getQueryData<Project>(projectKey(code))?.revision ?? Number.POSITIVE_INFINITY;

function follow(queries: QueryClient) {
  const source = new EventSource("/api/live");
  const paces = new Map<string, Pace>();
  /** the projects of which more than tasks has changed since they were asked for */
  const whole = new Set<string>();
  const paceOf = (code: string) => {
    const ask = () => (whole.delete(code) ? refreshProject : refreshTasks)(queries, code);
    const pace = paces.get(code) ?? makePace(ask);
    paces.set(code, pace);
    return pace;
  };
  const [revisions, settings] = [new Map<string, number>(), new Map<string, number>()];
  let unread: number | undefined;

  source.onmessage = (event) => {
    for (const [code, revision] of Object.entries(JSON.parse(event.data) as Revisions)) {
      const held = queries.getQueryData<Rows>(rowsKey(code));
      // a page that holds the revision already has asked for the rest of it with its own change
      const before = held ? revisionOf(held.mark) : (revisions.get(code) ?? revision);
      const missed = !revisions.has(code) && revisionOfProject(queries, code) < revision;
      revisions.set(code, revision);
      if (missed) whole.add(code);
      else if (before >= revision) continue;
      paceOf(code).hear(Math.max(1, revision - before));
      planChanged(code, revision);
    }
  };
  source.addEventListener("settings", (event) => {
    for (const [code, revision] of Object.entries(JSON.parse(event.data) as Revisions)) {
      if ((settings.get(code) ?? revision) < revision) {
        whole.add(code);
        paceOf(code).hear(1);
      }
      settings.set(code, revision);
    }
  });
  source.addEventListener("notices", (event) => {
    const count = JSON.parse(event.data) as number;
    if (unread !== undefined && unread !== count) queries.invalidateQueries({ queryKey: allKey("notices") });
    unread = count;
  });
  source.addEventListener("timer", () => {
    queries.invalidateQueries({ queryKey: ["timer"] });
    queries.invalidateQueries({ queryKey: allKey("time") });
  });
  source.addEventListener("goals", () => refreshGoals(queries));
  source.addEventListener("dashboards", () => refreshDashboards(queries));
  source.addEventListener("capacity", () => {
    refreshCosts(queries);
    queries.invalidateQueries({ queryKey: staffKey });
    queries.invalidateQueries({ queryKey: allKey("load") });
  });
  return () => {
    source.close();
    for (const pace of paces.values()) pace.stop();
  };
}
