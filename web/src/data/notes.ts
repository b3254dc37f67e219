/** Short notes at the foot of the page: what was done, with a way to take it back, or what went wrong. */
import { sentence } from "./api";
import { makeStore } from "./store";

export interface Note {
  id: number;
  text: string;
  tone: "plain" | "wrong";
  action?: { label: string; run: () => void };
}

const store = makeStore<Note[]>([]);
let next = 1;

export function dismiss(id: number) {
  store.set(store.get().filter((note) => note.id !== id));
}

export function note(text: string, tone: Note["tone"] = "plain", action?: Note["action"]) {
  const id = next++;
  // what went wrong stays until it is dismissed; what was done makes room for the next
  const kept = store
    .get()
    .filter((one) => one.tone === "wrong")
    .slice(-2);
  store.set([...kept, { id, text, tone, action }]);
  if (tone === "plain") setTimeout(() => dismiss(id), 6000);
}

/** Wait for what was sent; where it is refused, say why. */
export const orTell = (doing: Promise<unknown>) => doing.catch((error) => note(sentence(error), "wrong"));

export const useNotes = store.use;
