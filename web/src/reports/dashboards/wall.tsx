/** Dashboards on the whole screen, one after the other, for a wall. */
import { ChevronLeft, ChevronRight, Pause, Play, X } from "lucide-react";
import { Dialog } from "radix-ui";
import { useEffect, useRef, useState } from "react";
import { Failed, IconButton, Loading, Pop, Tick } from "../../parts/basics";
import { Select } from "../../parts/select";
import { Logo } from "../../shell/masthead";
import { useAnswers, useDashboard, useDashboards } from "./dashboards";
import { Grid } from "./grid";

const SECONDS = [15, 30, 60, 120, 300];

export function Wall({ first, close }: { first: string; close: () => void }) {
  const { data: every = [] } = useDashboards();
  const [chosen, setChosen] = useState([first]);
  const [at, setAt] = useState(0);
  const [seconds, setSeconds] = useState(30);
  const [resting, setResting] = useState(false);
  const shown = every.filter((one) => chosen.includes(one.id));
  const here = shown[at % Math.max(1, shown.length)]?.id ?? first;
  const turns = shown.length > 1 && !resting;
  const step = (by: number) => setAt((now) => (now + by + shown.length) % Math.max(1, shown.length));
  const stepping = useRef(step);
  stepping.current = step;
  useEffect(() => {
    if (!turns) return;
    const timer = setInterval(() => stepping.current(1), seconds * 1000);
    return () => clearInterval(timer);
  }, [turns, seconds]);
  useEffect(() => {
    // where the browser does not let it, it fills the window
    document.documentElement.requestFullscreen?.().catch(() => null);
    return () => {
      if (document.fullscreenElement) document.exitFullscreen().catch(() => null);
    };
  }, []);
  return (
    <Dialog.Root open onOpenChange={close}>
      <Dialog.Portal>
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed inset-0 z-50 flex flex-col bg-paper"
          onKeyDown={(event) => {
            if (event.target instanceof HTMLSelectElement) return;
            if (event.key === "ArrowRight") step(1);
            if (event.key === "ArrowLeft") step(-1);
          }}
        >
          <header className="flex flex-none items-center gap-3 px-[18px] py-2.5">
            <Logo />
            <Dialog.Title className="min-w-0 truncate text-[23px]">
              {every.find((one) => one.id === here)?.name ?? "Dashboard"}
            </Dialog.Title>
            <span className="ml-auto flex flex-none items-center gap-1.5 text-ink-2">
              <Pop
                label="Which dashboards turn"
                align="end"
                trigger={
                  <button type="button" className="px-2 text-rose hover:underline">
                    {shown.length > 1 ? `${at + 1} of ${shown.length}` : "+ others in turn"}
                  </button>
                }
              >
                {every.map((one) => (
                  <Tick
                    key={one.id}
                    checked={chosen.includes(one.id)}
                    onChange={(on) =>
                      setChosen((now) =>
                        on ? [...now, one.id] : now.length > 1 ? now.filter((id) => id !== one.id) : now,
                      )
                    }
                  >
                    {one.code && <span className="text-[11px] font-semibold text-rose">{one.code}</span>} {one.name}
                  </Tick>
                ))}
              </Pop>
              {shown.length > 1 && (
                <>
                  <Select
                    aria-label="Seconds for each"
                    value={seconds}
                    onChange={(event) => setSeconds(Number(event.target.value))}
                  >
                    {SECONDS.map((one) => (
                      <option key={one} value={one}>
                        {one < 60 ? `${one} s` : `${one / 60} min`}
                      </option>
                    ))}
                  </Select>
                  <IconButton label="The one before" onClick={() => step(-1)}>
                    <ChevronLeft size={16} />
                  </IconButton>
                  <IconButton label={resting ? "Go on turning" : "Rest here"} onClick={() => setResting(!resting)}>
                    {resting ? <Play size={15} /> : <Pause size={15} />}
                  </IconButton>
                  <IconButton label="The next one" onClick={() => step(1)}>
                    <ChevronRight size={16} />
                  </IconButton>
                </>
              )}
              <Dialog.Close asChild>
                <IconButton label="Leave the full screen">
                  <X size={16} />
                </IconButton>
              </Dialog.Close>
            </span>
          </header>
          <div
            className="min-h-0 flex-1 overflow-auto border-t border-rule-2 bg-sheet [&_[data-menu]]:hidden"
            tabIndex={-1}
          >
            <OnWall key={here} id={here} />
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function OnWall({ id }: { id: string }) {
  const { data, error } = useDashboard(id);
  const answers = useAnswers(id, null);
  if (error && !data) return <Failed error={error} />;
  if (!data) return <Loading what="the dashboard" rows={14} />;
  return (
    <Grid dashboard={data} answers={answers.data} failed={answers.error && !answers.data ? answers.error : null} />
  );
}
