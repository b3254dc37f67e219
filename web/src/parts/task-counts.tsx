/** What hangs on a task, counted: what it waits for and what waits for it, things to tick, comments, attachments. */
import { ArrowRightToLine, Hourglass, MessageSquareText, Paperclip, SquareCheck } from "lucide-react";
import type { TaskRow } from "../data/api";
import { count } from "./format";

export function TaskCounts({ row }: { row: TaskRow }) {
  const shown: [typeof Paperclip, string, string][] = [];
  if (row.waits_open) shown.push([Hourglass, `${row.waits_open}`, `waits for ${count(row.waits_open, "task")}`]);
  if (row.awaited)
    shown.push([
      ArrowRightToLine,
      `${row.awaited}`,
      `${count(row.awaited, "task")} ${row.awaited > 1 ? "wait" : "waits"} for it`,
    ]);
  if (row.checks)
    shown.push([SquareCheck, `${row.checks_done}/${row.checks}`, `${row.checks_done} of ${row.checks} ticked`]);
  if (row.comments) shown.push([MessageSquareText, `${row.comments}`, count(row.comments, "comment")]);
  if (row.files) shown.push([Paperclip, `${row.files}`, count(row.files, "attachment")]);
  return shown.map(([Icon, words, full]) => (
    <span key={full} title={full} className="inline-flex items-center gap-0.5">
      <Icon size={11} aria-hidden="true" />
      <span aria-hidden="true">{words}</span>
      <span className="sr-only">{full}</span>
    </span>
  ));
}
