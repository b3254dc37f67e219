/** Load: hours or tasks of people by day, over one project or all, against what they can do. A lens and a place. */
import { format, parseISO } from "date-fns";
import { ChevronLeft, ChevronRight } from "lucide-react";
import { useLayoutEffect, useMemo, useRef, useState } from "react";
import type { Project, Schemas } from "../../data/api";
import { mayShape, useMe } from "../../data/hooks";
import { Button, Empty, Failed, IconButton, Loading } from "../../parts/basics";
import { count, sayHours } from "../../parts/format";
import { Word } from "../../views/word";
import { COLOURS, OTHER } from "./colours";
import { COLUMN, LEFT, LoadGrid, type Spot } from "./grid";
import { HoursHorizon } from "./hours-horizon";
import { Level } from "./level";
import { Panel } from "./panel";
import { type Asked, iso, type Line, type Load, lastOf, step, total, useAsked, useLoad } from "./use-load";

const PANEL = 304;

/** Of the days of a week so many are worked, as a rule: the others are not drawn. */
const WORKED = 5 / 7;

export function LoadView({
  project,
  openTask,
  horizon,
}: {
  project?: Project;
  openTask: (code: string, id: string) => void;
  /** of the project, for the strip of time under the sentence */
  horizon?: Schemas["HorizonOut"];
}) {
  const { now } = useMe();
  const [asked, change] = useAsked(now);
  const [spot, setSpot] = useState<Spot | null>(null);
  const box = useRef<HTMLDivElement>(null);
  const panel = useRef<HTMLElement>(null);
  const [width, setWidth] = useState(0);
  useLayoutEffect(() => {
    const node = box.current;
    if (!node) return;
    const measure = () => setWidth(node.clientWidth);
    measure();
    const watch = new ResizeObserver(measure);
    watch.observe(node);
    return () => watch.disconnect();
  }, []);
  const phone = width > 0 && width < 640;
  const room = width - (phone ? 130 : LEFT) - (spot && !phone ? PANEL : 0);
  const fit = Math.floor(room / COLUMN[asked.by] / (asked.by === "day" ? WORKED : 1));
  const columns = width ? Math.max(3, Math.min(120, fit)) : 0;
  const load = useLoad(project?.code ?? null, asked, columns);
  const lines = (load.data?.lines ?? []).filter(
    (line) => (!asked.team || line.team === asked.team) && (!asked.over || line.days_over > 0),
  );
  const move = (by: number) => change({ first: iso(step(parseISO(asked.first), asked.by, by)) });
  const chosen = lines.find((line) => line.who === spot?.who);
  const shown = useMemo(() => drawn(load.data, asked.by), [load.data, asked.by]);
  return (
    <div className="flex min-h-0 min-w-0 flex-1 flex-col">
      <Sentence {...{ project, asked, change, lines, load: load.data, columns, move, now }} />
      {project && (
        <div className="hidden sm:block">
          <HoursHorizon
            project={project}
            data={horizon}
            window={{ since: asked.first, until: lastOf(asked, Math.max(1, columns)) }}
            onChange={({ since }) => since && change({ first: since })}
          />
        </div>
      )}
      <div ref={box} className="relative flex min-h-0 flex-1 border-t border-rule-2 bg-sheet">
        {load.error && !load.data ? (
          <Failed error={load.error} retry={load.refetch} />
        ) : !load.data ? (
          <Loading what="the load" rows={14} />
        ) : project && !project.hours && asked.count === "hours" ? (
          <Empty title="This project plans no hours">
            A lead switches them on in the settings of the project. Tasks can be counted all the same: choose them in
            the sentence above.
          </Empty>
        ) : !lines.length ? (
          <Empty title={asked.over ? "Nobody is over in these days" : "Nobody is in this list"}>
            {asked.over ? "Look at other days, or at everybody." : "Choose another team, or everybody."}
          </Empty>
        ) : (
          <LoadGrid
            {...{ load: load.data, lines, shown, asked, now }}
            at={spot}
            goTo={setSpot}
            past={move}
            enter={() => panel.current?.querySelector<HTMLElement>("button, input")?.focus()}
          />
        )}
        {chosen && spot && load.data && (
          <Panel
            ref={panel}
            key={chosen.who}
            {...{ project, asked, load: load.data, line: chosen, column: spot.column, openTask }}
            close={() => {
              const cell = `${spot.who}:${spot.column}`;
              setSpot(null);
              requestAnimationFrame(() => box.current?.querySelector<HTMLElement>(`[data-cell="${cell}"]`)?.focus());
            }}
          />
        )}
      </div>
    </div>
  );
}

/** The columns that are drawn: of days those on which somebody can work, or something lies. */
function drawn(load: Load | undefined, by: Asked["by"]): number[] {
  const all = (load?.columns ?? []).map((_, index) => index);
  if (by !== "day") return all;
  const used = (line: Line, index: number) => line.capacity[index] || line.away[index] || total(line, index);
  const worked = all.filter((index) => load?.lines.some((line) => used(line, index)));
  return worked.length ? worked : all;
}

interface Said {
  project?: Project;
  asked: Asked;
  change: (next: Partial<Asked>) => void;
  lines: Line[];
  load: Load | undefined;
  columns: number;
  move: (columns: number) => void;
  now: Date;
}

function Choices<T extends string>({
  of,
  value,
  onChoose,
}: {
  of: readonly (readonly [T, string])[];
  value: T;
  onChoose: (value: T) => void;
}) {
  return of.map(([id, name]) => (
    <button
      key={id}
      type="button"
      aria-pressed={id === value}
      className={`block w-full px-2 py-1 text-left hover:bg-rose-soft ${id === value ? "font-semibold" : ""}`}
      onClick={() => onChoose(id)}
    >
      {name}
    </button>
  ));
}

const COUNTS = [
  ["hours", "hours"],
  ["tasks", "tasks"],
] as const;
const BYS = [
  ["day", "day"],
  ["week", "week"],
  ["month", "month"],
] as const;

function Sentence({ project, asked, change, lines, load, columns, move, now }: Said) {
  const [levelling, setLevelling] = useState(false);
  const teams = [...new Set((load?.lines ?? []).flatMap((line) => line.team || []))].sort();
  const last = parseISO(lastOf(asked, Math.max(1, columns)));
  const first = parseISO(asked.first);
  return (
    <search
      aria-label="What is shown"
      className="flex flex-none flex-wrap items-center gap-x-1.5 gap-y-1 px-3 pt-1 pb-2 text-[13.5px] text-ink-2 sm:px-[18px]"
    >
      <span>
        Showing{" "}
        <Word
          label="What is counted"
          chooser={<Choices of={COUNTS} value={asked.count} onChoose={(value) => change({ count: value })} />}
        >
          {asked.count}
        </Word>{" "}
        of{" "}
        <Word
          label="Of whom"
          chooser={
            <Choices
              of={[["", "everybody"], ...teams.map((team) => [team, team] as const)]}
              value={asked.team ?? ""}
              onChoose={(team) => change({ team: team || null })}
            />
          }
        >
          {asked.team ?? "everybody"}
        </Word>
        {asked.over && (
          <>
            , only{" "}
            <button
              type="button"
              className="border-b-[1.5px] border-dotted border-rose pb-px font-[550] text-ink hover:bg-rose-soft"
              title="Take this clause out"
              onClick={() => change({ over: false })}
            >
              who is over
            </button>
          </>
        )}{" "}
        in{" "}
        {project ? (
          <Word
            label="In which projects"
            chooser={
              <Choices
                of={[
                  ["every", "every project"],
                  ["this", project.name],
                ]}
                value={asked.everywhere ? "every" : "this"}
                onChoose={(value) => change({ everywhere: value === "every" })}
              />
            }
          >
            {asked.everywhere ? "every project" : "this project"}
          </Word>
        ) : (
          "every project"
        )}
        , by{" "}
        <Word
          label="By what"
          chooser={<Choices of={BYS} value={asked.by} onChoose={(value) => change({ by: value })} />}
        >
          {asked.by}
        </Word>
      </span>
      <span className="flex items-center gap-0.5">
        <IconButton label={`Earlier ${asked.by}s`} onClick={() => move(-Math.max(1, Math.floor(columns / 2)))}>
          <ChevronLeft size={15} />
        </IconButton>
        <span className="whitespace-nowrap text-ink" aria-live="polite">
          {format(first, first.getFullYear() === last.getFullYear() ? "d MMM" : "d MMM yyyy")} to{" "}
          {format(last, "d MMM yyyy")}
        </span>
        <IconButton label={`Later ${asked.by}s`} onClick={() => move(Math.max(1, Math.floor(columns / 2)))}>
          <ChevronRight size={15} />
        </IconButton>
        <Button look="quiet" className="px-1.5" onClick={() => change({ by: asked.by, first: undefined })}>
          Today
        </Button>
        {project && mayShape(project) && project.hours && (
          <Button look="quiet" className="px-1.5" onClick={() => setLevelling(true)}>
            Level …
          </Button>
        )}
      </span>
      {levelling && project && (
        <Level
          {...{ project, lines }}
          first={asked.first}
          last={lastOf(asked, Math.max(1, columns))}
          close={() => setLevelling(false)}
        />
      )}
      <Totals {...{ lines, asked, change, now }} />
      {load && <Legend load={load} />}
    </search>
  );
}

function Totals({ lines, asked, change }: Pick<Said, "lines" | "asked" | "change" | "now">) {
  if (asked.count === "tasks") return null;
  const sum = (one: number[]) => one.reduce((all, value) => all + value, 0);
  const ofLine = (line: Line) => sum(line.capacity.map((_, column) => total(line, column)));
  const people = lines.filter((line) => line.kind === "person");
  const booked = people.reduce((all, line) => all + ofLine(line), 0);
  const capacity = people.reduce((all, line) => all + sum(line.capacity), 0);
  const over = lines.filter((line) => line.days_over > 0);
  const open = lines.filter((line) => line.kind === "nobody").reduce((all, line) => all + ofLine(line), 0);
  return (
    <span className="ml-auto text-[12.5px]">
      {sayHours(booked)} booked of {sayHours(capacity)}
      {over.length > 0 && (
        <>
          {" · "}
          <button
            type="button"
            className="font-semibold text-ember underline decoration-ember/40 hover:decoration-ember"
            onClick={() => change({ over: !asked.over })}
          >
            {count(over.length, "person", "people")} over
          </button>
        </>
      )}
      {open > 0 && ` · ${sayHours(open)} not given to anyone`}
    </span>
  );
}

/** Which colour is which project. */
function Legend({ load }: { load: Load }) {
  const codes = Object.entries(load.projects);
  const others = load.lines.some((line) => line.other.some(Boolean));
  const shown = codes.filter(([code]) => load.lines.some((line) => line.bands[code]));
  if (!shown.length && !others) return null;
  return (
    <ul aria-label="Colours" className="flex w-full flex-wrap gap-x-4 gap-y-0.5 text-[12px]">
      {codes.map(
        ([code, name], index) =>
          shown.some(([one]) => one === code) && (
            <li key={code} className="flex items-center gap-1.5">
              <span className="size-2.5" style={{ background: COLOURS[index % COLOURS.length] }} aria-hidden="true" />
              <b className="font-semibold">{code}</b> <span className="hidden sm:inline">{name}</span>
            </li>
          ),
      )}
      {others && (
        <li className="flex items-center gap-1.5">
          <span className="size-2.5" style={{ background: OTHER }} aria-hidden="true" /> other work
        </li>
      )}
    </ul>
  );
}
