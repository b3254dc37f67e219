/** The time of people: what the pages ask the server for, and what they send. */
import { type QueryClient, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo } from "react";
import { ask, client, newId, type Project, type Schemas, send, type TaskRow } from "../data/api";
import { useMe } from "../data/hooks";
import { allKey, refreshTasks, taskKey } from "../data/keys";
import { note } from "../data/notes";
import { sendUndoable } from "../data/undo";
import { sayTime } from "./say";

export type Entry = Schemas["TimeEntryModel"];
export type Timer = Schemas["TimerOut"];
export type TimeSheet = Schemas["TimeSheetOut"];
export type SheetRow = Schemas["SheetRowOut"];

const timerKey = ["timer"];

export function useTimer() {
  return useQuery({ queryKey: timerKey, queryFn: () => ask(client.GET("/api/timer")), staleTime: 60_000 });
}

/** Whether a person may enter time on a task of a project: contributors on any, others where they are at work. */
export function useMayEnter(project: Project | undefined) {
  const me = useMe().person.id;
  const records = Boolean(project?.time && !project.archived);
  const every = Boolean(project?.may.includes("edit"));
  return useCallback(
    (row: Pick<TaskRow, "owner_id" | "helpers" | "bookings">) =>
      records &&
      (every || row.owner_id === me || row.helpers.includes(me) || row.bookings.some((one) => one.who === me)),
    [me, records, every],
  );
}

/** What shows hours anywhere is asked for again. */
export function refreshTime(queries: QueryClient, code: string | null) {
  queries.invalidateQueries({ queryKey: timerKey });
  queries.invalidateQueries({ queryKey: allKey("time") });
  if (code) refreshTasks(queries, code);
  else queries.invalidateQueries({ queryKey: taskKey("any").slice(0, 1) });
}

/** Start, change, stop and discard one's own timer. */
export function useTimerActions() {
  const queries = useQueryClient();
  return useMemo(() => {
    const take = (state: Schemas["TimerState"]) => queries.setQueryData(timerKey, state);
    const now = () => queries.getQueryData<Schemas["TimerState"]>(timerKey)?.timer ?? null;
    return {
      start: async (task: { id: string; title: string }) => {
        const before = now();
        take(
          await send((headers) =>
            client.PUT("/api/timer", { body: { task_id: task.id, note: "", billable: true }, headers }),
          ),
        );
        refreshTime(queries, before && before.task_id !== task.id ? before.code : null);
        if (before && before.task_id !== task.id) note(`The time of “${before.title ?? "the task before"}” is entered`);
      },
      change: async (body: Schemas["TimerEdit"]) =>
        take(await send((headers) => client.PATCH("/api/timer", { body, headers }))),
      stop: async (body: Schemas["TimerStop"] = {}) => {
        const before = now();
        const code = before?.code ?? "";
        take(
          await sendUndoable(queries, code, "Stopped the timer", (headers) =>
            client.POST("/api/timer/stop", { body, headers }),
          ),
        );
        refreshTime(queries, before?.code ?? null);
        if (before) note(`Time entered on “${before.title ?? "a task"}”`);
      },
      discard: async () => {
        take(await send((headers) => client.DELETE("/api/timer", { headers })));
        refreshTime(queries, null);
      },
    };
  }, [queries]);
}

export interface TypedEntry {
  task_id: string;
  day: string;
  /** as it is typed: 2, 1:30, 9:15-11 */
  hours: string;
  person_id?: string;
  note?: string;
  billable?: boolean;
}

/** Write, change and take away entries of a project. */
export function useEntries(code: string) {
  const queries = useQueryClient();
  return useMemo(() => {
    const path = { params: { path: { code } } };
    const done = () => refreshTime(queries, code);
    return {
      add: async (entry: TypedEntry) => {
        await sendUndoable(queries, code, "Entered time", (headers) =>
          client.POST("/api/projects/{code}/time", {
            ...path,
            body: { entries: [{ id: newId(), billable: true, note: "", ...entry }] },
            headers,
          }),
        );
        done();
      },
      edit: async (entry: Entry, fields: Partial<TypedEntry>) => {
        await sendUndoable(queries, code, `Changed ${sayTime(entry.minutes)}`, (headers) =>
          client.PATCH("/api/projects/{code}/time", {
            ...path,
            body: { entries: [{ id: entry.id, revision: entry.revision, ...fields }] },
            headers,
          }),
        );
        done();
      },
      remove: async (entry: Entry) => {
        await sendUndoable(queries, code, `Took ${sayTime(entry.minutes)} away`, (headers) =>
          client.POST("/api/projects/{code}/time/delete", { ...path, body: { ids: [entry.id] }, headers }),
        );
        done();
      },
    };
  }, [queries, code]);
}

export function useTaskTime(id: string) {
  return useQuery({
    queryKey: taskKey(id, "time"),
    queryFn: () => ask(client.GET("/api/tasks/{task_id}/time", { params: { path: { task_id: id } } })),
  });
}

export function useTimeSheet(person: string | null, day: string) {
  return useQuery({
    queryKey: allKey("time", "sheet", person, day),
    queryFn: () => ask(client.GET("/api/time-sheet", { params: { query: { person_id: person ?? undefined, day } } })),
  });
}

/** The weeks that wait for one, and one's own that were returned. */
export function useWeeks() {
  return useQuery({ queryKey: allKey("time", "weeks"), queryFn: () => ask(client.GET("/api/time-sheets")) });
}

type WeekAct = "/api/time-sheet/hand-in" | "/api/time-sheet/take-back";

export function useWeekActions() {
  const queries = useQueryClient();
  return useMemo(
    () => ({
      turn: async (how: WeekAct, day: string) => {
        const what = how.endsWith("hand-in") ? "Handed in the week" : "Took the week back";
        await sendUndoable(queries, "", what, (headers) => client.POST(how, { body: { day }, headers }));
        refreshTime(queries, null);
      },
      judge: async (body: Schemas["JudgeIn"]) => {
        const what = body.accept ? "Accepted a week" : "Returned a week";
        await sendUndoable(queries, "", what, (headers) => client.POST("/api/time-sheet/judge", { body, headers }));
        refreshTime(queries, null);
      },
    }),
    [queries],
  );
}
