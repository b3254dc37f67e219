/** Questions that are asked again and again over all projects: each a sentence and a view of all work. */
interface Question {
  name: string;
  says: string;
  /** the sentence, as the address has it */
  scope: Record<string, string | string[]>;
  where?: unknown[];
  view: { columns: { key: string; foot?: string }[]; groups?: string[]; sorts?: { key: string; down: boolean }[] };
}

const OPEN = ["queued", "active"];
const WORK = [
  { key: "project" },
  { key: "state" },
  { key: "start" },
  { key: "finish" },
  { key: "effort", foot: "sum" },
];

export const QUESTIONS: Question[] = [
  {
    name: "What everybody works on",
    says: "under way, by person, the first to finish first",
    scope: { state_class: "active" },
    view: { columns: WORK, groups: ["owner"], sorts: [{ key: "finish", down: false }] },
  },
  {
    name: "Overdue",
    says: "late work by person, the latest first",
    scope: { late: "1", state_class: OPEN },
    view: {
      columns: [
        { key: "project" },
        { key: "state" },
        { key: "finish" },
        { key: "late_days", foot: "most" },
        { key: "held_by" },
      ],
      groups: ["owner"],
      sorts: [{ key: "late_days", down: true }],
    },
  },
  {
    name: "Due this week",
    says: "open work that is to finish this week, by project",
    scope: { state_class: OPEN },
    where: ["finish", "this_week"],
    view: {
      columns: [{ key: "owner" }, { key: "state" }, { key: "finish" }, { key: "effort", foot: "sum" }],
      groups: ["project"],
      sorts: [{ key: "finish", down: false }],
    },
  },
  {
    name: "Closed in the last week",
    says: "finished in the last seven days, by project and person",
    scope: { state_class: "finished" },
    where: ["actual_finish", "past", 7],
    view: {
      columns: [{ key: "actual_finish" }, { key: "effort", foot: "sum" }],
      groups: ["project", "owner"],
      sorts: [{ key: "actual_finish", down: true }],
    },
  },
  {
    name: "Closed, week by week",
    says: "finished in the last eight weeks, by the week in which it was",
    scope: { state_class: "finished" },
    where: ["actual_finish", "past", 56],
    view: {
      columns: [{ key: "project" }, { key: "owner" }, { key: "actual_finish" }, { key: "effort", foot: "sum" }],
      groups: ["closed_week"],
      sorts: [{ key: "actual_finish", down: true }],
    },
  },
  {
    name: "To finish, week by week",
    says: "open work of the next eight weeks, by the week of its finish",
    scope: { state_class: OPEN },
    where: ["finish", "within", 56],
    view: {
      columns: [{ key: "project" }, { key: "owner" }, { key: "finish" }, { key: "effort", foot: "sum" }],
      groups: ["finish_week"],
      sorts: [{ key: "finish", down: false }],
    },
  },
  {
    name: "Without an owner",
    says: "open work that nobody holds, by project",
    scope: { unowned: "1" },
    view: {
      columns: [{ key: "state" }, { key: "start" }, { key: "finish" }, { key: "effort", foot: "sum" }],
      groups: ["project"],
      sorts: [{ key: "start", down: false }],
    },
  },
  {
    name: "Held",
    says: "what cannot go on, and by what it is held",
    scope: { held: "1" },
    view: {
      columns: [{ key: "owner" }, { key: "held_by" }, { key: "time_held", foot: "most" }, { key: "finish" }],
      groups: ["project"],
      sorts: [{ key: "time_held", down: true }],
    },
  },
];

/** Where a question is answered. */
export function questionAddress({ scope, where, view }: Question): string {
  const params = new URLSearchParams();
  for (const [name, value] of Object.entries(scope)) for (const one of [value].flat()) params.append(name, one);
  if (where) params.set("where", JSON.stringify({ all: [where] }));
  params.set("view", JSON.stringify(view));
  return `/desk/all_work?${params}`;
}
