/** The ripple: a change that moves more than what was touched is shown before it is applied. */
import { Problem, type Schemas } from "../data/api";
import { makeStore } from "../data/store";
import { preferences, preferencesAsked } from "../people/preferences";
import { startDraft, toOpen } from "./draft";

export type Ripple = Schemas["RippleOut"];
/** Apply it, to all or to what was touched; try it in a draft; put it back. */
export type Choice = "all" | "only" | "draft" | null;

export interface OpenRipple {
  code: string;
  /** what was done, in words */
  what: string;
  ripple: Ripple;
  /** somebody else has changed the plan since it was first shown */
  again: boolean;
  /** asks the server what moving only what was touched does, in words; null where the plan has changed since */
  askAlone: () => Promise<Ripple | null>;
  /** asks the server anew, when somebody else has changed the plan */
  recompute: () => Promise<Ripple | null>;
  answer: (choice: Choice) => void;
}

const store = makeStore<OpenRipple | null>(null);

/** Show a ripple; resolves to what the person decides, with the revision that was shown last. */
function openRipple(open: Omit<OpenRipple, "answer">): Promise<{ choice: Choice; revision: number }> {
  store.get()?.answer(null);
  return new Promise((done) => {
    store.set({
      ...open,
      answer: (choice) => {
        const revision = store.get()?.ripple.revision ?? open.ripple.revision;
        store.set(null);
        done({ choice, revision });
      },
    });
  });
}

/**
 * Send a change. Where it moves other tasks, show its ripple and send it again as decided.
 *
 * Resolves to null where it was put back, or went into a draft. What was shown before the answer is put back while the
 * person decides.
 */
export async function withRipple<T>(
  code: string,
  what: string,
  attempt: (consent: string, draft?: string) => Promise<T>,
  putBack: () => void,
): Promise<T | null> {
  await preferencesAsked;
  let consent = `ask ${preferences().ripple_days}`;
  for (let again = false; ; again = true) {
    try {
      return await attempt(consent);
    } catch (error) {
      if (!(error instanceof Problem) || !error.ripple) throw error;
      putBack();
      const askAs = (how: string) =>
        attempt(how).then(
          () => null,
          (fresh: unknown) => (fresh instanceof Problem ? fresh.ripple : null),
        );
      const asks = {
        recompute: () => askAs("all 0"), // a revision that never was: the server answers with the ripple as it is now
        askAlone: () => askAs("alone 0"),
      };
      const { choice, revision } = await openRipple({ code, what, ripple: error.ripple, again, ...asks });
      if (!choice) return null;
      if (choice === "draft") {
        const { id } = await startDraft(code, what);
        await attempt("all 0", id);
        toOpen.set(id);
        return null;
      }
      consent = `${choice} ${revision}`;
    }
  }
}

/** What moving only what was touched does is shown with the ripple, at the revision that it was computed for. */
export async function showAlone() {
  const open = store.get();
  const ripple = await open?.askAlone();
  const now = store.get();
  if (ripple && now && now.answer === open?.answer) store.set({ ...now, ripple });
}

/** Somebody changed the project: what is shown is computed anew. */
export async function planChanged(code: string, revision: number) {
  const open = store.get();
  if (open?.code !== code || open.ripple.revision >= revision) return;
  const ripple = await open.recompute();
  const now = store.get();
  if (ripple && now && now.answer === open.answer) store.set({ ...now, ripple, again: true });
}

export const useRipple = store.use;
