/** Blocks of cells as other programs' tables hold them: lines of text with tabs between. */

import type { Project, TaskRow } from "../../data/api";
import type { People } from "../../data/hooks";
import { priorities } from "../../data/vocabulary";

import type { Edit } from "../changes";
import { type Column, exactText, isFixed, type Words } from "./columns";

/** The cells of some rows as text. */
export function copyCells(
  rows: TaskRow[],
  columns: Column[],
  project: Project,
  people: People,
  now: Date,
  words?: Words,
): string {
  const lines = rows.map((row) =>
    columns.map((column) =>
      column.id === "owner"
        ? (people.byId.get(row.owner_id ?? "")?.name ?? "")
        : exactText(row, column.id, project, now, people, words),
    ),
  );
  return lines.map((line) => line.join("\t")).join("\n");
}

/** The edits that put a block of cells into the grid, its first cell at the first row and column; else what cannot be. */
export function pasteCells(
  text: string,
  rows: TaskRow[],
  columns: Column[],
  project: Project,
  people: People,
): Edit[] | string {
  const lines = text.replace(/\r/g, "").replace(/\n$/, "").split("\n");
  const edits: Edit[] = [];
  for (const [index, line] of lines.entries()) {
    const row = rows[index];
    if (!row) return `The block has ${lines.length} lines, but only ${rows.length} tasks follow. Nothing was pasted.`;
    const fields: Record<string, unknown> = {};
    for (const [at, cell] of line.split("\t").entries()) {
      const column = columns[at];
      if (!column) return "The block is wider than the columns shown. Nothing was pasted.";
      if (isFixed(row, column, project)) continue;
      const value = valueIn(column, cell.trim(), row, project, people);
      if (value === undefined) return `“${cell}” is no ${column.head.toLowerCase()} here. Nothing was pasted.`;
      fields[column.field] = value;
    }
    if (Object.keys(fields).length) edits.push({ id: row.id, fields });
  }
  return edits;
}

const same = (a: string, b: string) => a.toLowerCase() === b.toLowerCase();

/** The state that a name means: of the workflow in which the task stands, else of another. */
function stateCalled({ states }: Project, row: TaskRow, text: string) {
  const way = states.find((one) => one.id === row.state_id)?.workflow_id;
  const named = states.filter((one) => same(one.name, text) || same(one.label, text));
  return named.find((one) => one.workflow_id === way) ?? named[0];
}

function valueIn(column: Column, text: string, row: TaskRow, project: Project, people: People): unknown {
  if (column.typed || column.id.startsWith("own.")) return text; // the server reads it
  if (!text) return column.id === "state" ? undefined : null;
  if (column.id === "state") return stateCalled(project, row, text)?.id;
  if (column.id === "owner") return people.active.find((one) => same(one.name, text) || same(one.short, text))?.id;
  return priorities().find((one) => same(one.name, text) || same(one.id, text))?.id;
}
