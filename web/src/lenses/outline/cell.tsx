/** One cell of the outline: shows a value and edits it in place. */
import { useEffect, useRef, useState } from "react";
import { Problem, type Project, type TaskRow } from "../../data/api";
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

/** Type over a cell. Enter saves, Escape puts back; what was refused stays typed, with the reason. */
export function CellInput({
  first,
  label,
  onSave,
  onDone,
  right,
}: {
  first: string;
  label: string;
  onSave: (text: string) => Promise<void>;
  /** how: where to go from here */
  onDone: (how: "stay" | "down" | "next" | "back") => void;
  right?: boolean;
}) {
  const [text, setText] = useState(first);
  const [wrong, setWrong] = useState("");
  const input = useRef<HTMLInputElement>(null);
  const finished = useRef(false);
  useEffect(() => {
    input.current?.focus();
    input.current?.select();
  }, []);
  async function save(how: "stay" | "down" | "next" | "back") {
    if (finished.current) return;
    finished.current = true;
    if (text === first) {
      onDone(how);
      return;
    }
    const saving = onSave(text);
    try {
      // a refusal comes back while the cell is still there to tell it; a good answer need not be waited for
      await Promise.race([saving, new Promise((done) => setTimeout(done, 1500))]);
      onDone(how);
    } catch (error) {
      finished.current = false;
      setWrong(error instanceof Problem ? error.sentence : String(error));
      input.current?.focus();
    }
  }
  return (
    <span className="relative block w-full">
      <input
        ref={input}
        aria-label={label}
        aria-invalid={wrong ? true : undefined}
        className={`h-[27px] w-full border border-rose bg-sheet px-1.5 text-ink outline-none ${right ? "text-right" : ""}`}
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setWrong("");
        }}
        onBlur={() => save("stay")}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === "Enter") save("down");
          else if (event.key === "Escape") {
            finished.current = true;
            onDone("stay");
          } else if (event.key === "Tab") {
            event.preventDefault();
            save(event.shiftKey ? "back" : "next");
          }
        }}
      />
      {wrong && (
        <span
          role="alert"
          className="absolute top-[29px] left-0 z-20 w-max max-w-80 border border-ember bg-ember-soft px-2 py-1 text-left whitespace-normal text-ink"
        >
          {wrong}
        </span>
      )}
    </span>
  );
}
