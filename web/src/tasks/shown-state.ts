/** What a task shows that is put into another state, until the server has answered. */
import type { Project, TaskRow } from "../data/api";

export function shownState({ states }: Pick<Project, "states">, row: TaskRow, id: string): Partial<TaskRow> {
  const state = states.find((one) => one.id === id);
  if (!state) return {};
  const finished = state.state_class === "finished";
  return {
    state_id: id,
    state_class: state.state_class,
    percent: finished ? 100 : row.percent,
    ...(finished ? { late_days: 0, health: "steady" } : {}),
  };
}
