/** A change that passes a limit of the board: where the project asks for a reason, it is sent again with one. */
import { Problem } from "../data/api";
import { makeStore } from "../data/store";

interface Passing {
  problem: Problem;
  answer: (reason: string | null) => void;
}

const store = makeStore<Passing | null>(null);
export const usePassing = store.use;

function askWhy(problem: Problem): Promise<string | null> {
  store.get()?.answer(null);
  return new Promise((done) => {
    store.set({
      problem,
      answer: (reason) => {
        store.set(null);
        done(reason);
      },
    });
  });
}

/**
 * Send a change; where it passes a limit and needs a reason, ask for that and send it once more.
 *
 * Resolves to null where it was put back. What was shown before the answer is put back while the person writes.
 */
export async function withReason<T>(attempt: (reason?: string) => Promise<T>, putBack: () => void): Promise<T | null> {
  let reason: string | undefined;
  for (;;) {
    try {
      return await attempt(reason);
    } catch (error) {
      if (!(error instanceof Problem) || error.kind !== "limit-passed" || error.limitRule !== "ask") throw error;
      putBack();
      const said = await askWhy(error);
      if (said === null) return null;
      reason = said;
    }
  }
}
