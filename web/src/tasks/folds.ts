/** Which summary tasks of a project are folded on this page: outline and schedule show the same. */
import { useCallback, useEffect, useState } from "react";

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
