/** Which summary tasks of a project are folded on this page: outline and schedule show the same. */

import { useCallback, useEffect, useState } from "react";
import type { TaskRow } from "../data/api";
import type { GridSpec } from "../parts/grid/use-grid";

const keyOf = (code: string) => `rhodonite.folds.${code}`;

function read(code: string): Set<string> {
  try {
    return new Set(JSON.parse(sessionStorage.getItem(keyOf(code)) ?? "[]"));
  } catch {
    return new Set();
  }
}

export function useFolds(code: string) {
  const [folded, setFolded] = useState(() => read(code));
  useEffect(() => sessionStorage.setItem(keyOf(code), JSON.stringify([...folded])), [folded, code]);
  const fold = useCallback(
    (id: string) =>
      setFolded((now) => {
        const next = new Set(now);
        if (!next.delete(id)) next.add(id);
        return next;
      }),
    [],
  );
  return { folded, fold };
}

/** How the rows of a grid fold. */
export const treeOf = (
  byId: Map<string, { row: TaskRow; hasBelow: boolean }>,
  { folded, fold }: ReturnType<typeof useFolds>,
): GridSpec["tree"] => ({
  folds: (id) => (byId.get(id)?.hasBelow ? (folded.has(id) ? "folded" : "open") : null),
  fold,
  parent: (id) => byId.get(id)?.row.parent_id ?? null,
});
