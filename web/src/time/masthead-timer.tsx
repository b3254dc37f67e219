/** The timer in the masthead: what one works on, for how long, and the way to stop it. */
import { Clock3, Square } from "lucide-react";
import { Suspense, useEffect, useState } from "react";
import { sentence } from "../data/api";
import { note } from "../data/notes";
import { Pop } from "../parts/basics";
import { later } from "../parts/later";
import { sayTime } from "./say";
import { type Timer, useTimer, useTimerActions } from "./time";

const TimerCard = later(() => import("./timer-card").then((module) => module.default));

/** The minutes that a timer has run: those that the server told, and those since. */
function useMinutes(timer: Timer | null, toldAt: number): number {
  const [now, setNow] = useState(Date.now);
  useEffect(() => {
    if (!timer) return;
    const tick = setInterval(() => setNow(Date.now()), 15_000);
    return () => clearInterval(tick);
  }, [timer]);
  return timer ? timer.minutes + Math.max(0, Math.floor((now - toldAt) / 60_000)) : 0;
}

export function MastheadTimer() {
  const { data, dataUpdatedAt } = useTimer();
  const [open, setOpen] = useState(false);
  const { stop } = useTimerActions();
  const timer = data?.timer ?? null;
  const minutes = useMinutes(timer, dataUpdatedAt);
  if (!data || !(data.used || timer)) return null;
  return (
    <span className="flex h-11 flex-none items-center">
      <Pop
        label="Timer"
        align="end"
        open={open}
        onOpenChange={setOpen}
        className="w-[330px]"
        trigger={
          timer ? (
            <button
              type="button"
              aria-label={`Timer: ${sayTime(minutes)} on ${timer.title ?? "a task"}`}
              className="flex h-7 max-w-[220px] items-center gap-2 bg-[#b23a63] px-2 font-medium text-white hover:bg-[#9f3157]"
            >
              <span className="tabular-nums">{sayTime(minutes)}</span>
              <span className="hidden min-w-0 truncate text-[12.5px] lg:inline">
                {timer.forgotten ? "still running?" : (timer.title ?? "a task")}
              </span>
            </button>
          ) : (
            <button
              type="button"
              aria-label="Start the timer"
              title="Start the timer"
              className="grid size-7 place-items-center text-mast-text hover:text-white"
            >
              <Clock3 size={16} aria-hidden="true" />
            </button>
          )
        }
      >
        <Suspense fallback={<div className="h-32" />}>
          <TimerCard timer={timer} minutes={minutes} close={() => setOpen(false)} />
        </Suspense>
      </Pop>
      {timer && (
        <button
          type="button"
          aria-label="Stop the timer"
          title="Stop the timer"
          className="ml-px grid size-7 place-items-center bg-[#b23a63] text-white hover:bg-[#9f3157]"
          onClick={() => (timer.forgotten ? setOpen(true) : stop().catch((error) => note(sentence(error), "wrong")))}
        >
          <Square size={11} fill="currentColor" aria-hidden="true" />
        </button>
      )}
    </span>
  );
}
