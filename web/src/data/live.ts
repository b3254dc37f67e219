/** Live updates: the server says which project has a new revision, and the page asks for what changed. */
import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { planChanged } from "../schedule/ripple";
import { type Rows, refreshProject, revisionOf, rowsKey } from "../tasks/rows";

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
        const behind = held !== undefined && revisionOf(held.mark) < revision;
        if (behind || (before !== undefined && before < revision)) {
          queries.invalidateQueries({ queryKey: ["notices"] });
          refreshProject(queries, code, behind);
          queries.invalidateQueries({ queryKey: ["project", code] });
          planChanged(code, revision);
        }
      }
    };
    return () => source.close();
  }, [queries]);
}
