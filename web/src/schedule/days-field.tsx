/** A preference in working days, within a sentence. It is kept when the field is left, or with Enter. */
import { useEffect, useState } from "react";
import { sentence } from "../data/api";
import { type Preferences, usePreferences, useSetPreferences } from "../people/preferences";

export function DaysField({
  name,
  before,
  onSaved,
}: {
  name: keyof Preferences;
  before: string;
  onSaved?: () => void;
}) {
  const kept = usePreferences()[name];
  const set = useSetPreferences();
  const [typed, setTyped] = useState(String(kept));
  const [wrong, setWrong] = useState("");
  useEffect(() => setTyped(String(kept)), [kept]);
  async function save() {
    const days = Number(typed.replace(",", "."));
    if (days === kept) return;
    try {
      await set({ [name]: Number.isNaN(days) ? -1 : days });
      setWrong("");
      onSaved?.();
    } catch (error) {
      setWrong(sentence(error));
    }
  }
  return (
    <>
      <label className="flex items-center gap-1.5 text-[12px] text-ink-2">
        {before}
        <input
          inputMode="decimal"
          className="input h-6 w-12 px-1 text-right"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          onBlur={save}
          onKeyDown={(event) => {
            if (event.key === "Enter") {
              event.preventDefault();
              save();
            }
          }}
        />
        working days
      </label>
      {wrong && (
        <p role="alert" className="text-[12px] font-semibold text-ember">
          {wrong}
        </p>
      )}
    </>
  );
}
