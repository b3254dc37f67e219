/** One cell of the outline: shows a value and edits it in place. */
import { useEffect, useRef, useState } from "react";
import type { Project, TaskRow } from "../../data/api";
import { useMe } from "../../data/hooks";
import { sayFull } from "../../parts/say";
import { type Column, cellText } from "./columns";

const late = (row: TaskRow, column: Column) =>
  (column.id === "finish" && row.late_days > 0) || (column.id === "deadline" && row.breaks_deadline);

export function CellText({ row, column, project }: { row: TaskRow; column: Column; project: Project }) {
  const { now } = useMe();
  const text = cellText(row, column.id, project, now);
  const iso =
    column.id === "start"
      ? row.start
      : column.id === "finish"
        ? row.finish
        : column.id === "deadline"
          ? row.deadline
          : null;
  const wrong = late(row, column);
  return (
    <span
      title={iso ? sayFull(iso) + (wrong && column.id === "finish" ? `, ${row.late_days} d late` : "") : undefined}
      className={`truncate ${wrong ? "font-semibold text-ember" : ""}`}
    >
      {text}
    </span>
  );
}

/** Type over a cell. Enter saves, Escape puts back; leaving it saves too. What is refused later opens again as typed. */
export function CellInput({
  first,
  shown,
  wrong,
  label,
  onSave,
  onDone,
  right,
}: {
  /** what stands in the field at first: the value, what was typed to begin, or what was refused */
  first: string;
  /** the value as it stands */
  shown: string;
  /** why it was refused */
  wrong?: string;
  label: string;
  onSave: (text: string) => void;
  /** how: where to go from here */
  onDone: (how: "stay" | "down" | "next" | "back") => void;
  right?: boolean;
}) {
  const [text, setText] = useState(first);
  const input = useRef<HTMLInputElement>(null);
  const finished = useRef(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when the field opens
  useEffect(() => {
    input.current?.focus();
    if (first === shown || wrong) input.current?.select();
  }, []);
  function leave(how: "stay" | "down" | "next" | "back", save = true) {
    if (finished.current) return;
    finished.current = true;
    onDone(how);
    if (save && text !== shown) onSave(text);
  }
  return (
    <span className="relative block w-full">
      <input
        ref={input}
        aria-label={label}
        aria-invalid={wrong && text === first ? true : undefined}
        className={`h-[27px] w-full border border-rose bg-sheet px-1.5 text-ink outline-none ${right ? "text-right" : ""}`}
        value={text}
        onChange={(event) => setText(event.target.value)}
        onBlur={() => leave("stay")}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === "Enter") leave("down");
          else if (event.key === "Escape") leave("stay", false);
          else if (event.key === "Tab") {
            event.preventDefault();
            leave(event.shiftKey ? "back" : "next");
          }
        }}
      />
      {wrong && text === first && (
        <span
          role="alert"
          className="absolute top-[29px] left-0 z-20 w-max max-w-80 border border-ember bg-ember-soft px-2 py-1 text-left font-normal whitespace-normal text-ink"
        >
          {wrong}
        </span>
      )}
    </span>
  );
}
