import { useEffect, useLayoutEffect, useRef, useState } from "react";
import { sentence } from "../data/api";

/** Text edited in place: Enter or leaving saves, Escape puts back; what was refused stays typed, with the reason. */
export function TextField({
  value,
  label,
  onSave,
  readOnly,
  placeholder,
  hint,
  className = "",
  below,
}: {
  value: string;
  label: string;
  onSave: (text: string) => Promise<void>;
  /** what is said about the text as it is typed */
  below?: (text: string) => React.ReactNode;
  readOnly?: boolean;
  placeholder?: string;
  hint?: string;
  className?: string;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const [wrong, setWrong] = useState("");
  // the text that is on its way, and the one that Enter or leaving asked to save meanwhile: it goes after that
  const under = useRef<string | null>(null);
  const next = useRef<string | null>(null);
  const onSaveNow = useRef(onSave);
  useEffect(() => {
    onSaveNow.current = onSave;
  });
  // whether all of it is selected: a text that arrives meanwhile is too, so that typing replaces it instead of adding to it
  const input = useRef<HTMLInputElement>(null);
  const whole = useRef(false);
  const shown = typed ?? value;
  // biome-ignore lint/correctness/useExhaustiveDependencies: it is the other text that loses the selection
  useLayoutEffect(() => {
    if (whole.current && document.activeElement === input.current) input.current?.select();
  }, [shown]);
  async function save() {
    if (typed === null) return;
    if (under.current !== null) {
      next.current = typed === under.current ? null : typed;
      return;
    }
    if (typed === value) return setTyped(null);
    next.current = typed;
    try {
      while (next.current !== null) {
        const text: string = next.current;
        under.current = text;
        next.current = null;
        await onSaveNow.current(text);
        setTyped((now) => (now === text ? null : now)); // what was typed meanwhile stays
      }
      setWrong("");
    } catch (error) {
      setWrong(sentence(error));
    } finally {
      under.current = null;
      next.current = null;
    }
  }
  return (
    <span className="relative block min-w-0">
      <input
        ref={input}
        aria-label={label}
        aria-invalid={wrong ? true : undefined}
        title={hint}
        className={`h-7 border border-transparent bg-transparent text-ellipsis ${readOnly ? "" : "hover:border-rule-2 focus:border-rose focus:bg-sheet"} ${className}`}
        value={shown}
        readOnly={readOnly}
        placeholder={placeholder}
        onFocus={(event) => {
          whole.current = !readOnly;
          if (!readOnly) event.target.select();
        }}
        onSelect={(event) => {
          const { selectionStart, selectionEnd, value: text } = event.currentTarget;
          whole.current = !readOnly && selectionStart === 0 && selectionEnd === text.length;
        }}
        onChange={(event) => {
          whole.current = false;
          setTyped(event.target.value);
          setWrong("");
        }}
        onBlur={save}
        onKeyDown={(event) => {
          if (event.key === "Enter") save();
          if (event.key === "Escape") {
            setTyped(null);
            setWrong("");
            (event.target as HTMLElement).blur();
          }
        }}
      />
      {wrong && (
        <span role="alert" className="block pb-1 text-[12px] font-semibold text-ember">
          {wrong}
        </span>
      )}
      {below && !wrong && typed !== null && typed !== value && below(typed)}
    </span>
  );
}
