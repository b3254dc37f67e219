/** A day: typed as people say it, or chosen from a month. It shows days in one form, whatever the country of the browser. */
import { format, parseISO } from "date-fns";
import { CalendarDays } from "lucide-react";
import { Suspense, useEffect, useId, useRef, useState } from "react";
import { ask, client, sentence } from "../../data/api";
import { Pop } from "../basics";
import { later } from "../later";

const Month = later(() => import("./month").then((module) => module.default));
const ISO = /^\d{4}-\d{2}-\d{2}$/;
const WAIT = 150;

const shown = (day: string) => (ISO.test(day) ? format(parseISO(day), "d MMM yyyy") : "");

interface Props {
  /** an ISO day; empty for none */
  value: string;
  /** Gives an ISO day, or nothing: also while what is typed is not understood, so that nobody acts on the day before. */
  onChange: (day: string) => void;
  label?: string;
  required?: boolean;
  className?: string;
}

export function DateField({ value, onChange, label, required, className = "w-[136px]" }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const [wrong, setWrong] = useState("");
  const [open, setOpen] = useState(false);
  const asked = useRef(0);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const said = useId();
  const input = useRef<HTMLInputElement>(null);

  useEffect(() => () => clearTimeout(timer.current), []);
  // a form is not sent while its day is not understood
  useEffect(
    () => input.current?.setCustomValidity(typed?.trim() && !value ? wrong || "One moment." : ""),
    [typed, value, wrong],
  );

  function type(text: string) {
    setTyped(text);
    setWrong("");
    clearTimeout(timer.current);
    const turn = ++asked.current;
    const trimmed = text.trim();
    if (!trimmed || ISO.test(trimmed)) return onChange(trimmed);
    onChange("");
    timer.current = setTimeout(async () => {
      try {
        const { day } = await ask(client.GET("/api/days", { params: { query: { text: trimmed } } }));
        if (turn === asked.current) onChange(day);
      } catch (error) {
        if (turn === asked.current) setWrong(sentence(error));
      }
    }, WAIT);
  }

  function choose(day: string) {
    asked.current++;
    clearTimeout(timer.current);
    setTyped(null);
    setWrong("");
    setOpen(false);
    onChange(day);
  }

  return (
    <span className={`inline-block align-top ${className}`}>
      <span className="relative flex">
        <input
          ref={input}
          aria-label={label}
          aria-invalid={wrong ? true : undefined}
          aria-describedby={wrong ? said : undefined}
          className="input w-full min-w-0 pr-7"
          placeholder="8 Mar, fri"
          required={required}
          value={typed ?? shown(value)}
          onFocus={(event) => event.target.select()}
          onChange={(event) => type(event.target.value)}
          onBlur={() => value && setTyped(null)}
          onKeyDown={(event) => {
            if (event.key === "ArrowDown" && event.altKey) {
              event.preventDefault();
              setOpen(true);
            }
          }}
        />
        <Pop
          label="Month"
          open={open}
          onOpenChange={setOpen}
          align="end"
          trigger={
            <button
              type="button"
              aria-label="Choose a day"
              className="absolute top-0 right-0 grid h-full w-7 place-items-center text-ink-2 hover:text-ink"
            >
              <CalendarDays size={14} aria-hidden="true" />
            </button>
          }
        >
          <Suspense fallback={<div className="h-[236px] w-[228px]" />}>
            <Month day={ISO.test(value) ? value : null} onChoose={choose} />
          </Suspense>
        </Pop>
      </span>
      {typed?.trim() && value && !ISO.test(typed.trim()) && (
        <span className="block pt-0.5 text-[12px] text-ink-2">{shown(value)}</span>
      )}
      {wrong && (
        <span id={said} role="alert" className="block pt-0.5 text-[12px] font-semibold text-ember">
          {wrong}
        </span>
      )}
    </span>
  );
}
