/** What a page keeps in its address, so that it can be sent and opened again. */
import { useCallback } from "react";
import { useSearchParams } from "react-router";

/** The words of the address, and a way to set some of them in place; what is empty or null is taken out. */
export function useAddress(): [URLSearchParams, (words: Record<string, string | null>) => void] {
  const [params, setParams] = useSearchParams();
  const set = useCallback(
    (words: Record<string, string | null>) =>
      setParams(
        (now) => {
          // changed as it is, for the router does not queue: two calls in one turn add up
          for (const [name, value] of Object.entries(words)) {
            if (value) now.set(name, value);
            else now.delete(name);
          }
          return now;
        },
        { replace: true },
      ),
    [setParams],
  );
  return [params, set];
}
