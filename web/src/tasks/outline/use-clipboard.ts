/** Copying rows and cells of the outline, and pasting lines as tasks or blocks into cells. */

import { useMe, usePeople } from "../../data/hooks";
import { note } from "../../data/notes";
import { count } from "../../parts/format";
import type { Grid } from "../../parts/grid/use-grid";
import { isTyping } from "../../parts/typing";
import type { LensProps } from "../lens";
import type { ShownRow } from "./arranged";
import { copyCells, pasteCells } from "./cells";
import type { Column, Words } from "./columns";

export function useClipboard(
  grid: Grid,
  { project, changes }: Pick<LensProps, "project" | "changes">,
  rows: ShownRow[],
  columns: Column[],
  words: Words | undefined,
  canEdit: boolean,
) {
  const { now } = useMe();
  const people = usePeople();
  const { at, editing, chosen, act } = grid;

  function onPaste(event: React.ClipboardEvent) {
    if (!at || editing !== null || !canEdit || isTyping(event.target)) return;
    const index = rows.findIndex((one) => one.row.id === at.id);
    const here = rows[index];
    const text = event.clipboardData.getData("text/plain");
    if (!here || !text.trim()) return;
    event.preventDefault();
    // at a title lines become tasks; at any other cell a block fills the cells from there on
    if (at.cell === "title") {
      changes.paste(text, here.row.parent_id, here.row.id);
      return;
    }
    const below = rows.slice(index).map((one) => one.row);
    const right = columns.slice(columns.findIndex((one) => one.id === at.cell));
    const edits = pasteCells(text, below, right, project, people);
    if (typeof edits === "string") note(edits, "wrong");
    else if (edits.length) changes.editOrTell(`Pasted into ${count(edits.length, "task")}`, edits);
  }

  function onCopy(event: React.ClipboardEvent) {
    if (!at || editing !== null || isTyping(event.target)) return;
    const ids = new Set(act.targets());
    const taken = rows.filter((one) => ids.has(one.row.id)).map((one) => one.row);
    event.preventDefault();
    const one = columns.find((column) => column.id === at.cell);
    const cells = copyCells(taken, chosen.size || !one ? columns : [one], project, people, now, words);
    const heads = columns.map((column) => column.head).join("\t");
    event.clipboardData.setData("text/plain", chosen.size ? `${heads}\n${cells}` : cells);
    note(chosen.size ? `Copied ${count(taken.length, "task")} with their cells` : "Copied the cell");
  }

  return { onPaste, onCopy };
}
