/** One cell of the outline: shows a value and edits it in place. */
import { ArrowUpRight } from "lucide-react";
import { createContext, useContext, useLayoutEffect, useRef, useState } from "react";
import type { Project, TaskRow } from "../../data/api";
import { useMe, usePeople } from "../../data/hooks";
import { sayFull } from "../../parts/format";
import { CARRIED } from "../../views/tied";
import { fieldOf } from "../custom-fields";
import { type Column, cellText, type Words } from "./columns";

/** What the server says of columns that are only read. */
export const WordsContext = createContext<Words>({});

const late = (row: TaskRow, column: Column) =>
  (column.id === "finish" && row.late_days > 0) || (column.id === "deadline" && row.breaks_deadline);

/** A date set by hand looks different from a computed one: a pin has its sign, a no-earlier-than is underlined. */
export function DateText({ row, which, text }: { row: TaskRow; which: "start" | "finish"; text: string }) {
  const onThis = row.constraint_at !== null && !row.is_summary && row.constraint_type.includes(which);
  const pin = onThis && (row.constraint_type === "must_start" || row.constraint_type === "must_finish");
  if (pin)
    return (
      <b className="font-semibold text-ink">
        <span aria-hidden="true">⊙ </span>
        <span className="sr-only">pinned: </span>
        {text}
      </b>
    );
  return onThis && text ? (
    <span className="text-ink underline decoration-rule-2 decoration-1 underline-offset-3">{text}</span>
  ) : (
    text
  );
}

const HAND: Record<string, string> = {
  start_no_earlier: "set by hand: starts no earlier",
  finish_no_earlier: "set by hand: finishes no earlier",
  start_no_later: "set by hand: starts no later",
  finish_no_later: "set by hand: finishes no later",
  must_start: "pinned by hand",
  must_finish: "pinned by hand",
};

/** How a date came about, for hovering. */
export function sayOrigin(row: TaskRow, which: "start" | "finish"): string {
  if (row.is_summary) return "computed from the tasks under it";
  if (row.constraint_at !== null && row.constraint_type.includes(which)) return HAND[row.constraint_type] ?? "";
  return "computed";
}

export function CellText({ row, column, project }: { row: TaskRow; column: Column; project: Project }) {
  const { now } = useMe();
  const people = usePeople();
  const words = useContext(WordsContext);
  const text = cellText(row, column.id, project, now, people, words);
  if (fieldOf(project, column.id)?.type === "link" && text)
    return (
      <a
        href={text}
        target="_blank"
        rel="noreferrer"
        className="truncate text-rose underline"
        onClick={(event) => event.stopPropagation()}
      >
        {text.replace(/^https?:\/\//, "")}
      </a>
    );
  if (column.id.startsWith(CARRIED) && text)
    return (
      <span className="truncate" title={`${column.head}, of the task that it is tied to`}>
        <ArrowUpRight size={11} className="mr-0.5 inline text-slate" aria-label="of the tied task:" />
        {text}
      </span>
    );
  const iso =
    column.id === "start"
      ? row.start
      : column.id === "finish"
        ? row.finish
        : column.id === "deadline"
          ? row.deadline
          : null;
  const wrong =
    late(row, column) ||
    (column.id === "variance" && (row.variance ?? 0) > 0) ||
    (column.id === "slack" && row.slack !== null && row.slack < 0 && text !== "");
  const dated = column.id === "start" ? "start" : column.id === "finish" ? "finish" : null;
  const origin = dated && iso ? `, ${sayOrigin(row, dated)}` : "";
  return (
    <span
      title={
        iso ? sayFull(iso) + origin + (wrong && column.id === "finish" ? `, ${row.late_days} d late` : "") : undefined
      }
      className={`truncate ${wrong ? "font-semibold text-ember" : ""}`}
    >
      {dated ? <DateText row={row} which={dated} text={text} /> : text}
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
  below,
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
  /** what is said about the text as it is typed */
  below?: (text: string) => React.ReactNode;
}) {
  const [text, setText] = useState(first);
  const input = useRef<HTMLInputElement>(null);
  const finished = useRef(false);
  // before it is drawn, so that the next key finds it
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when the field opens
  useLayoutEffect(() => {
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
      {below && !(wrong && text === first) && below(text)}
    </span>
  );
}
