/** A task with hours gets another length: the person is asked whether the hours or the load a day stays. */
import { ask, client, type Schemas, type TaskRow } from "../data/api";
import { makeStore } from "../data/store";

export type Stretched = Schemas["StretchedOut"];
/** What stays, and whether that is remembered for the task. */
export interface Stays {
  what: "hours" | "units";
  always: boolean;
}
export interface OpenLength {
  title: string;
  stretched: Stretched;
  answer: (stays: Stays | null) => void;
}

const store = makeStore<OpenLength | null>(null);
export const useLength = store.use;

const TOUCHES = ["duration", "start", "finish", "stretch_to"];

/**
 * What an edit is to be sent with besides. Null where the person put it back; nothing where nobody needs to be asked: the
 * server says whether the length changes.
 */
export async function settleLength(
  code: string,
  row: TaskRow | undefined,
  fields: Record<string, unknown>,
): Promise<Record<string, unknown> | null> {
  if (!row?.bookings.length || row.keeps || !TOUCHES.some((name) => name in fields) || "on_length" in fields) return {};
  const stretched = await ask(
    client.POST("/api/projects/{code}/bookings/length", {
      params: { path: { code } },
      body: { task_id: row.id, fields },
    }),
  ).catch(() => null); // what is wrong with the edit is said when it is sent
  if (!stretched) return {};
  const stays = await new Promise<Stays | null>((done) => {
    store.get()?.answer(null);
    store.set({
      title: row.title,
      stretched,
      answer: (one) => {
        store.set(null);
        done(one);
      },
    });
  });
  return stays && { on_length: stays.what, ...(stays.always ? { keeps: stays.what } : {}) };
}
