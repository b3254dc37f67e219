/** What was changed on this page, so that it can be taken back, for as long as the page is open. */
import type { QueryClient } from "@tanstack/react-query";
import { allSent, client, type How, send, sentence } from "./api";
import { note } from "./notes";
import { makeStore } from "./store";

interface Done {
  change: string;
  code: string;
  what: string;
}

const done = makeStore<Done[]>([]);
let undone: Done[] = [];
let queriesOf: QueryClient | null = null;

/** Remember a change that can be taken back. */
export function remember(queries: QueryClient, change: Done) {
  queriesOf = queries;
  done.set([...done.get().slice(-199), change]);
  undone = [];
}

/** Send a change and remember it: it can be taken back. */
export async function sendUndoable<T>(
  queries: QueryClient,
  code: string,
  what: string,
  call: Parameters<typeof send<T>>[0],
  how?: How,
): Promise<T> {
  let change = "";
  const answer = await send<T>((headers) => {
    change = headers["Rhodonite-Change"];
    return call(headers);
  }, how);
  remember(queries, { change, code, what });
  return answer;
}

async function takeBack(from: Done): Promise<Done | null> {
  try {
    const answer = await send((headers) =>
      client.POST("/api/changes/{change_id}/undo", { params: { path: { change_id: from.change } }, headers }),
    );
    return answer.change ? { ...from, change: answer.change } : null;
  } catch (error) {
    note(sentence(error), "wrong");
    return null;
  } finally {
    queriesOf?.invalidateQueries();
  }
}

/** Take back any change of a project, as the activity page shows them; that can be taken back in turn. */
export async function takeBackChange(queries: QueryClient, change: Done) {
  const reverse = await takeBack(change);
  if (!reverse) return;
  remember(queries, reverse);
  queries.invalidateQueries();
  note(`Taken back: ${change.what}`);
}

/** Resolves when what was done last has arrived, and is remembered: whoever sent it goes on a moment after it arrived. */
async function settled() {
  await allSent();
  await new Promise((done) => setTimeout(done));
}

/** Take the last change back. */
export async function undo() {
  await settled();
  const last = done.get().at(-1);
  if (!last) return;
  done.set(done.get().slice(0, -1));
  const reverse = await takeBack(last);
  if (reverse) {
    undone = [...undone, reverse];
    note(`Taken back: ${last.what}`, "plain", { label: "Do it again", run: redo });
  }
}

/** Do again what was taken back last. */
export async function redo() {
  await settled();
  const last = undone.at(-1);
  if (!last) return;
  undone = undone.slice(0, -1);
  const again = await takeBack(last);
  if (again) {
    done.set([...done.get(), again]);
    note(`Done again: ${last.what}`);
  }
}

/** The last change that can be taken back, in words. */
export const useLastChange = (): string | null => done.use().at(-1)?.what ?? null;
