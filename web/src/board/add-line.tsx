/** The line that adds a slip to a cell: typed, or from a blank. What is typed is kept until it has arrived. */
import { Plus, SquareDashed } from "lucide-react";
import { memo, useRef, useState } from "react";
import { type Project, sentence } from "../data/api";
import { Menu, MenuItem } from "../parts/basics";
import type { Cell } from "./shape";

export interface Adding {
  blanks: Project["blanks"];
  add: (cell: Cell, title: string) => Promise<unknown>;
  fromBlank: (cell: Cell, blank: string, title: string) => Promise<unknown>;
}

export const AddLine = memo(function AddLine({ cell, adding }: { cell: Cell; adding: Adding }) {
  const [open, setOpen] = useState(false);
  const [text, setText] = useState("");
  const [wrong, setWrong] = useState("");
  const input = useRef<HTMLInputElement>(null);
  const send = async (make: (typed: string) => Promise<unknown>, typed: string) => {
    setWrong("");
    setText("");
    try {
      await make(typed);
    } catch (error) {
      setText((now) => now || typed); // unless the next one is being typed by now
      setWrong(sentence(error));
    }
  };
  if (!open)
    return (
      <button
        type="button"
        data-add={cell.key}
        aria-label={`Add to ${cell.label}`}
        onClick={() => setOpen(true)}
        className="cell-add mt-auto flex min-h-6 w-full items-center gap-1 text-[12px] text-ink-3 hover:text-rose"
      >
        <Plus size={13} aria-hidden="true" /> Add
      </button>
    );
  return (
    <div className="mt-auto">
      <div className="flex items-center gap-1">
        <input
          ref={input}
          // biome-ignore lint/a11y/noAutofocus: it opens because somebody is about to type
          autoFocus
          className="input min-w-0 flex-1"
          aria-label={`New task in ${cell.label}`}
          placeholder="Write a task"
          maxLength={500}
          value={text}
          onChange={(event) => setText(event.target.value)}
          onBlur={(event) => {
            if (!text && !wrong && !event.relatedTarget?.closest("[data-blanks]")) setOpen(false);
          }}
          onKeyDown={(event) => {
            event.stopPropagation();
            if (event.key === "Escape") {
              setOpen(false);
              setText("");
              setWrong("");
            } else if (event.key === "Enter" && text.trim()) send((typed) => adding.add(cell, typed), text.trim());
          }}
        />
        {adding.blanks.length > 0 && (
          <Menu
            align="end"
            trigger={
              <button
                type="button"
                data-blanks
                aria-label="From a blank"
                title="From a blank"
                className="grid size-[30px] flex-none place-items-center border border-rule-2 text-ink-2 hover:text-rose"
              >
                <SquareDashed size={14} aria-hidden="true" />
              </button>
            }
            onCloseAutoFocus={(event) => {
              event.preventDefault();
              input.current?.focus();
            }}
          >
            {adding.blanks.map((one) => (
              <MenuItem
                key={one.id}
                onSelect={() => send((typed) => adding.fromBlank(cell, one.id, typed || one.name), text.trim())}
              >
                {one.name}
              </MenuItem>
            ))}
          </Menu>
        )}
      </div>
      {wrong && (
        <p role="alert" className="pt-1 text-[12px] font-semibold text-ember">
          {wrong}
        </p>
      )}
    </div>
  );
});
