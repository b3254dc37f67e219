import { useRef, useState } from "react";
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
  const saving = useRef(false);
  async function save() {
    if (typed === null || saving.current) return;
    if (typed === value) return setTyped(null);
    saving.current = true;
    try {
      await onSave(typed);
      setTyped((now) => (now === typed ? null : now)); // what was typed meanwhile stays
      setWrong("");
    } catch (error) {
      setWrong(sentence(error));
    } finally {
      saving.current = false;
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
