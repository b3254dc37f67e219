/** One cell of a time sheet: the hours of a task on a day. Typing changes them; several entries open beside it. */
import { useEffect, useRef, useState } from "react";
import { sentence } from "../../data/api";
import { Pop } from "../../parts/basics";
import { EntryLine } from "../folio";
import { sayTime } from "../say";
import { type SheetRow, useEntries } from "../time";

export interface CellSpot {
  row: number;
  day: number;
}

interface Props {
  row: SheetRow;
  day: string;
  name: string;
  person: string;
  focused: boolean;
  /** null where it is not edited, else the text that it begins with */
  editing: string | null;
  open: boolean;
  future: boolean;
  come: () => void;
  edit: (text: string) => void;
  leave: (step: "stay" | "down" | "next" | "back") => void;
  setOpen: (open: boolean) => void;
}

/** How a cell is edited: as text, or where it holds several entries, or hours on an invoice sheet, as a list of them. */
export const opensAs = (entries: { charged: boolean }[]) =>
  entries.length > 1 || entries.some((one) => one.charged) ? "list" : "text";

export function SheetCell(props: Props) {
  const { row, day, name, focused, editing, open, future, come, edit, leave, setOpen } = props;
  const here = row.entries.filter((one) => one.day === day);
  const minutes = here.reduce((sum, one) => sum + one.minutes, 0);
  const { add, edit: change, remove } = useEntries(row.code);
  const [sent, setSent] = useState<string | null>(null);
  const [wrong, setWrong] = useState<{ text: string; why: string } | null>(null);
  const cell = useRef<HTMLTableCellElement>(null);
  useEffect(() => {
    if (focused && editing === null && !open) cell.current?.focus();
  }, [focused, editing, open]);
  async function save(text: string) {
    const typed = text.trim();
    const only = here[0];
    if (typed === (minutes ? sayTime(minutes) : "") || (!typed && !only)) return setWrong(null);
    setSent(typed);
    try {
      if (!only) await add({ task_id: row.task_id, day, hours: typed, person_id: props.person });
      else if (typed) await change(only, { hours: typed });
      else await remove(only);
      setWrong(null);
    } catch (error) {
      setWrong({ text: typed, why: sentence(error) });
    } finally {
      setSent(null);
    }
  }
  const notes = here.some((one) => one.note);
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the grid handles keys
    <td
      ref={cell}
      // biome-ignore lint/a11y/noNoninteractiveElementToInteractiveRole: a cell of a grid
      role="gridcell"
      tabIndex={focused ? 0 : -1}
      data-cell={`${row.task_id}:${day}`}
      aria-label={`${row.title}, ${name}: ${minutes ? sayTime(minutes) : "nothing"}`}
      aria-readonly={!row.may_enter || future}
      className={`relative h-[30px] border-l border-rule px-1.5 text-right tabular-nums outline-offset-[-2px] ${future ? "bg-paper" : ""}`}
      onClick={come}
      onFocus={(event) => event.target === cell.current && come()}
      onDoubleClick={() => row.may_enter && !future && (opensAs(here) === "list" ? setOpen(true) : edit(""))}
    >
      {editing !== null || wrong ? (
        <Typing
          first={wrong ? wrong.text : editing || (minutes ? sayTime(minutes) : "")}
          typed={editing !== null && editing !== ""}
          label={`${row.title}, ${name}`}
          wrong={wrong?.why}
          done={(text, step) => {
            if (text === null) setWrong(null);
            else save(text);
            leave(step);
          }}
        />
      ) : (
        <>
          {sent ?? (minutes ? sayTime(minutes) : "")}
          {(here.length > 1 || notes) && (
            <span
              className="absolute top-0.5 left-1 text-[10px] text-ink-3"
              title={here
                .map((one) => one.note)
                .filter(Boolean)
                .join("; ")}
            >
              {here.length > 1 ? here.length : "·"}
            </span>
          )}
        </>
      )}
      {open && (
        <Pop
          label={`Entries on ${row.title}, ${name}`}
          open
          onOpenChange={setOpen}
          className="w-[430px]"
          trigger={<span className="absolute inset-0" aria-hidden="true" />}
        >
          <p className="px-1.5 py-1 font-semibold">
            {row.title}, {name}
          </p>
          <ul>
            {here.map((one) => (
              <EntryLine key={one.id} entry={one} project={{ code: row.code, archived: false }} leads={row.may_enter} />
            ))}
          </ul>
          {!here.length && <p className="px-1.5 py-1 text-ink-2">Nothing yet. Type hours into the cell.</p>}
        </Pop>
      )}
    </td>
  );
}

function Typing({
  first,
  typed,
  label,
  wrong,
  done,
}: {
  first: string;
  /** true where it begins with what was typed: the caret then stands behind it */
  typed: boolean;
  label: string;
  wrong: string | undefined;
  done: (text: string | null, step: "stay" | "down" | "next" | "back") => void;
}) {
  const [text, setText] = useState(first);
  const input = useRef<HTMLInputElement>(null);
  const left = useRef(false);
  useEffect(() => {
    input.current?.focus();
    if (!typed) input.current?.select();
  }, [typed]);
  const end = (value: string | null, step: "stay" | "down" | "next" | "back") => {
    if (left.current) return;
    left.current = true;
    done(value, step);
    if (wrong) left.current = false;
  };
  return (
    <>
      <input
        ref={input}
        aria-label={label}
        aria-invalid={wrong ? true : undefined}
        className={`absolute inset-0 h-full w-full border bg-sheet px-1.5 text-right ${wrong ? "border-ember" : "border-rose"}`}
        value={text}
        onChange={(event) => setText(event.target.value)}
        onBlur={() => end(text, "stay")}
        onKeyDown={(event) => {
          event.stopPropagation();
          const step = { Enter: "down", Tab: event.shiftKey ? "back" : "next" }[event.key] as
            | "down"
            | "next"
            | undefined;
          if (event.key === "Escape") end(null, "stay");
          else if (step) {
            event.preventDefault();
            end(text, step);
          }
        }}
      />
      {wrong && (
        <span
          role="alert"
          className="absolute top-full right-0 z-20 w-56 border border-ember bg-ember-soft px-2 py-1 text-left text-[12px] font-semibold whitespace-normal text-ember"
        >
          {wrong}
        </span>
      )}
    </>
  );
}
