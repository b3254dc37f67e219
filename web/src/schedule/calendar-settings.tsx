import { useQueryClient } from "@tanstack/react-query";
import { X } from "lucide-react";
import { useState } from "react";
import { client, newId, type Project, sentence } from "../data/api";
import { sendUndoable } from "../data/undo";
import { Button, IconButton, Wrong } from "../parts/basics";
import { DateField } from "../parts/dates/field";
import { sayDuration, sayHours } from "../parts/format";
import { useSaveProject } from "../tasks/settings/save";
import { CopyFrom, Holidays, Preview } from "./calendar-help";
import { withRipple } from "./ripple";

const DAYS = [
  ["mon", "Monday"],
  ["tue", "Tuesday"],
  ["wed", "Wednesday"],
  ["thu", "Thursday"],
  ["fri", "Friday"],
  ["sat", "Saturday"],
  ["sun", "Sunday"],
] as const;

const write = (hours: string[][]) => hours.map(([from, to]) => `${from}–${to}`).join(", ");

/** `09:00-13:00, 14:00-17:30` into pairs; each time gets its leading zero. */
export function readHours(text: string): string[][] | null {
  if (!text.trim()) return [];
  const pairs: string[][] = [];
  for (const part of text.split(",")) {
    const found = part.trim().match(/^(\d{1,2}):?(\d{2})?\s*(?:[-–]|to)\s*(\d{1,2}):?(\d{2})?$/);
    if (!found) return null;
    pairs.push([
      `${found[1]?.padStart(2, "0")}:${found[2] ?? "00"}`,
      `${found[3]?.padStart(2, "0")}:${found[4] ?? "00"}`,
    ]);
  }
  return pairs;
}

export interface Calendar {
  week: Record<string, string[][]>;
  exceptions: { from: string; to: string; hours: string[][]; name: string }[];
}

const rowsOf = (calendar: Project["calendar"]) =>
  (calendar.exceptions ?? []).map((one, index) => ({
    key: index,
    from: one.from,
    to: one.to,
    name: one.name ?? "",
    hours: write(one.hours ?? []),
  }));

type Named = Project["calendars"][number];
const NEW = "new";

/** The calendars of a project: its own, and those that single tasks may have. */
export function Calendars({ project }: { project: Project }) {
  const [chosen, setChosen] = useState<string | null>(null);
  const other =
    chosen === NEW
      ? { id: "", name: "", week: {}, exceptions: project.calendar.exceptions }
      : (project.calendars.find((one) => one.id === chosen) ?? null);
  const look = (on: boolean) =>
    `h-7 border-b-2 px-1 ${on ? "border-rose font-semibold text-ink" : "border-transparent text-ink-2 hover:text-ink"}`;
  return (
    <section>
      <h2 className="mb-1 text-[17px]">Working calendars</h2>
      <fieldset className="mb-2 flex flex-wrap gap-x-4 border-b border-rule-2">
        <legend className="sr-only">Calendar</legend>
        <button type="button" aria-pressed={!other} className={look(!other)} onClick={() => setChosen(null)}>
          The project’s
        </button>
        {project.calendars.map((one) => (
          <button
            key={one.id}
            type="button"
            aria-pressed={chosen === one.id}
            className={look(chosen === one.id)}
            onClick={() => setChosen(one.id)}
          >
            {one.name}
          </button>
        ))}
        <button
          type="button"
          aria-pressed={chosen === NEW}
          className={look(chosen === NEW)}
          onClick={() => setChosen(NEW)}
        >
          + for some tasks
        </button>
      </fieldset>
      <CalendarForm
        key={`${chosen}${JSON.stringify(other ?? project.calendar)}`}
        project={project}
        other={other}
        choose={setChosen}
      />
    </section>
  );
}

/** The working week, and days that differ: holidays, or a Saturday that is worked. */
function CalendarForm({
  project,
  other,
  choose,
}: {
  project: Project;
  /** null: the project's own; one without an id is to be added */
  other: Named | null;
  choose: (id: string | null) => void;
}) {
  const save = useSaveProject(project);
  const queries = useQueryClient();
  const from = other ?? project.calendar;
  const [name, setName] = useState(other?.name ?? "");
  const [week, setWeek] = useState<Record<string, string>>(() =>
    Object.fromEntries(DAYS.map(([day]) => [day, write(from.week[day] ?? [])])),
  );
  const [exceptions, setExceptions] = useState(() => rowsOf(from));
  const [wrong, setWrong] = useState("");
  const [changed, setChanged] = useState(false);
  const change = (index: number, part: Partial<(typeof exceptions)[number]>) => {
    setChanged(true);
    setExceptions(exceptions.map((one, at) => (at === index ? { ...one, ...part } : one)));
  };
  /** The form as a calendar; a sentence where something in it cannot be read. */
  function read(): Calendar | string {
    const hoursOf: Record<string, string[][]> = {};
    for (const [day, name] of DAYS) {
      const hours = readHours(week[day] ?? "");
      if (!hours) return `${name}: write hours as 09:00–13:00, 14:00–17:30, or leave it empty for a day off.`;
      hoursOf[day] = hours;
    }
    const special: Calendar["exceptions"] = [];
    for (const one of exceptions) {
      const hours = readHours(one.hours);
      if (!hours)
        return `${one.name || "A day that differs"}: write hours as 09:00–13:00, or leave them empty for a day off.`;
      if (!one.from || !one.to) return "Give each day that differs its first and last day.";
      special.push({ from: one.from, to: one.to, hours, name: one.name });
    }
    return { week: hoursOf, exceptions: special };
  }
  function take(calendar: Project["calendar"]) {
    setChanged(true);
    setWeek(Object.fromEntries(DAYS.map(([day]) => [day, write(calendar.week[day] ?? [])])));
    setExceptions(rowsOf(calendar));
  }
  function addHolidays(days: { day: string; name: string }[]) {
    const known = new Set(exceptions.map((one) => one.from));
    const more = days.filter((one) => !known.has(one.day));
    if (!more.length) return;
    setChanged(true);
    const rows = more.map((one, index) => ({
      key: Date.now() + index,
      from: one.day,
      to: one.day,
      name: one.name,
      hours: "",
    }));
    setExceptions([...exceptions, ...rows].sort((a, b) => a.from.localeCompare(b.from)));
  }
  async function submit(event: React.FormEvent) {
    event.preventDefault();
    const calendar = read();
    if (typeof calendar === "string") return setWrong(calendar);
    try {
      setWrong("");
      const { code } = project;
      const calendar_id = other?.id || newId();
      const attempt = (consent: string) =>
        sendUndoable<Project>(
          queries,
          code,
          "Changed the calendar",
          (headers) =>
            other
              ? client.PUT("/api/projects/{code}/calendars/{calendar_id}", {
                  params: { path: { code, calendar_id } },
                  body: { name, ...calendar },
                  headers,
                })
              : client.PUT("/api/projects/{code}/calendar", { params: { path: { code } }, body: calendar, headers }),
          { consent },
        );
      const saved = await withRipple(code, "Changed the calendar", attempt, () => {});
      if (!saved) return;
      await save("Changed the calendar", Promise.resolve(saved));
      if (other) choose(calendar_id);
    } catch (error) {
      setWrong(sentence(error));
    }
  }
  async function remove(calendar_id: string) {
    try {
      const path = { code: project.code, calendar_id };
      await save("Deleted a calendar", (headers) =>
        client.DELETE("/api/projects/{code}/calendars/{calendar_id}", { params: { path }, headers }),
      );
      choose(null);
    } catch (error) {
      setWrong(sentence(error));
    }
  }
  return (
    <form onSubmit={submit} aria-label={other ? other.name || "New calendar" : "The project’s calendar"}>
      <p className="mb-2 text-ink-2">
        {other
          ? "Other hours, for tasks that are worked at night, at weekends or by the tide. Choose it in the task."
          : `A usual day is ${sayHours(project.day_minutes)} of work: ${sayDuration(project.day_minutes, project.day_minutes)}. Durations stay; you see what else moves before it is saved.`}
      </p>
      {other && (
        <label className="mb-2 flex min-h-8 items-center gap-2">
          <span className="w-24">Name</span>
          <input
            className="input flex-1"
            placeholder="Night shift"
            value={name}
            onChange={(event) => {
              setChanged(true);
              setName(event.target.value);
            }}
          />
        </label>
      )}
      {DAYS.map(([day, name]) => (
        <label key={day} className="flex min-h-8 items-center gap-2">
          <span className="w-24">{name}</span>
          <input
            className="input flex-1"
            placeholder="day off"
            value={week[day]}
            onChange={(event) => {
              setChanged(true);
              setWeek({ ...week, [day]: event.target.value });
            }}
          />
        </label>
      ))}
      <h3 className="mt-3 mb-1 font-sans text-[13px] font-semibold">Days that differ</h3>
      {exceptions.map((one, index) => (
        <div key={one.key} className="mb-1 flex flex-wrap gap-1">
          <DateField
            label="First day"
            value={one.from}
            onChange={(day) => change(index, { from: day, to: one.to && one.to >= day ? one.to : day })}
          />
          <DateField label="Last day" value={one.to} onChange={(day) => change(index, { to: day })} />
          <input
            className="input w-32 flex-1"
            aria-label="Name"
            placeholder="name"
            value={one.name}
            onChange={(event) => change(index, { name: event.target.value })}
          />
          <input
            className="input w-28"
            aria-label="Hours"
            placeholder="day off"
            value={one.hours}
            onChange={(event) => change(index, { hours: event.target.value })}
          />
          <IconButton
            label={`Take out ${one.name || "this day"}`}
            onClick={() => {
              setChanged(true);
              setExceptions(exceptions.filter((_, at) => at !== index));
            }}
          >
            <X size={14} />
          </IconButton>
        </div>
      ))}
      <Button
        look="rose"
        className="px-1"
        onClick={() => {
          setChanged(true);
          setExceptions([...exceptions, { key: Date.now(), from: "", to: "", name: "", hours: "" }]);
        }}
      >
        + a day that differs
      </Button>
      <Holidays from={project.start_day} add={addHolidays} added="stand in the form. Save the calendar to keep them." />
      <CopyFrom project={project} take={take} />
      <Preview project={project} read={read} />
      <Wrong text={wrong} />
      <div className="mt-2">
        <Button look="go" type="submit" disabled={!changed}>
          {other && !other.id ? "Add the calendar" : "Save the calendar"}
        </Button>
        {other?.id && (
          <Button look="rose" className="ml-2" onClick={() => remove(other.id)}>
            Delete it
          </Button>
        )}
      </div>
    </form>
  );
}
