/** What the board shows, in which row and column, and where a slip that is put down comes to stand. Draws nothing. */

import { differenceInCalendarDays, parseISO } from "date-fns";
import type { Project, State, TaskRow } from "../../data/api";
import type { People } from "../../data/hooks";
import { priorities, sayPriority } from "../../data/vocabulary";

import { fieldOf, kindName, ownText } from "../custom-fields";
import type { OutlineRow } from "../rows";
import { shownState } from "../shown-state";

export interface Lane {
  id: string;
  name: string;
  /** what a slip put down here takes on */
  fields: Record<string, unknown>;
}

const FIELD: Record<string, keyof TaskRow> = {
  owner: "owner_id",
  parent: "parent_id",
  kind: "kind",
  priority: "priority",
};

/** The tasks on the board in their order: none that others stand under, none that finished long ago. */
export function slipsOf(rows: Iterable<TaskRow>, inside: Set<string> | null, now: Date, days: number): TaskRow[] {
  const isRecent = (row: TaskRow) =>
    row.state_class !== "finished" ||
    !row.actual_finish ||
    differenceInCalendarDays(now, parseISO(row.actual_finish)) < days;
  return [...rows]
    .filter((row) => !row.is_summary && (!inside || inside.has(row.id)) && isRecent(row))
    .sort((a, b) => (a.board_place < b.board_place ? -1 : a.board_place > b.board_place ? 1 : a.number - b.number));
}

/** The field that makes the rows of the board: how a slip holds it. */
export interface Grouping {
  field: string;
  heldBy: (row: TaskRow) => string | null;
}

/** Null where the board has one row. */
export function groupingOf(project: Project, rows: string): Grouping | null {
  const own = fieldOf(project, rows);
  const field = own ? rows : FIELD[rows];
  if (!field) return null;
  return {
    field,
    heldBy: (row) => {
      const value = own ? row.own[own.id] : row[field as keyof TaskRow];
      return value === undefined || value === null ? null : String(value);
    },
  };
}

/** The rows of the board, in the order that their field has. */
export function lanesOf(
  grouping: Grouping | null,
  slips: TaskRow[],
  { project, people, outline }: { project: Project; people: People["byId"]; outline: OutlineRow[] },
): Lane[] {
  if (!grouping) return [{ id: "", name: "", fields: {} }];
  const { field } = grouping;
  const own = fieldOf(project, field);
  const places = new Map(outline.map((one, index) => [one.row.id, { index, title: one.row.title }]));
  const nameOf = (value: string | null): string => {
    if (own)
      return value === null
        ? `No ${own.name.toLowerCase()}`
        : ownText(own, own.type === "yes_no" ? value === "true" : value, { byId: people, all: [], active: [] });
    if (field === "kind") return kindName(project, value ?? "");
    if (field === "owner_id") return people.get(value ?? "")?.name ?? "No owner";
    if (field === "parent_id") return places.get(value ?? "")?.title ?? "Under nothing";
    return value === null ? "No priority" : sayPriority(value);
  };
  const rankOf = (value: string | null): string => {
    if (value === null) return "~~";
    if (field === "priority") return String(priorities().findIndex((one) => one.id === value));
    if (field === "parent_id") return String(places.get(value)?.index ?? -1).padStart(6, "0");
    return nameOf(value);
  };
  return [...new Set(slips.map(grouping.heldBy))]
    .sort((a, b) => (rankOf(a) < rankOf(b) ? -1 : 1))
    .map((value) => ({ id: String(value), name: nameOf(value), fields: { [field]: value } }));
}

/** A cell of the board is named by its row and its state. */
export const cellIn = (laneId: string, stateId: string) => `${laneId}|${stateId}`;
export const stateIn = (cell: string) => cell.slice(cell.lastIndexOf("|") + 1);
export const laneIn = (cell: string) => cell.slice(0, cell.lastIndexOf("|"));
export const cellOf = (row: TaskRow, grouping: Grouping | null) =>
  cellIn(grouping ? String(grouping.heldBy(row)) : "", row.state_id);

/** The slips of each cell, in their order. */
export function cellsOf(slips: TaskRow[], grouping: Grouping | null): Map<string, TaskRow[]> {
  const found = new Map<string, TaskRow[]>();
  for (const row of slips) {
    const key = cellOf(row, grouping);
    const list = found.get(key);
    if (list) list.push(row);
    else found.set(key, [row]);
  }
  return found;
}

/**
 * Where a slip comes to stand that is put before another of a cell, or at its end: the slip of the column that it stands
 * behind, and the place that is shown until the server has given it one.
 */
export function placeIn(
  id: string,
  cell: string,
  before: string | null,
  slips: TaskRow[],
  cells: Map<string, TaskRow[]>,
): { after: string | null; shown: string } {
  const list = (cells.get(cell) ?? []).filter((row) => row.id !== id);
  const behind = list[before ? list.findIndex((row) => row.id === before) - 1 : list.length - 1];
  if (behind) return { after: behind.id, shown: `${behind.board_place}!` };
  const column = slips.filter((row) => row.state_id === stateIn(cell) && row.id !== id);
  const first = list[0];
  // on top of its cell: behind whatever stands before that cell's first slip in the column
  if (first) return { after: column[column.indexOf(first) - 1]?.id ?? null, shown: "" };
  return { after: column.at(-1)?.id ?? null, shown: "~" };
}

/** What a slip shows that was put down, until the server has answered. */
export function shownIn(
  row: TaskRow,
  lane: Lane,
  state: State,
  place: string,
  project: Project,
  now: Date,
): Partial<TaskRow> {
  const custom = Object.entries(lane.fields).flatMap(([field, value]) => {
    const own = fieldOf(project, field);
    return own ? [[own.id, value]] : [];
  });
  return {
    ...shownState(project, row, state.id),
    board_place: place,
    ...(custom.length ? { own: { ...row.own, ...Object.fromEntries(custom) } } : (lane.fields as Partial<TaskRow>)),
    ...(state.state_class === "finished" ? { actual_finish: now.toISOString() } : {}),
  };
}
