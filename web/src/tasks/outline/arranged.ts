/** The lines of the outline: as the tasks stand, or in groups and in an order of their own. */

import type { View, ViewAnswer, ViewGroup } from "../../views/view";
import { visibleRows } from "../lens";
import type { OutlineRow } from "../rows";

export type ShownRow = OutlineRow & { dim: boolean; hasBelow: boolean };

/** A row, or the head of a group; an `outer` head stands over the heads of inner groups. */
export type Item = { head?: undefined; one: ShownRow } | { head: ViewGroup; outer: boolean; one?: undefined };

export function arranged(
  outline: OutlineRow[],
  inside: Set<string> | null,
  folded: Set<string>,
  view: View,
  answer: ViewAnswer | undefined,
): Item[] {
  const grouped = Boolean(view.groups?.length);
  if ((!grouped && !view.sorts?.length) || !answer || (grouped ? !answer.groups : !answer.ids))
    return visibleRows(outline, inside, folded).map((one) => ({ one }));
  const byId = new Map(outline.map((one) => [one.row.id, one]));
  const items: Item[] = [];
  const add = (ids: string[]) => {
    for (const id of ids) {
      const one = byId.get(id);
      if (one) items.push({ one: { ...one, depth: 0, dim: false, hasBelow: false } });
    }
  };
  if (!grouped) {
    add(answer.ids ?? []);
    return items;
  }
  for (const line of groupLines(answer)) {
    if (line.head) items.push(line);
    else add([line.id]);
  }
  return items;
}

/** The heads of groups and the ids of what stands under each, from the top. */
export function groupLines(
  answer: Pick<ViewAnswer, "groups" | "outer">,
): ({ head: ViewGroup; outer: boolean } | { head?: undefined; id: string })[] {
  let last: string | undefined;
  return (answer.groups ?? []).flatMap((group) => {
    const outer = answer.outer[group.path[0] ?? ""];
    const opens = outer && group.path.length > 1 && group.path[0] !== last;
    last = group.path[0];
    const head = { head: group, outer: false };
    return [...(opens ? [{ head: outer, outer: true }] : []), head, ...group.ids.map((id) => ({ id }))];
  });
}
