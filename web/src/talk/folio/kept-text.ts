/** What somebody types is kept in the browser until the server has it: through a closed tab and an ended session. */
import { useState } from "react";

export function useKeptText(key: string): [string | null, (text: string | null) => void] {
  const name = `rhodonite.${key}`;
  const [typed, setTyped] = useState<string | null>(() => localStorage.getItem(name));
  return [
    typed,
    (text) => {
      if (text === null) localStorage.removeItem(name);
      else localStorage.setItem(name, text);
      setTyped(text);
    },
  ];
}
