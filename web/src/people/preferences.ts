/** What a person has set for themselves, kept with the person. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { ask, client, type Schemas, send } from "../data/api";
import { makeStore } from "../data/store";

export type Preferences = Schemas["PreferencesOut"];

const KEY = ["preferences"];
const store = makeStore<Preferences>({ ripple_days: 0, longest_days: 20, digest_hour: 7, home: "", mail: {} });

let answered = () => {};
/** Resolves when they have been asked for, so that nothing is done by the usual values before. */
export const preferencesAsked = new Promise<void>((done) => {
  answered = done;
});

/** Asked for once by the frame; true once they are there, or cannot be had. */
export function useAskPreferences(): boolean {
  const { isPending } = useQuery({
    queryKey: KEY,
    queryFn: async () => {
      try {
        const found = await ask(client.GET("/api/session/preferences"));
        store.set(found);
        return found;
      } finally {
        answered();
      }
    },
    staleTime: 5 * 60_000,
  });
  return !isPending;
}

export const usePreferences = store.use;
export const preferences = store.get;

/** Set some; throws the problem where a value cannot be. */
export function useSetPreferences() {
  const queries = useQueryClient();
  return async (body: Partial<Preferences>) => {
    const saved = await send((headers) => client.PATCH("/api/session/preferences", { body, headers }));
    store.set(saved);
    queries.setQueryData(KEY, saved);
  };
}
