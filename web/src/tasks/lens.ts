/** What every lens on a project's tasks is given. */
import type { Project, ScopeAnswer } from "../data/api";
import type { RowTints } from "../parts/tint";
import type { ViewAnswer } from "../views/view";
import type { Changes } from "./changes";
import type { OutlineRow, Rows } from "./rows";

export interface LensProps {
  project: Project;
  rows: Rows;
  /** all rows in outline order */
  outline: OutlineRow[];
  /** the ids within the scope; null where nothing is left out */
  inside: Set<string> | null;
  scope: ScopeAnswer | undefined;
  changes: Changes;
  /** the task whose folio is open */
  opened: string | null;
  openTask: (id: string | null) => void;
  /** the view made by the server, where it says something that the rows do not */
  answer?: ViewAnswer;
  /** by task what colours it */
  tints?: Map<string, RowTints>;
}

/** Which rows are to be seen: those in scope with the tasks above them, and nothing under a folded task. */
export function visibleRows(all: OutlineRow[], inside: Set<string> | null, folded: Set<string>) {
  const parents = new Map<string, string | null>(all.map(({ row }) => [row.id, row.parent_id]));
  let shown: Set<string> | null = null;
  if (inside) {
    shown = new Set();
    for (const id of inside) {
      for (let at: string | null = id; at && !shown.has(at); at = parents.get(at) ?? null) shown.add(at);
    }
  }
  const out: (OutlineRow & { dim: boolean; hasBelow: boolean })[] = [];
  let hiddenBelow = Number.POSITIVE_INFINITY;
  all.forEach((one, index) => {
    if (one.depth > hiddenBelow) return;
    hiddenBelow = Number.POSITIVE_INFINITY;
    if (shown && !shown.has(one.row.id)) return;
    const hasBelow = (all[index + 1]?.depth ?? 0) > one.depth;
    if (folded.has(one.row.id) && hasBelow) hiddenBelow = one.depth;
    out.push({ ...one, dim: inside ? !inside.has(one.row.id) : false, hasBelow });
  });
  return out;
}
