/** Starts the timer on a task, and stops it where it runs on that one. */
import { Clock3, Square } from "lucide-react";
import { sentence } from "../data/api";
import { note } from "../data/notes";
import { useTimer, useTimerActions } from "./time";

export function TimerButton({
  task,
  className = "",
  words = false,
  tabIndex,
}: {
  task: { id: string; title: string };
  className?: string;
  /** said beside the sign */
  words?: boolean;
  tabIndex?: number;
}) {
  const { data } = useTimer();
  const { start, stop } = useTimerActions();
  const runs = data?.timer?.task_id === task.id;
  const label = runs ? "Stop the timer" : "Start the timer";
  return (
    <button
      type="button"
      tabIndex={tabIndex}
      aria-label={`${label} on ${task.title}`}
      aria-pressed={runs}
      title={`${label} (Alt T)`}
      className={`inline-flex items-center gap-1.5 ${runs ? "text-rose" : ""} ${className}`}
      onClick={(event) => {
        event.stopPropagation();
        (runs ? stop() : start(task)).catch((error) => note(sentence(error), "wrong"));
      }}
    >
      {runs ? <Square size={11} fill="currentColor" aria-hidden="true" /> : <Clock3 size={13} aria-hidden="true" />}
      {words && (runs ? "stop" : "timer")}
    </button>
  );
}
