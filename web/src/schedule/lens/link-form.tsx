/** The small form of a link: its type, lag, and a way to delete it. */
import { useEffect, useRef, useState } from "react";
import type { Project, TaskRow } from "../../data/api";
import { Button } from "../../parts/basics";
import { sayDuration } from "../../parts/format";
import type { LinkType } from "./geometry";

export interface LinkChoice {
  from: TaskRow;
  to: TaskRow;
  type: LinkType;
  /** it is there already, and of this type */
  was: LinkType | null;
  x: number;
  y: number;
}

const TYPES: [LinkType, string, string][] = [
  ["FS", "finish to start", "starts after it has finished"],
  ["SS", "start to start", "starts when it starts"],
  ["FF", "finish to finish", "finishes when it finishes"],
  ["SF", "start to finish", "finishes once it starts"],
];

/** The lag of a link in the form in which it is typed. */
export function lagText(minutes: number, elapsed: boolean, project: Project): string {
  if (!minutes) return "";
  const said = sayDuration(Math.abs(minutes), elapsed ? 1440 : project.day_minutes);
  return `${minutes < 0 ? "-" : ""}${said}${elapsed ? " elapsed" : ""}`;
}

const WRITTEN: Record<LinkType, (number: number) => string> = {
  FS: (number) => String(number),
  SS: (number) => `start with ${number}`,
  FF: (number) => `finish with ${number}`,
  SF: (number) => `finish once ${number} starts`,
};

/** A link as it is typed, which the server reads. */
export function linkText(type: LinkType, number: number, lag: string): string {
  const clean = lag.trim().replace(/^\+\s*/, "");
  if (!clean) return WRITTEN[type](number);
  const lead = /^[-−–]/.test(clean);
  return `${WRITTEN[type](number)} ${lead ? "-" : "+"} ${clean.replace(/^[-−–]\s*/, "")}`;
}

export function LinkForm({
  choice,
  lag: first,
  save,
  remove,
  close,
}: {
  choice: LinkChoice;
  lag: string;
  save: (type: LinkType, lag: string) => Promise<string | null>;
  remove: () => void;
  close: () => void;
}) {
  const [type, setType] = useState(choice.type);
  const [lag, setLag] = useState(first);
  const [wrong, setWrong] = useState<string | null>(null);
  const form = useRef<HTMLFormElement>(null);
  useEffect(() => form.current?.querySelector<HTMLElement>("input:checked")?.focus({ preventScroll: true }), []);
  return (
    <form
      ref={form}
      aria-label="Link"
      className="absolute z-40 w-[270px] border border-ink bg-sheet p-3 shadow-[0_14px_34px_-12px_#231a2455]"
      style={{ left: choice.x, top: choice.y }}
      onPointerDown={(event) => event.stopPropagation()}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === "Escape") close();
      }}
      onSubmit={async (event) => {
        event.preventDefault();
        setWrong(await save(type, lag));
      }}
    >
      <p className="mb-2 leading-snug">
        <b className="font-semibold">{choice.to.title}</b> waits for{" "}
        <b className="font-semibold">{choice.from.title}</b>
      </p>
      <fieldset className="mb-2">
        <legend className="sr-only">Type</legend>
        {TYPES.map(([one, name, words]) => (
          <label key={one} className="flex min-h-6 items-center gap-2">
            <input
              type="radio"
              name="type"
              className="accent-rose"
              checked={type === one}
              onChange={() => setType(one)}
            />
            {name} <span className="text-[11.5px] text-ink-2">{words}</span>
          </label>
        ))}
      </fieldset>
      <label className="mb-2 flex items-center gap-2">
        Lag
        <input
          className="input h-7 w-28"
          value={lag}
          placeholder="none"
          aria-invalid={wrong ? true : undefined}
          onChange={(event) => setLag(event.target.value)}
        />
        <span className="text-[11.5px] text-ink-2">2 d, -4 h</span>
      </label>
      {wrong && (
        <p role="alert" className="mb-2 text-[12px] font-semibold text-ember">
          {wrong}
        </p>
      )}
      <div className="flex gap-2">
        <Button look="go" type="submit">
          {choice.was ? "Save" : "Link"}
        </Button>
        {choice.was && <Button onClick={remove}>Delete the link</Button>}
        <Button look="quiet" onClick={close}>
          Cancel
        </Button>
      </div>
    </form>
  );
}
