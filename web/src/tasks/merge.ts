/** The rows of a project as a page holds them: what has changed taken over, and their order in the outline. */
import type { Schemas, TaskRow } from "../data/api";

type RowsAnswer = Pick<Schemas["RowsOut"], "mark" | "complete" | "rows" | "gone">;

export interface Rows {
  mark: string;
  byId: Map<string, TaskRow>;
}

/** The revision that a mark stands for. */
export const revisionOf = (mark: string) => Number(mark.split(".")[0]);

/** Take an answer over: all rows, or those that changed and the ids of those gone. */
export function mergeRows(held: Rows | undefined, answer: RowsAnswer): Rows {
  // an answer that was overtaken by a newer one brings nothing
  if (held && !answer.complete && revisionOf(answer.mark) < revisionOf(held.mark)) return held;
  if (held && !answer.complete && !answer.rows.length && !answer.gone.length) return { ...held, mark: answer.mark };
  const byId = answer.complete || !held ? new Map<string, TaskRow>() : new Map(held.byId);
  for (const row of answer.rows) byId.set(row.id, row);
  for (const id of answer.gone) byId.delete(id);
  return { mark: answer.mark, byId };
}

export interface OutlineRow {
  row: TaskRow;
  depth: number;
  number: string;
}

/** Compare as the server does: by place, then by number. */
export function bySibling(a: TaskRow, b: TaskRow): number {
  return a.place < b.place ? -1 : a.place > b.place ? 1 : a.number - b.number;
}

/** All rows in outline order, with depth and outline number. */
export function outlineOf(byId: Map<string, TaskRow>): OutlineRow[] {
  const children = new Map<string | null, TaskRow[]>();
  for (const row of byId.values()) {
    const above = row.parent_id && byId.has(row.parent_id) ? row.parent_id : null;
    const siblings = children.get(above);
    if (siblings) siblings.push(row);
    else children.set(above, [row]);
  }
  for (const siblings of children.values()) siblings.sort(bySibling);
  const out: OutlineRow[] = [];
  const walk = (above: string | null, depth: number, prefix: string) => {
    children.get(above)?.forEach((row, index) => {
      const number = `${prefix}${index + 1}`;
      out.push({ row, depth, number });
      walk(row.id, depth + 1, `${number}.`);
    });
  };
  walk(null, 0, "");
  return out;
}
