/** Changes to the tasks of a project: shown before the server has answered, put back where it refuses, taken back later. */
import { type QueryClient, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { withReason } from "../board/passing";
import {
  type ChangeHeaders,
  client,
  newId,
  Problem,
  type RowsAnswer,
  type Schemas,
  send,
  sentence,
  type TaskRow,
} from "../data/api";
import { openClash } from "../data/clash";
import { projectKey, refreshTasks, rowsKey } from "../data/keys";
import { note } from "../data/notes";
import { remember } from "../data/undo";
import { settleLength } from "../resources/length";
import { withRipple } from "../schedule/ripple";
import { blankRow } from "./blank-row";
import { mergeRows, type Rows } from "./merge";
import { refreshRows } from "./rows";

type Call = (
  headers: ChangeHeaders,
  since: string | undefined,
) => Promise<{ data?: RowsAnswer; error?: unknown; response: Response }>;

export interface Edit {
  id: string;
  /** what is sent: text is read by the server */
  fields: Record<string, unknown>;
  /** what is shown until the server has answered, where that is known */
  shown?: Partial<TaskRow>;
  /** of the row that was seen, where the page does not hold the rows of its project */
  revision?: number;
}

/** Changes to the tasks of one project. Each shows at once, can be taken back, and puts back what it showed when refused. */
export function useChanges(code: string) {
  const queries = useQueryClient();
  return useMemo(() => makeChanges(queries, code), [queries, code]);
}

/** The same of any project. */
export function useChangesOf() {
  const queries = useQueryClient();
  return useMemo(() => (code: string) => makeChanges(queries, code), [queries]);
}

export type Changes = ReturnType<typeof makeChanges>;

function makeChanges(queries: QueryClient, code: string) {
  const key = rowsKey(code);
  const path = { code };
  const held = () => queries.getQueryData<Rows>(key);

  function show(change: (byId: Map<string, TaskRow>) => void) {
    const now = held();
    if (!now) return;
    // what is under way does not know of this change yet; it is asked for again when the answer to it comes
    queries.cancelQueries({ queryKey: key });
    queries.cancelQueries({ queryKey: projectKey(code, "page") });
    const byId = new Map(now.byId);
    change(byId);
    queries.setQueryData<Rows>(key, { ...now, byId });
  }

  /** Show a change, send it, take the answer over. Throws the problem where it was refused. */
  async function run(what: string, touched: string[], shown: (byId: Map<string, TaskRow>) => void, call: Call) {
    const before = new Map(touched.map((id) => [id, held()?.byId.get(id)]));
    show(shown);
    const put = () =>
      show((byId) => {
        for (const [id, row] of before) {
          if (row) byId.set(id, row);
          else byId.delete(id);
        }
      });
    try {
      const answer = await withReason((reason) => {
        const attempt = (consent: string, draft?: string) =>
          send((headers) => call(headers, draft ? undefined : held()?.mark), { consent, draft, reason });
        return withRipple(code, what, attempt, put);
      }, put);
      if (!answer) {
        refreshTasks(queries, code);
        return null;
      }
      queries.setQueryData<Rows>(key, mergeRows(held(), answer));
      refreshTasks(queries, code, false);
      for (const remark of answer.remarks ?? []) note(remark);
      if (answer.change) remember(queries, { change: answer.change, code, what });
      return answer;
    } catch (error) {
      put();
      refreshTasks(queries, code);
      throw error;
    }
  }

  /** As `run`, but a refusal is told in a note. Resolves to false where it was refused or put back. */
  async function tell(what: string, touched: string[], shown: (byId: Map<string, TaskRow>) => void, call: Call) {
    try {
      return (await run(what, touched, shown, call)) !== null;
    } catch (error) {
      note(sentence(error), "wrong");
      return false;
    }
  }

  async function edit(what: string, wanted: Edit[]): Promise<void> {
    const edits = await settled(wanted);
    if (!edits) return;
    const tasks = edits.map(({ id, fields, revision = 0 }) => ({
      id,
      fields,
      revision: held()?.byId.get(id)?.revision ?? revision,
    }));
    const shown = (byId: Map<string, TaskRow>) => {
      for (const one of edits) {
        const row = byId.get(one.id);
        if (row && one.shown) byId.set(one.id, { ...row, ...one.shown });
      }
    };
    const call: Call = (headers, since) =>
      client.PATCH("/api/projects/{code}/tasks", { params: { path, query: { since } }, body: { tasks }, headers });
    try {
      await run(
        what,
        edits.map((one) => one.id),
        shown,
        call,
      );
    } catch (error) {
      if (error instanceof Problem && error.clashes.length) {
        const again = await openClash(error, (id) => held()?.byId.get(id)?.title ?? "");
        await refreshRows(queries, code);
        if (again) await edit(what, edits);
        return;
      }
      throw error;
    }
  }

  /** The edits with what is decided of hours where a length changes; null where that was put back. */
  async function settled(edits: Edit[]): Promise<Edit[] | null> {
    const [one] = edits;
    if (!one || edits.length > 1) return edits;
    const more = await settleLength(code, held()?.byId.get(one.id), one.fields);
    return more && [{ ...one, fields: { ...one.fields, ...more } }];
  }

  return {
    /** Change fields; throws the problem where it was refused, so that a cell can keep what was typed. */
    edit,
    /** Change fields; a refusal is told in a note. */
    editOrTell: async (what: string, edits: Edit[]) => {
      try {
        await edit(what, edits);
        return true;
      } catch (error) {
        note(sentence(error), "wrong");
        return false;
      }
    },
    add: async (
      tasks: {
        id?: string;
        title: string;
        parent_id: string | null;
        after_id: string | null;
        fields?: Record<string, unknown>;
      }[],
    ) => {
      const made = tasks.map((task) => ({ fields: {}, ...task, id: task.id ?? newId() }));
      const what = made.length > 1 ? `Added ${made.length} tasks` : `Added “${made[0]?.title}”`;
      const answer = await run(
        what,
        made.map((task) => task.id),
        (byId) => {
          for (const task of made) byId.set(task.id, blankRow(task, byId));
        },
        (headers, since) =>
          client.POST("/api/projects/{code}/tasks", {
            params: { path, query: { since } },
            body: { tasks: made },
            headers,
          }),
      );
      return answer ? made.map((task) => task.id) : [];
    },
    paste: (text: string, parent_id: string | null, after_id: string | null) =>
      tell(
        "Pasted tasks",
        [],
        () => {},
        (headers, since) =>
          client.POST("/api/projects/{code}/tasks/paste", {
            params: { path, query: { since } },
            body: { text, parent_id, after_id },
            headers,
          }),
      ),
    move: (ids: string[], parent_id: string | null, after_id: string | null) =>
      tell(
        ids.length > 1 ? `Moved ${ids.length} tasks` : "Moved a task",
        ids,
        () => {},
        (headers, since) =>
          client.POST("/api/projects/{code}/tasks/move", {
            params: { path, query: { since } },
            body: { ids, parent_id, after_id },
            headers,
          }),
      ),
    step: (ids: string[], how: "indent" | "outdent" | "up" | "down") =>
      tell(
        `Moved ${ids.length > 1 ? `${ids.length} tasks` : "a task"}`,
        ids,
        () => {},
        (headers, since) =>
          client.POST("/api/projects/{code}/tasks/step", {
            params: { path, query: { since } },
            body: { ids, how },
            headers,
          }),
      ),
    drop: (
      ids: string[],
      to: { state_id: string; after_id: string | null; fields: Record<string, unknown> },
      shown: Partial<TaskRow>,
    ) =>
      tell(
        "Moved on the board",
        ids,
        (byId) => {
          for (const id of ids) {
            const row = byId.get(id);
            if (row) byId.set(id, { ...row, ...shown });
          }
        },
        (headers, since) =>
          client.POST("/api/projects/{code}/tasks/drop", {
            params: { path, query: { since } },
            body: { ids, ...to },
            headers,
          }),
      ),
    /** From a status day, or from now. */
    replan: (status_day: string | null) =>
      tell(
        status_day ? "Replanned from a status day" : "Replanned from today",
        [],
        () => {},
        (headers, since) =>
          client.POST("/api/projects/{code}/replan", {
            params: { path, query: { since } },
            body: { status_day },
            headers,
          }),
      ),
    shift: (task_id: string | null, start: string) =>
      tell(
        task_id ? "Shifted a branch" : "Shifted the project",
        [],
        () => {},
        (headers, since) =>
          client.POST("/api/projects/{code}/shift", {
            params: { path, query: { since } },
            body: { task_id, start },
            headers,
          }),
      ),
    /** Put what a draft keeps into the plan. */
    applyDraft: (draft_id: string, name: string) =>
      tell(
        `Applied the draft “${name}”`,
        [],
        () => {},
        (headers) =>
          client.POST("/api/projects/{code}/drafts/{draft_id}/apply", {
            params: { path: { code, draft_id } },
            headers,
          }),
      ),
    /** The hours of one become another's, on some tasks or on all that are not finished; of nobody's hours `from` is empty. */
    give: (from: string, to: string, task_ids: string[] | null) =>
      tell(
        "Gave hours to another",
        [],
        () => {},
        (headers, since) =>
          client.POST("/api/projects/{code}/bookings/give", {
            params: { path, query: { since } },
            body: { who: from || "nobody", to, task_ids },
            headers,
          }),
      ),
    /** By working days, less than nothing for an earlier day. */
    shiftBy: (ids: string[], days: number) =>
      tell(
        `Shifted ${ids.length > 1 ? `${ids.length} tasks` : "a task"}`,
        [],
        () => {},
        (headers, since) =>
          client.POST("/api/projects/{code}/tasks/shift", {
            params: { path, query: { since } },
            body: { ids, days },
            headers,
          }),
      ),
    linkInARow: (ids: string[]) =>
      tell(
        `Linked ${ids.length} tasks in a row`,
        [],
        () => {},
        (headers, since) =>
          client.POST("/api/projects/{code}/tasks/in-a-row", {
            params: { path, query: { since } },
            body: { ids },
            headers,
          }),
      ),
    /** Copy tasks, or move them to another project. */
    copy: (body: Schemas["CopyIn"]) =>
      run(
        `${body.moves ? "Moved" : "Copied"} ${Object.keys(body.ids).length > 1 ? `${Object.keys(body.ids).length} tasks` : "a task"}`,
        body.moves ? Object.keys(body.ids) : [],
        () => {},
        (headers, since) =>
          client.POST("/api/projects/{code}/copies", { params: { path, query: { since } }, body, headers }),
      ),
    merge: (task_id: string, into_id: string) =>
      tell(
        "Merged two tasks",
        [],
        () => {},
        (headers, since) =>
          client.POST("/api/projects/{code}/tasks/merge", {
            params: { path, query: { since } },
            body: { task_id, into_id },
            headers,
          }),
      ),
    mend: (kind: string, ids: string[]) =>
      tell(
        `Mended ${ids.length > 1 ? `${ids.length} tasks` : "a task"}`,
        ids,
        () => {},
        (headers, since) =>
          client.POST("/api/projects/{code}/soundness/mend", {
            params: { path, query: { since } },
            body: { kind, ids },
            headers,
          }),
      ),
    remove: (ids: string[]) =>
      tell(
        ids.length > 1
          ? `Deleted ${ids.length} tasks`
          : `Deleted “${held()?.byId.get(ids[0] ?? "")?.title ?? "a task"}”`,
        ids,
        (byId) => {
          for (const id of ids) byId.delete(id);
        },
        (headers, since) =>
          client.POST("/api/projects/{code}/tasks/delete", {
            params: { path, query: { since } },
            body: { ids },
            headers,
          }),
      ),
    restore: (ids: string[]) =>
      tell(
        ids.length > 1 ? `Restored ${ids.length} tasks` : "Restored a task",
        [],
        () => {},
        (headers, since) =>
          client.POST("/api/projects/{code}/tasks/restore", {
            params: { path, query: { since } },
            body: { ids },
            headers,
          }),
      ),
  };
}
