/** Two people changed the same field: the dialog that lets a person choose which value stays. */
import type { Problem } from "./api";
import { makeStore } from "./store";

export interface OpenClash {
  problem: Problem;
  titleOf: (id: string) => string;
  /** true: put mine over theirs; false: leave theirs */
  answer: (mine: boolean) => void;
}

const store = makeStore<OpenClash | null>(null);

export function openClash(problem: Problem, titleOf: (id: string) => string): Promise<boolean> {
  return new Promise((done) => {
    store.set({
      problem,
      titleOf,
      answer: (mine) => {
        store.set(null);
        done(mine);
      },
    });
  });
}

export const useClash = store.use;
