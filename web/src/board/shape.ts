/** What the board shows, in which way, row and column, and where a slip that is put down comes to stand. Draws nothing. */

import { differenceInCalendarDays, parseISO } from "date-fns";
import type { Project, Schemas, State, TaskRow } from "../data/api";
import type { People } from "../data/hooks";
import { priorities, sayPriority } from "../data/vocabulary";
import { fieldOf, kindName, ownText } from "../tasks/custom-fields";
import type { OutlineRow } from "../tasks/rows";
import { shownState } from "../tasks/shown-state";

export type OwnLane = Schemas["LaneOut"];
export type Period = Schemas["PeriodOut"];
export type BoardAnswer = Schemas["BoardOut"];

/** Where slips lie: of a lane one column, or several that it joins; or a period of the backlog. */
export interface Cell {
  key: string;
  /** what is put down here comes into the first */
  states: string[];
  skipped: boolean;
  limit: number | null;
  /** what a slip put down here takes on */
  fields: Record<string, unknown>;
  label: string;
}

export interface Lane {
  id: string;
  name: string;
  /** one that the project has defined */
  own: OwnLane | null;
  cells: Cell[];
}

/** A column of the board: a state, or a stage with its steps. */
export interface Stage {
  head: State;
  steps: State[];
}

/** The board of one workflow. */
export interface Way {
  id: string | null;
  name: string;
  stages: Stage[];
  states: State[];
  lanes: Lane[];
  /** true where its rows have names */
  named: boolean;
  backlog: { period: Period; cell: Cell }[];
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

/** Null where the board has one row, or lanes of its own. */
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

type Row = Pick<Lane, "id" | "name" | "own"> & { fields: Record<string, unknown> };

/** The rows that a field makes, in the order that it has. */
function rowsBy(grouping: Grouping, slips: TaskRow[], project: Project, people: People["byId"], outline: OutlineRow[]) {
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
    .map((value): Row => ({ id: String(value), name: nameOf(value), own: null, fields: { [field]: value } }));
}

const ELSE = "Everything else";

/** The rows of one workflow's board. */
function rowsOf(way: string | null, rows: string, grouping: Grouping | null, slips: TaskRow[], given: Given): Row[] {
  if (grouping) return rowsBy(grouping, slips, given.project, given.people, given.outline);
  const own = rows === "lanes" ? given.project.lanes.filter((one) => one.workflow === way) : [];
  const rest: Row = { id: "", name: own.length ? ELSE : "", own: null, fields: own.length ? { lane_id: null } : {} };
  return [...own.map((one) => ({ id: one.id, name: one.name, own: one, fields: { lane_id: one.id } })), rest];
}

export interface Given {
  project: Project;
  people: People["byId"];
  outline: OutlineRow[];
  /** what the server says of lanes and cells; nothing while it is on its way */
  board: Pick<BoardAnswer, "cells" | "lanes"> | undefined;
}

/** Ways, rows and cells, whatever lies in them. */
export interface Frame {
  ways: Way[];
  /** of every cell, by its key */
  cells: Map<string, Cell>;
  /** where a slip lies: it stands in one cell */
  cellOf: (row: TaskRow) => string;
}

export interface Shape extends Frame {
  /** the slips of each cell, in their order */
  slipsIn: Map<string, TaskRow[]>;
}

const keyOf = (laneId: string, stateId: string) => `${laneId}|${stateId}`;

/** What of the slips decides which columns and rows there are: where this stays the same, so does the frame. */
export function frameKey(slips: TaskRow[], rows: string, project: Project): string {
  const grouping = groupingOf(project, rows);
  const dropped = new Set(project.states.filter((one) => one.state_class === "dropped").map((one) => one.id));
  const found = new Set<string>();
  for (const row of slips) {
    if (dropped.has(row.state_id)) found.add(row.state_id);
    if (grouping) found.add(`${project.workflows.length ? row.state_id : ""}=${grouping.heldBy(row)}`);
  }
  return [...found].sort().join("|");
}

/** The boards of all workflows of a project, empty. */
export function frameOf(slips: TaskRow[], rows: string, given: Given): Frame {
  const { project, board } = given;
  const grouping = groupingOf(project, rows);
  const states = project.states.filter(
    (state) => state.state_class !== "dropped" || slips.some((row) => row.state_id === state.id),
  );
  const wayOf = new Map(states.map((one) => [one.id, one.workflow_id]));
  const ways = [null, ...project.workflows.map((one) => one.id)].map((id): Way => {
    const mine = states.filter((one) => one.workflow_id === id);
    const here = project.workflows.length ? slips.filter((row) => wayOf.get(row.state_id) === id) : slips;
    const lanes = rowsOf(id, rows, grouping, here, given).map((row) => laneOf(row, mine, board));
    const first = mine.find((one) => one.state_class === "queued");
    return {
      id,
      name: project.workflows.find((one) => one.id === id)?.name ?? project.workflow_name,
      states: mine,
      stages: mine
        .filter((one) => !one.step_of)
        .map((head) => ({ head, steps: mine.filter((one) => one.id === head.id || one.step_of === head.id) })),
      lanes,
      named: lanes.length > 1 || grouping !== null,
      backlog: first ? project.periods.map((period) => ({ period, cell: periodCell(period, first) })) : [],
    };
  });
  const cells = new Map<string, Cell>();
  for (const way of ways)
    for (const cell of [...way.lanes.flatMap((lane) => lane.cells), ...way.backlog.map((one) => one.cell)])
      cells.set(cell.key, cell);
  const cellOf = finder(ways, grouping, rows === "lanes", given);
  return { ways, cells, cellOf };
}

function laneOf({ fields, ...row }: Row, states: State[], board: Given["board"]): Lane {
  const shown = new Map(states.map((one) => [one.id, one]));
  const cells = (row.own && board?.cells[row.own.id]) ?? states.map((one) => ({ states: [one.id], skipped: false }));
  return {
    ...row,
    cells: cells.flatMap((cell): Cell[] => {
      const here = cell.states.filter((id) => shown.has(id));
      const first = here[0];
      if (!first) return [];
      const name = here.map((id) => stateName(shown.get(id))).join(" and ");
      return [
        {
          key: keyOf(row.id, first),
          states: here,
          skipped: cell.skipped,
          limit: row.own?.cells[first] ?? null,
          fields: { ...fields, period_id: null },
          label: row.name ? `${name}, ${row.name}` : name,
        },
      ];
    }),
  };
}

/** What a state is called where its stage is not said. */
export const stateName = (state: State | undefined) =>
  !state ? "" : state.step && !state.step_of ? `${state.name}: ${state.step}` : state.name;

const periodCell = (period: Period, first: State): Cell => ({
  key: keyOf(`~${period.id}`, first.id),
  states: [first.id],
  skipped: false,
  limit: null,
  fields: { period_id: period.id },
  label: `Backlog, ${period.name}`,
});

export const inBacklog = (cell: string) => cell.startsWith("~");

function finder(ways: Way[], grouping: Grouping | null, own: boolean, { project, board }: Given) {
  const byWay = new Map(ways.map((way) => [way.id, way]));
  const wayOf = new Map(project.states.map((one) => [one.id, byWay.get(one.workflow_id)]));
  const placed = new Map<string, string>();
  for (const way of ways)
    for (const lane of way.lanes)
      for (const cell of lane.cells) for (const state of cell.states) placed.set(keyOf(lane.id, state), cell.key);
  const lanes = new Map(project.lanes.map((one) => [one.id, one.workflow]));
  const laneIdOf = (row: TaskRow, way: string | null): string => {
    if (grouping) return String(grouping.heldBy(row));
    if (!own) return "";
    const ruled = board?.lanes[row.id];
    const byHand = row.lane_id && lanes.has(row.lane_id) && lanes.get(row.lane_id) === way ? row.lane_id : null;
    return byHand ?? (ruled && lanes.get(ruled) === way ? ruled : "");
  };
  return (row: TaskRow): string => {
    const way = wayOf.get(row.state_id);
    const waits =
      row.state_class === "queued" ? way?.backlog.find((one) => one.period.id === row.period_id) : undefined;
    if (waits) return waits.cell.key;
    const key = keyOf(laneIdOf(row, way?.id ?? null), row.state_id);
    return placed.get(key) ?? key;
  };
}

/** The slips of each cell; a list that did not change stays the same, so that its cell is not drawn anew. */
export function sorted(
  slips: TaskRow[],
  cellOf: (row: TaskRow) => string,
  before: Shape | null,
): Map<string, TaskRow[]> {
  const found = new Map<string, TaskRow[]>();
  for (const row of slips) {
    const key = cellOf(row);
    const list = found.get(key);
    if (list) list.push(row);
    else found.set(key, [row]);
  }
  for (const [key, list] of found) {
    const was = before?.slipsIn.get(key);
    if (was && was.length === list.length && was.every((row, index) => row === list[index])) found.set(key, was);
  }
  return found;
}

/** How many tasks stand in each state, whatever the sentence leaves; those in the backlog do not count. */
export function standing(rows: Iterable<TaskRow>, project: Project): Map<string, number> {
  const periods = new Set(project.periods.map((one) => one.id));
  const found = new Map<string, number>();
  for (const row of rows) {
    if (row.is_summary || (row.state_class === "queued" && row.period_id && periods.has(row.period_id))) continue;
    found.set(row.state_id, (found.get(row.state_id) ?? 0) + 1);
  }
  return found;
}

/**
 * Where a slip comes to stand that is put before another of a cell, or at its end: the slip of the column that it stands
 * behind, and the place that is shown until the server has given it one.
 */
export function placeIn(
  id: string,
  cell: Cell,
  before: string | null,
  slips: TaskRow[],
  shape: Shape,
): { after: string | null; shown: string } {
  const list = (shape.slipsIn.get(cell.key) ?? []).filter((row) => row.id !== id);
  const behind = list[before ? list.findIndex((row) => row.id === before) - 1 : list.length - 1];
  if (behind) return { after: behind.id, shown: `${behind.board_place}!` };
  const column = slips.filter((row) => row.state_id === cell.states[0] && row.id !== id);
  const first = list[0];
  // on top of its cell: behind whatever stands before that cell's first slip in the column
  if (first) return { after: column[column.indexOf(first) - 1]?.id ?? null, shown: "" };
  return { after: column.at(-1)?.id ?? null, shown: "~" };
}

/** What a slip shows that was put down, until the server has answered. */
export function shownIn(
  row: TaskRow,
  cell: Cell,
  state: State,
  place: string,
  project: Project,
  now: Date,
): Partial<TaskRow> {
  const entries = Object.entries(cell.fields);
  const custom = entries.flatMap(([field, value]) => {
    const own = fieldOf(project, field);
    return own ? [[own.id, value]] : [];
  });
  const plain = Object.fromEntries(entries.filter(([field]) => !field.startsWith("own."))) as Partial<TaskRow>;
  return {
    ...shownState(project, row, state.id),
    board_place: place,
    ...plain,
    ...(custom.length ? { own: { ...row.own, ...Object.fromEntries(custom) } } : {}),
    ...(state.state_class === "finished" ? { actual_finish: now.toISOString() } : {}),
  };
}
