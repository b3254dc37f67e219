/** The columns of the outline, and the text that each shows and is edited as. */

import type { Project, TaskRow } from "../../data/api";
import type { People } from "../../data/hooks";
import { sayPriority } from "../../data/vocabulary";
import { sayDay, sayHours, sayLength, saySlack, sayVariance } from "../../parts/format";
import { SHAPES } from "../../resources/bookings";
import type { Catalogue, Foot, ShownColumn } from "../../views/view";
import { fieldOf, hasField, ownText, TYPED } from "../custom-fields";

export type BuiltIn =
  | "title"
  | "state"
  | "owner"
  | "priority"
  | "start"
  | "finish"
  | "duration"
  | "deadline"
  | "percent"
  | "waits"
  | "effort"
  | "booked"
  | "open"
  | "people"
  | "actual_start"
  | "actual_finish"
  | "slack"
  | "agreed"
  | "variance";

/** A column that is built in, one of the project's own fields, or one that is only read. */
export type ColumnId = BuiltIn | (string & {});

export interface Column {
  id: ColumnId;
  head: string;
  width: number;
  /** the grid hides columns from the highest rank on when it is narrow */
  rank: number;
  field: string;
  typed: boolean;
  right?: boolean;
  /** what stands at its foot */
  foot?: Foot;
  /** given by the server in words, and not edited here */
  readOnly?: boolean;
}

export const COLUMNS: Column[] = [
  { id: "title", head: "Task", width: 0, rank: 0, field: "title", typed: true },
  { id: "state", head: "State", width: 112, rank: 3, field: "state_id", typed: false },
  { id: "owner", head: "Owner", width: 52, rank: 1, field: "owner_id", typed: false },
  { id: "priority", head: "Priority", width: 70, rank: 7, field: "priority", typed: false },
  { id: "start", head: "Start", width: 76, rank: 4, field: "start", typed: true, right: true },
  { id: "finish", head: "Finish", width: 84, rank: 2, field: "finish", typed: true, right: true },
  { id: "duration", head: "Duration", width: 84, rank: 5, field: "duration", typed: true, right: true },
  { id: "deadline", head: "Deadline", width: 84, rank: 8, field: "deadline", typed: true, right: true },
  { id: "percent", head: "Done", width: 60, rank: 6, field: "percent", typed: true, right: true },
  { id: "waits", head: "Waits for", width: 130, rank: 9, field: "waits_for", typed: true },
  { id: "effort", head: "Estimate", width: 72, rank: 15, field: "effort", typed: true, right: true },
  { id: "booked", head: "Booked", width: 66, rank: 16, field: "booked", typed: true, right: true, readOnly: true },
  { id: "open", head: "Open", width: 60, rank: 17, field: "open", typed: true, right: true, readOnly: true },
  { id: "people", head: "People and hours", width: 170, rank: 18, field: "bookings", typed: true },
  { id: "actual_start", head: "Started on", width: 92, rank: 13, field: "actual_start", typed: true, right: true },
  { id: "actual_finish", head: "Finished on", width: 92, rank: 14, field: "actual_finish", typed: true, right: true },
  { id: "slack", head: "Slack", width: 66, rank: 10, field: "slack", typed: true, right: true },
  { id: "agreed", head: "Agreed", width: 78, rank: 11, field: "agreed_finish", typed: true, right: true },
  { id: "variance", head: "Variance", width: 72, rank: 12, field: "variance", typed: true, right: true },
];

const TITLE_AT_LEAST = 300;
/** On a phone: owner and finish stand beside it. */
const TITLE_ON_A_PHONE = 190;
const PHONE = 480;

/** The outline stays calm: what the schedule is for is shown there. */
const HOURS: string[] = ["effort", "booked", "open", "people"];
const NOT_IN_OUTLINE: string[] = ["actual_start", "actual_finish", "slack", "agreed", "variance", ...HOURS];

/** One list for each choice of columns, so that rows are not drawn anew while a window is made wider. */
const lists = new Map<string, Column[]>();

/** The columns of the outline for which there is room; what tasks wait for only where there are links. */
export function columnsFor(width: number, withLinks: boolean): Column[] {
  let left = width - (width < PHONE ? TITLE_ON_A_PHONE : TITLE_AT_LEAST);
  const kept = new Set<string>(["title"]);
  for (const column of [...COLUMNS].sort((a, b) => a.rank - b.rank).slice(1)) {
    if (NOT_IN_OUTLINE.includes(column.id) || (column.id === "waits" && !withLinks)) continue;
    if (column.width > left) break;
    left -= column.width;
    kept.add(column.id);
  }
  const key = [...kept].sort().join();
  const list = lists.get(key) ?? COLUMNS.filter((column) => kept.has(column.id));
  lists.set(key, list);
  return list;
}

/** How wide the title has to be to have the counts of what hangs on the task beside it. */
const ROOMY = 448;

/** True where the title has room for more beside it, the other columns as wide as they are. */
export function isRoomy(width: number, columns: Column[]): boolean {
  return width - columns.reduce((sum, one) => sum + (one.id === "title" ? 0 : one.width), 40) >= ROOMY;
}

const BY_KEY: Record<string, BuiltIn> = { agreed_finish: "agreed" };
const NARROWEST = 40;
const WIDEST = 600;

/** The columns that a view names, in its order; the title stands first always. */
export function columnsOf(shown: ShownColumn[], catalogue: Catalogue, project: Project): Column[] {
  const columns: Column[] = [COLUMNS[0] as Column];
  for (const one of shown) {
    const known = catalogue.columns.find((each) => each.key === one.key);
    if (!known || one.key === "title") continue;
    const built = COLUMNS.find((each) => each.id === (BY_KEY[one.key] ?? one.key));
    const own = fieldOf(project, one.key);
    const right = known.type === "number" || known.type === "date";
    const base: Column = built ?? {
      id: one.key,
      head: known.name,
      width: right ? 92 : 124,
      rank: 0,
      field: one.key,
      typed: own ? TYPED.has(own.type) : true,
      right,
      readOnly: own ? ["computed", "tasks", "tied"].includes(own.type) : !isCarriedTyped(one.key),
    };
    const width = Math.min(WIDEST, Math.max(NARROWEST, one.width ?? base.width));
    columns.push({ ...base, width, foot: one.foot });
  }
  return columns;
}

/** Carried from a task of another project, and typed: it is changed here as there. */
const isCarriedTyped = (key: string) =>
  key.startsWith("carried.") && /\.(start|finish|deadline|percent|effort)$/.test(key);

/** The key under which a column stands in a view. */
export const keyOf = (column: Column) => (column.id === "agreed" ? "agreed_finish" : column.id);

/** Computed on a summary task from the tasks under it, so not edited there. */
const COMPUTED: string[] = [
  "state",
  "start",
  "finish",
  "duration",
  "percent",
  "actual_start",
  "actual_finish",
  "effort",
  "people",
];
export const isComputed = (row: TaskRow, column: ColumnId) =>
  ["slack", "agreed", "variance"].includes(column) || (row.is_summary && COMPUTED.includes(column));

/** True for a cell that cannot be edited: it is computed, or the task's kind has no such field. */
export function isFixed(row: TaskRow, column: Column, project: Project): boolean {
  if (column.readOnly || isComputed(row, column.id)) return true;
  const own = fieldOf(project, column.id);
  return own !== undefined && !hasField(row, own);
}

/** By column that is only read, by task, its value. */
export type Words = Record<string, Record<string, string>>;

/** Who is booked, as it is typed. */
const sayPeople = (row: TaskRow, people?: People) =>
  row.bookings
    .map((one) => `${one.resource ? "crew" : (people?.byId.get(one.who)?.name ?? "somebody")} ${sayHours(one.minutes)}`)
    .join(", ");

/** Minutes so that they are read back as they were: shown hours are rounded. */
const exactHours = (minutes: number) => {
  const rest = minutes % 60;
  return minutes % 15 === 0
    ? `${minutes / 60} h`
    : minutes < 60
      ? `${rest} min`
      : `${Math.floor(minutes / 60)} h ${rest} min`;
};

/** Hours with how they lie over the task, as they are typed. */
const exactBooking = (one: TaskRow["bookings"][number]) =>
  one.shape === "by_day"
    ? (one.by_day.length > 1 ? "" : "1 × ") + one.by_day.map(exactHours).join(" + ")
    : exactHours(one.minutes) + (one.shape === "front" || one.shape === "back" ? ` ${SHAPES[one.shape]}` : "");

const MOMENTS: readonly string[] = ["start", "finish", "deadline", "actual_start", "actual_finish"];

/** The text of a cell for the clipboard: pasted elsewhere it gives the same value, to the minute. */
export function exactText(
  row: TaskRow,
  column: ColumnId,
  project: Project,
  now: Date,
  people?: People,
  words?: Words,
): string {
  const shown = cellText(row, column, project, now, people, words);
  if (!shown) return "";
  if (MOMENTS.includes(column))
    return String(row[column as "start"] ?? "")
      .slice(0, 16)
      .replace("T", " ");
  if (column === "effort" && row.effort !== null) return exactHours(row.effort);
  if (column === "people" && row.bookings.every((one) => !one.resource))
    return row.bookings
      .map((one) => `${people?.byId.get(one.who)?.name ?? "somebody"} ${exactBooking(one)}`)
      .join(", ");
  const own = fieldOf(project, column);
  return own?.type === "number" ? String(row.own[own.id]) : shown;
}

export function cellText(
  row: TaskRow,
  column: ColumnId,
  project: Project,
  now: Date,
  people?: People,
  words?: Words,
): string {
  switch (column) {
    case "title":
      return row.title;
    case "state":
      // a summary task is in no state of its own: the class says how the tasks under it stand
      return row.is_summary ? row.state_class : (project.states.find((state) => state.id === row.state_id)?.name ?? "");
    case "priority":
      return sayPriority(row.priority);
    case "start":
      return row.kind === "milestone" ? "" : sayDay(row.start, now);
    case "finish":
      return sayDay(row.finish, now);
    case "deadline":
      return sayDay(row.deadline, now);
    case "actual_start":
      return row.is_summary ? "" : sayDay(row.actual_start, now);
    case "actual_finish":
      return row.is_summary ? "" : sayDay(row.actual_finish, now);
    case "duration":
      return row.kind === "milestone" ? "" : sayLength(row);
    case "waits":
      return row.waits;
    case "effort":
      return sayHours(row.effort);
    case "booked":
      return row.booked ? sayHours(row.booked) : "";
    case "open":
      return row.open ? sayHours(row.open) : "";
    case "people": {
      // the server knows the names of crews
      const named = row.bookings.some((one) => one.resource) ? words?.people?.[row.id] : undefined;
      return row.is_summary ? "" : (named ?? sayPeople(row, people));
    }
    case "slack":
      return saySlack(row, project.day_minutes);
    case "agreed":
      return sayDay(row.agreed_finish, now);
    case "variance":
      return sayVariance(row.variance, project.day_minutes);
    case "percent":
      return row.percent || row.state_class !== "queued" ? `${row.percent} %` : "";
    default: {
      const own = fieldOf(project, column);
      if (column.startsWith("carried.")) {
        const said = words?.[column]?.[row.id] ?? "";
        return /^\d{4}-\d\d-\d\d$/.test(said) ? sayDay(said, now) : said;
      }
      return own && !["computed", "tasks", "tied"].includes(own.type)
        ? ownText(own, row.own[own.id], people)
        : (words?.[column]?.[row.id] ?? "");
    }
  }
}
