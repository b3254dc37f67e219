/** A new task before the server has answered. */
import type { TaskRow } from "../data/api";
import { bySibling } from "./merge";

const PLACED = new Set(["state_id", "lane_id", "period_id", "owner_id", "priority", "kind"]);

/** Where on the board it was written down. */
const where = (fields: Record<string, unknown> = {}) =>
  Object.fromEntries(Object.entries(fields).filter(([name]) => PLACED.has(name))) as Partial<TaskRow>;

/** A row to show until the server has answered. Its place is a guess that sorts where it was typed. */
export function blankRow(
  task: {
    id: string;
    title: string;
    parent_id: string | null;
    after_id: string | null;
    fields?: Record<string, unknown>;
  },
  byId: Map<string, TaskRow>,
): TaskRow {
  const siblings = [...byId.values()].filter((row) => row.parent_id === task.parent_id).sort(bySibling);
  const after = task.after_id === "end" ? siblings.at(-1) : siblings.find((row) => row.id === task.after_id);
  const model = byId.values().next().value as TaskRow | undefined;
  return {
    id: task.id,
    number: 0,
    parent_id: task.parent_id,
    place: after ? `${after.place}~` : task.after_id === null ? "" : "~",
    kind: "task",
    title: task.title,
    owner_id: null,
    helpers: [],
    state_id: model?.state_class === "queued" ? model.state_id : "",
    state_class: "queued",
    state_since: null,
    board_place: "~",
    held_reason: null,
    held_since: null,
    held_by_id: null,
    held: null,
    held_minutes: 0,
    marks: [],
    own: {},
    repeats: null,
    comments: 0,
    files: 0,
    checks: 0,
    checks_done: 0,
    priority: null,
    start: null,
    finish: null,
    duration: null,
    constraint_type: "asap",
    constraint_at: null,
    waits_for: [],
    waits: "",
    waits_open: 0,
    awaited: 0,
    slack: null,
    late_finish: null,
    critical: false,
    agreed_start: null,
    agreed_finish: null,
    variance: null,
    deadline: null,
    effort: null,
    booked: 0,
    spent: 0,
    open: null,
    bookings: [],
    keeps: null,
    percent: 0,
    actual_start: null,
    actual_finish: null,
    pushes: 0,
    is_summary: false,
    health: "not_judged",
    late_days: 0,
    breaks_deadline: false,
    late_below: 0,
    tasks_below: 0,
    finished_below: 0,
    revision: 0,
    day_minutes: 0,
    elapsed: false,
    calendar_id: null,
    lane_id: null,
    period_id: null,
    ...where(task.fields),
  };
}
