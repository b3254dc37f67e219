/** The lenses and pages of a project, and what each is called. */
import { LENSES } from "./lenses";

/** The pages on the project itself, behind one menu. */
export const ABOUT: Record<string, string> = {
  planning: "Planning",
  activity: "Activity",
  bin: "Bin",
  reports: "Status reports",
  invoices: "Invoice sheets",
  import: "Import",
  settings: "Settings",
};
export const NAMES: Record<string, string> = {
  ...Object.fromEntries(Object.entries(LENSES).map(([id, { name }]) => [id, name])),
  ...ABOUT,
  compare: "Side by side",
  task: "Task",
};
/** Those that show what the sentence leaves. */
export const SCOPED = ["outline", "board", "schedule", "costs"];
/** Where a draft is of use; the rest of a project knows of no drafts. */
export const IN_DRAFT = ["task", "brief", "outline", "board", "schedule", "load", "costs", "planning", "compare"];
