/** The keys of the outline alone: to add, delete, indent and move tasks. */
import { note } from "../../data/notes";
import type { At, Grid } from "../../parts/grid/use-grid";
import type { Changes } from "../changes";
import type { ShownRow } from "./arranged";

const STEPS = { ArrowLeft: "outdent", ArrowRight: "indent", ArrowUp: "up", ArrowDown: "down" } as const;
const MOVE_AS_OUTLINED =
  "Tasks move where they stand as in the outline: take the groups and the order out of the sentence first.";

export interface Shaping {
  rows: ShownRow[];
  folded: Set<string>;
  changes: Changes;
  canEdit: boolean;
  /** rows stand as in the outline, so that they can be moved */
  asOutlined: boolean;
}

export function shapingOf(act: Grid["act"], { rows, folded, changes, canEdit, asOutlined }: Shaping) {
  async function addBelow(id: string) {
    const one = rows.find((row) => row.row.id === id);
    if (!one) return;
    const inside = one.hasBelow && !folded.has(id);
    const [made] = await changes.add([
      { title: "New task", parent_id: inside ? id : one.row.parent_id, after_id: inside ? null : id },
    ]);
    if (made) act.edit(made, "title");
  }

  async function remove() {
    const ids = act.targets();
    if (!ids.length) return;
    const index = rows.findIndex((one) => one.row.id === ids[0]);
    const next = rows.slice(index).find((one) => !ids.includes(one.row.id)) ?? rows[index - 1];
    act.choose([]);
    await changes.remove(ids);
    if (next) act.regain(next.row.id, "title");
  }

  async function step(how: (typeof STEPS)[keyof typeof STEPS], at: At) {
    if (!asOutlined) return note(MOVE_AS_OUTLINED);
    await changes.step(act.targets(), how);
    if (act.at()?.id === at.id) act.regain(at.id, at.cell);
  }

  function onKey(event: React.KeyboardEvent, at: At): boolean {
    if (!canEdit) return false;
    const how = event.altKey && STEPS[event.key as keyof typeof STEPS];
    if (how) step(how, at);
    else if (event.key === "Insert" || (event.key === "Enter" && (event.ctrlKey || event.metaKey))) addBelow(at.id);
    else if (event.key === "Delete") remove();
    else return false;
    return true;
  }

  return { onKey, remove };
}
