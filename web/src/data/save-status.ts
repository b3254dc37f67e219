/** Whether what was changed has arrived: shown at the right end of the sheet bar. */
import { makeStore } from "./store";

export interface SaveState {
  waiting: number;
  offline: boolean;
  signedOut: boolean;
  savedAt: Date | null;
}

const store = makeStore<SaveState>({ waiting: 0, offline: false, signedOut: false, savedAt: null });
let signInDone: (() => void)[] = [];

const set = (next: Partial<SaveState>) => store.set({ ...store.get(), ...next });

export const saveStatus = {
  begin: () => set({ waiting: store.get().waiting + 1 }),
  end: () => set({ waiting: store.get().waiting - 1 }),
  saved: () => set({ offline: false, savedAt: new Date() }),
  /** Wait before sending again; coming back on line ends the wait. */
  waitOffline: (milliseconds: number) => {
    set({ offline: true });
    return new Promise<void>((done) => {
      const finish = () => {
        clearTimeout(timer);
        window.removeEventListener("online", finish);
        done();
      };
      const timer = setTimeout(finish, milliseconds);
      window.addEventListener("online", finish);
    });
  },
  /** Ask for sign-in over the page as it is; resolves when that is done. */
  signInAgain: () => {
    set({ signedOut: true });
    return new Promise<void>((done) => {
      signInDone.push(done);
    });
  },
  signedIn: () => {
    set({ signedOut: false });
    for (const done of signInDone) done();
    signInDone = [];
  },
};

window.addEventListener("beforeunload", (event) => {
  if (store.get().waiting) event.preventDefault();
});

export const useSaveState = store.use;
