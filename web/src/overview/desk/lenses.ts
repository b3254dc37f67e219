import type { Sheet } from "../../shell/sheet-bar";

/** What the sheet bar of the desk shows before the sheets that people kept. */
export const DESK_LENSES: Sheet[] = [
  { to: "/desk", name: "Next" },
  { to: "/desk/all_work", name: "All work" },
  { to: "/desk/time", name: "Time sheet" },
];
