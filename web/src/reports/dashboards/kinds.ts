/** The kinds of panels: what each is called, what it is for, and how it begins. */
import { WIDE } from "../../views/scope";
import type { Options, PanelKind, PanelNew } from "./dashboards";

interface Kind {
  id: PanelKind;
  name: string;
  use: string;
  width: number;
  height: number;
  options?: Partial<Options>;
}

export const KINDS: Kind[] = [
  { id: "tasks", name: "List of tasks", use: "by a sentence, with the columns you choose", width: 6, height: 7 },
  { id: "milestones", name: "Milestones", use: "that come, are late, or were reached", width: 4, height: 6 },
  { id: "people", name: "People side by side", use: "what each has in hand; hand tasks over", width: 12, height: 8 },
  { id: "figure", name: "Figure", use: "a count, sum or mean, with trend and target", width: 3, height: 3 },
  {
    id: "chart",
    name: "Chart",
    use: "by any field, over time, or one number against another",
    width: 6,
    height: 7,
    options: { by: ["owner"] },
  },
  { id: "progress", name: "Progress", use: "how far all of it is, and how far it should be", width: 6, height: 5 },
  { id: "projects", name: "Projects", use: "how far each is, how it stands, when it ends", width: 6, height: 6 },
  { id: "portfolio", name: "Portfolio", use: "larger items, and what asks for attention below", width: 6, height: 7 },
  { id: "load", name: "Load", use: "how full people are in the weeks ahead", width: 4, height: 7 },
  { id: "cost", name: "Cost", use: "spent and at completion against budgets", width: 6, height: 5 },
  { id: "goals", name: "Goals", use: "how far they are, and should be by now", width: 6, height: 6 },
  { id: "reports", name: "Status reports", use: "the newest of each project", width: 6, height: 6 },
  { id: "text", name: "Text", use: "a note for those who read the dashboard", width: 4, height: 4 },
];

export const kindOf = (id: PanelKind) => KINDS.find((one) => one.id === id) as Kind;

/** Kinds whose panels follow a sentence of their own. */
export const hasSentence = (id: PanelKind) => id !== "text" && id !== "goals";

const OPTIONS: Options = {
  columns: [],
  sort: "",
  down: false,
  tints: [],
  by: [],
  period: "month",
  measure: "count",
  of: "",
  against: "",
  shape: "bars",
  over_time: false,
  last: 12,
  target: null,
  better: "up",
  trend: false,
  days: 31,
  weeks: 4,
  people: [],
  team_id: null,
  mine: false,
  text: "",
};

export const newPanel = (id: PanelKind): PanelNew => {
  const { width, height, options } = kindOf(id);
  return { kind: id, title: "", width, height, scope: WIDE, options: { ...OPTIONS, ...options }, after_id: "end" };
};
