/** Live updates: the server says which project has a new revision, and the page asks for what changed. */

import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { refreshProject, rowsKey } from "../data/keys";
import { planChanged } from "../schedule/ripple";
import { type Rows, revisionOf } from "../tasks/merge";

export function useLiveUpdates() {
  const queries = useQueryClient();
  useEffect(() => {
    const known = new Map<string, number>();
    const source = new EventSource("/api/live");
    source.onmessage = (event) => {
      const news = JSON.parse(event.data) as Record<string, number>;
      for (const [code, revision] of Object.entries(news)) {
        const before = known.get(code);
        known.set(code, revision);
        const held = queries.getQueryData<Rows>(rowsKey(code));
        // a page that holds the revision already has asked for the rest of it with its own change
        const isNew = held ? revisionOf(held.mark) < revision : before !== undefined && before < revision;
        if (isNew) {
          refreshProject(queries, code);
          planChanged(code, revision);
        }
      }
    };
    return () => source.close();
  }, [queries]);
}
