/** The columns of the outline, and the text that each shows and is edited as. */
import type { Project, TaskRow } from "../../data/api";
import { sayDay, sayLength, sayPriority, saySlack, sayVariance } from "../../parts/say";

export type ColumnId =
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
  | "slack"
  | "agreed"
  | "variance";

export interface Column {
  id: ColumnId;
  head: string;
  width: number;
  /** the grid hides columns from the highest rank on when it is narrow */
  rank: number;
  field: string;
  typed: boolean;
  right?: boolean;
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
  { id: "slack", head: "Slack", width: 66, rank: 10, field: "slack", typed: true, right: true },
  { id: "agreed", head: "Agreed", width: 78, rank: 11, field: "agreed_finish", typed: true, right: true },
  { id: "variance", head: "Variance", width: 72, rank: 12, field: "variance", typed: true, right: true },
];

const TITLE_AT_LEAST = 300;

/** The outline stays calm: what the schedule is for is shown there. */
const NOT_IN_OUTLINE: ColumnId[] = ["slack", "agreed", "variance"];

/** The columns of the outline for which there is room; what tasks wait for only where there are links. */
export function columnsFor(width: number, withLinks: boolean): Column[] {
  let left = width - TITLE_AT_LEAST;
  const kept = new Set<ColumnId>(["title"]);
  for (const column of [...COLUMNS].sort((a, b) => a.rank - b.rank).slice(1)) {
    if (NOT_IN_OUTLINE.includes(column.id) || (column.id === "waits" && !withLinks)) continue;
    if (column.width > left) break;
    left -= column.width;
    kept.add(column.id);
  }
  return COLUMNS.filter((column) => kept.has(column.id));
}

/** Computed on a summary task from the tasks under it, so not edited there. */
const COMPUTED: ColumnId[] = ["state", "start", "finish", "duration", "percent"];
export const isComputed = (row: TaskRow, column: ColumnId) =>
  ["slack", "agreed", "variance"].includes(column) || (row.is_summary && COMPUTED.includes(column));

export function cellText(row: TaskRow, column: ColumnId, project: Project, now: Date): string {
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
    case "duration":
      return row.kind === "milestone" ? "" : sayLength(row);
    case "waits":
      return row.waits;
    case "slack":
      return saySlack(row, project.day_minutes);
    case "agreed":
      return sayDay(row.agreed_finish, now);
    case "variance":
      return sayVariance(row.variance, project.day_minutes);
    case "percent":
      return row.percent || row.state_class !== "queued" ? `${row.percent} %` : "";
    default:
      return "";
  }
}
