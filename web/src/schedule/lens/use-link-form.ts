/** Links in the schedule: drawn from bar to bar, picked, changed and deleted in a small form. */
import { useState } from "react";
import { sentence, type TaskRow } from "../../data/api";
import type { LensProps } from "../../tasks/lens";
import type { OutlineRow } from "../../tasks/rows";
import type { Axis } from "./axis";
import { HEAD, placeOf, typeOf } from "./geometry";
import { type LinkChoice, lagText, linkText } from "./link-form";
import { type Drag, rowAt } from "./use-drag";

const FORM = { width: 290, height: 262 };

interface Given extends Pick<LensProps, "project" | "changes" | "outline"> {
  scroller: React.RefObject<HTMLDivElement | null>;
  rows: OutlineRow[];
  axis: Axis;
  /** the width of the columns at the left, and of all that is in view, in pixels */
  grid: number;
  width: number;
  canEdit: boolean;
  /** the form of a link to a task is closed */
  onClose: (id: string) => void;
}

export function useLinkForm({ project, changes, outline, scroller, rows, axis, grid, width, canEdit, onClose }: Given) {
  const [choice, setChoice] = useState<LinkChoice | null>(null);
  // of all tasks: what a task waits for need not be in sight
  const rowOf = (id: string | undefined) => outline.find((one) => one.row.id === id)?.row;

  function open(from: TaskRow, to: TaskRow, type: LinkChoice["type"], x: number, y: number, picked = false) {
    const { scrollLeft = 0, scrollTop = 0, clientHeight = 400 } = scroller.current ?? {};
    const there = to.waits_for.find((link) => link.from_id === from.id);
    setChoice({
      from,
      to,
      type: picked ? type : (there?.type ?? type),
      was: picked ? type : (there?.type ?? null),
      x: Math.max(scrollLeft + grid + 8, Math.min(grid + x + 12, scrollLeft + width - FORM.width)),
      y: Math.max(scrollTop + HEAD + 4, Math.min(HEAD + y + 12, scrollTop + clientHeight - FORM.height)),
    });
  }

  /** A link is let go of: over which bar, and over which end of it. */
  function drop(row: TaskRow, drag: Drag) {
    const other = rowAt(rows, drag.y);
    if (!other || other.id === row.id) return;
    const place = placeOf(other, axis);
    const side = place && drag.x > (place.x + place.right) / 2 && drag.x - place.x > 8 ? "finish" : "start";
    open(row, other, typeOf(drag.how === "link-start" ? "start" : "finish", side), drag.x, drag.y);
  }

  /** A click on a link opens its form. */
  function pick(event: React.MouseEvent) {
    const key = (event.target as Element).closest<SVGElement>("[data-link]")?.dataset.link;
    const node = scroller.current;
    if (!key || !canEdit || !node) return;
    const [fromId, toId, type] = key.split(" ");
    const [from, to] = [rowOf(fromId), rowOf(toId)];
    if (!from || !to) return;
    const box = node.getBoundingClientRect();
    const x = event.clientX - box.left + node.scrollLeft - grid;
    const y = event.clientY - box.top + node.scrollTop - HEAD;
    open(from, to, type as LinkChoice["type"], x, y, true);
  }

  const othersOf = ({ from, to, was }: LinkChoice) =>
    to.waits_for.filter((link) => !(link.from_id === from.id && link.type === was));
  const lagOf = (link: TaskRow["waits_for"][number]) => lagText(link.lag ?? 0, link.elapsed ?? false, project);

  /** Save the link; what is wrong with it, or null. */
  async function save(one: LinkChoice, type: LinkChoice["type"], lag: string): Promise<string | null> {
    const kept = othersOf(one).flatMap((link) => {
      const number = rowOf(link.from_id)?.number;
      return number === undefined ? [] : [linkText(link.type, number, lagOf(link))];
    });
    const text = [...kept, linkText(type, one.from.number, lag)].join(", ");
    try {
      await changes.edit(`Links of “${one.to.title}”`, [{ id: one.to.id, fields: { waits_for: text } }]);
    } catch (error) {
      return sentence(error);
    }
    close(one.to.id);
    return null;
  }

  async function remove(one: LinkChoice) {
    close(one.to.id);
    const fields = { waits_for: othersOf(one) };
    await changes.editOrTell(`Deleted a link of “${one.to.title}”`, [{ id: one.to.id, fields }]);
  }

  function close(id: string) {
    setChoice(null);
    onClose(id);
  }

  /** The lag that the form begins with. */
  const lag = () => {
    const link = choice?.to.waits_for.find((one) => one.from_id === choice.from.id && one.type === choice.was);
    return link ? lagOf(link) : "";
  };

  return { choice, open, drop, pick, save, remove, close, lag, cancel: () => setChoice(null) };
}
