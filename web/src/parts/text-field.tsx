import { useEffect, useRef, useState } from "react";
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
        aria-label={label}
        aria-invalid={wrong ? true : undefined}
        title={hint}
        className={`h-7 border border-transparent bg-transparent text-ellipsis ${readOnly ? "" : "hover:border-rule-2 focus:border-rose focus:bg-sheet"} ${className}`}
        value={typed ?? value}
        readOnly={readOnly}
        placeholder={placeholder}
        onFocus={(event) => !readOnly && event.target.select()}
        onChange={(event) => {
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
