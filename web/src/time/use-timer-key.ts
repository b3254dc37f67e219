/** Alt+T starts the timer on the task that has the focus or is open, and stops it where it runs on that, or nowhere to start. */
import { useEffect } from "react";
import { sentence } from "../data/api";
import { note } from "../data/notes";
import { useTimer, useTimerActions } from "./time";

/** The task that a key is for: that of the row, slip or line with the focus, else the one that is open. */
function taskAt(): string | null {
  const at = document.activeElement?.closest<HTMLElement>("[data-row], [data-slip], [data-task]");
  const beside = new URLSearchParams(window.location.search).get("open");
  return at?.dataset.slip ?? at?.dataset.task ?? at?.dataset.row ?? beside;
}

export function useTimerKey() {
  const { data } = useTimer();
  const { start, stop } = useTimerActions();
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!event.altKey || event.ctrlKey || event.metaKey || event.code !== "KeyT" || !data?.used) return;
      event.preventDefault();
      const id = taskAt();
      const runs = data.timer;
      if (runs && (!id || runs.task_id === id)) stop().catch((error) => note(sentence(error), "wrong"));
      else if (id) start({ id, title: "" }).catch((error) => note(sentence(error), "wrong"));
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [data, start, stop]);
}
