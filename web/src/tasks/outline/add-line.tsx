/** The last row of the outline: type a title and press Enter, again and again. Pasted lines become tasks. */
import { Plus } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { sentence } from "../../data/api";
import { redo, undo } from "../../data/undo";
import type { Changes } from "../changes";

const KEPT = (code: string) => `rhodonite.adding.${code}`;

export function AddLine({
  code,
  changes,
  first,
  onAdded,
  onLeave,
}: {
  code: string;
  changes: Changes;
  /** there is no task yet: whoever comes here types one at once */
  first: boolean;
  onAdded: () => void;
  onLeave: () => void;
}) {
  const [text, setText] = useState(() => sessionStorage.getItem(KEPT(code)) ?? "");
  const [wrong, setWrong] = useState("");
  const input = useRef<HTMLInputElement>(null);
  const write = (value: string) => {
    setText(value);
    sessionStorage.setItem(KEPT(code), value);
  };

  useEffect(() => {
    if (first && (document.activeElement ?? document.body) === document.body) input.current?.focus();
  }, [first]);

  async function add(typed: string) {
    setWrong("");
    try {
      queueMicrotask(onAdded);
      await changes.add([{ title: typed.trim(), parent_id: null, after_id: "end" }]);
    } catch (error) {
      // what was typed comes back, unless the next title is being typed already
      setText((now) => now || typed);
      setWrong(sentence(error));
    }
  }

  return (
    <div className="flex h-[31px] items-center gap-1.5 border-b border-rule/60 pl-[22px]">
      <Plus size={14} className="flex-none text-rose" aria-hidden="true" />
      <input
        ref={input}
        data-add-line
        className="h-full min-w-0 flex-1 bg-transparent outline-none"
        aria-label="Write a task and press Enter"
        placeholder="Write a task and press Enter, or paste many lines"
        value={text}
        onChange={(event) => write(event.target.value)}
        onPaste={(event) => {
          const pasted = event.clipboardData.getData("text/plain");
          if (!/\S[\r\n]+\s*\S/.test(pasted)) return;
          event.preventDefault();
          changes.paste(pasted, null, "end").then(onAdded);
        }}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key.toLowerCase() === "z" && (event.ctrlKey || event.metaKey) && !text) {
            event.preventDefault(); // nothing is being typed: what was done last is taken back
            if (event.shiftKey) redo();
            else undo();
          } else if (event.key === "Enter" && text.trim()) {
            const typed = text;
            write("");
            add(typed);
          } else if (event.key === "Escape" || (event.key === "ArrowUp" && !text)) {
            onLeave();
          }
        }}
      />
      {wrong && (
        <span role="alert" className="px-2 font-semibold text-ember">
          {wrong}
        </span>
      )}
    </div>
  );
}
