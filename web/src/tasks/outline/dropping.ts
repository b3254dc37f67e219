/** Where what is dragged in the outline would come to stand. */
import type { OutlineRow } from "../merge";

export interface Drop {
  index: number;
  depth: number;
  parent_id: string | null;
  after_id: string | null;
}

/** Which rows lie above the pointer, and how many levels it is to the right. */
export interface Pointer {
  /** the gap under it: how many rows lie above */
  index: number;
  /** levels of the outline from the left */
  level: number;
}

/** The gap under the pointer, as deep as the pointer is to the right; what moves itself is no place to stand at. */
export function dropAt({ index: at, level }: Pointer, rows: OutlineRow[], moving: Set<string>): Drop {
  const index = Math.max(0, Math.min(rows.length, at));
  const above = rows.slice(0, index).findLast((one) => !moving.has(one.row.id));
  const below = rows.slice(index).find((one) => !moving.has(one.row.id));
  const deepest = above ? above.depth + 1 : 0;
  const depth = Math.max(below?.depth ?? 0, Math.min(deepest, level));
  if (!above || depth > above.depth) return { index, depth, parent_id: above?.row.id ?? null, after_id: null };
  // climb from the row above to the one of that depth: it is the sibling to stand behind
  const byId = new Map(rows.map((one) => [one.row.id, one]));
  let sibling: OutlineRow = above;
  while (sibling.depth > depth && sibling.row.parent_id) sibling = byId.get(sibling.row.parent_id) ?? sibling;
  return { index, depth, parent_id: sibling.row.parent_id, after_id: sibling.row.id };
}
