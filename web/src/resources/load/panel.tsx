/** Beside the load: what lies on the chosen person in the chosen days. Hours are changed here, and given to others. */
import { useQueryClient } from "@tanstack/react-query";
import { addDays, differenceInCalendarDays, format, parseISO } from "date-fns";
import { ChevronLeft, ChevronRight, X } from "lucide-react";
import { type Ref, useState } from "react";
import type { Project, Schemas } from "../../data/api";
import { useMe, usePeople } from "../../data/hooks";
import { allKey } from "../../data/keys";
import { IconButton, Loading, Pop } from "../../parts/basics";
import { PersonList } from "../../parts/choosers";
import { count, sayDay, sayHours, sayHoursOf } from "../../parts/format";
import { TextField } from "../../parts/text-field";
import { useChanges } from "../../tasks/changes";
import { bookingsSent } from "../bookings";
import { COLOURS } from "./colours";
import { Grip, type Target } from "./dragging";
import { Mends } from "./mends";
import { type Asked, hasCapacity, iso, type Line, type Load, sayOn, useCell } from "./use-load";

type Task = Schemas["CellTaskOut"];

interface Props {
  ref: Ref<HTMLElement>;
  project?: Project;
  asked: Asked;
  load: Load;
  line: Line;
  column: number;
  openTask: (code: string, id: string) => void;
  close: () => void;
}

export function Panel({ ref, project, asked, load, line, column, openTask, close }: Props) {
  const first = load.columns[column] ?? load.columns[0] ?? "";
  const last = iso(addDays(parseISO(load.columns[column + 1] ?? load.end), -1));
  const cell = useCell(project?.code ?? null, line.who, first, last, asked.everywhere);
  const over = line.over[column] ?? 0;
  const { now } = useMe();
  const days =
    first === last ? format(parseISO(first), "EEEE d MMMM") : `${sayDay(first, now)} to ${sayDay(last, now)}`;
  const short = line.kind === "person" ? (line.name.split(" ")[0] ?? line.name) : line.name;
  const say = (value: number) => sayOn(line, value);
  const booked = (cell.data?.tasks ?? []).reduce((sum, one) => sum + one.minutes, cell.data?.other ?? 0);
  return (
    <aside
      ref={ref}
      aria-label={`${line.name}, ${days}`}
      className="absolute inset-0 z-20 overflow-auto border-l border-rule-2 bg-sheet p-4 sm:static sm:w-[304px] sm:flex-none"
      onKeyDown={(event) => event.key === "Escape" && !event.defaultPrevented && close()}
    >
      <div className="flex items-start gap-2">
        <h2 className="min-w-0 flex-1 text-[16px] leading-tight">
          {over ? `${short} is over by ${sayHours(over)}` : line.kind === "nobody" ? "Not given to anyone" : short}
        </h2>
        <IconButton label="Close" onClick={close}>
          <X size={15} />
        </IconButton>
      </div>
      <p className="mt-0.5 mb-3 text-[12.5px] text-ink-2">
        {days}
        {cell.data && hasCapacity(line) && `: ${sayHoursOf(booked, cell.data.capacity)}`}
        {line.days_over > 0 && `. Over on ${count(line.days_over, "day")} of those shown`}
      </p>
      {over > 0 && line.kind === "person" && (
        <Mends {...{ project, first, last }} who={line.who} everywhere={asked.everywhere} />
      )}
      {!cell.data ? (
        <Loading what="the bookings" rows={4} />
      ) : (
        <ul>
          {cell.data.tasks.map((task) => (
            <Booked
              key={task.row.id}
              {...{ task, who: line.who, load, column, say, openTask }}
              colour={COLOURS[Object.keys(load.projects).indexOf(task.code) % COLOURS.length]}
            />
          ))}
          {cell.data.other > 0 && (
            <li className="flex justify-between border-b border-rule py-2 text-ink-2">
              Other work, in projects that you do not see <span>{say(cell.data.other)}</span>
            </li>
          )}
          {!cell.data.tasks.length && !cell.data.other && <li className="text-ink-2">Nothing is booked.</li>}
        </ul>
      )}
    </aside>
  );
}

function Booked({
  task,
  who,
  load,
  column,
  colour,
  say,
  openTask,
}: {
  task: Task;
  who: string;
  load: Load;
  column: number;
  say: (value: number) => string;
  colour: string | undefined;
  openTask: Props["openTask"];
}) {
  const { row, code } = task;
  const { now } = useMe();
  const { byId } = usePeople();
  const queries = useQueryClient();
  const changes = useChanges(code);
  const [giving, setGiving] = useState(false);
  const mine = row.bookings.find((one) => one.who === who);
  async function save(what: string, bookings: Record<string, unknown>[]) {
    await changes.edit(what, [{ id: row.id, revision: row.revision, fields: { bookings } }]);
    queries.invalidateQueries({ queryKey: allKey("load") });
  }
  async function give(to: string) {
    await changes.give(who, to, [row.id]);
    queries.invalidateQueries({ queryKey: allKey("load") });
  }
  const movable = task.may_edit && !row.is_summary && mine?.of !== "material" && mine?.of !== "fixed";
  /** By calendar days; a step of one goes to the next day that is worked. */
  async function move(days: number) {
    const from = row.start ?? row.finish;
    if (!from) return;
    const to = format(addDays(parseISO(from), days), "yyyy-MM-dd'T'HH:mm");
    await changes.editOrTell(`Moved “${row.title}”`, [
      { id: row.id, revision: row.revision, fields: row.start ? { start: to } : { finish: to } },
    ]);
    queries.invalidateQueries({ queryKey: allKey("load") });
  }
  async function step(days: 1 | -1) {
    await changes.shiftBy([row.id], days);
    queries.invalidateQueries({ queryKey: allKey("load") });
  }
  function drop({ line, column: to }: Target) {
    if (line.who !== who) give(line.who);
    else move(differenceInCalendarDays(parseISO(load.columns[to] ?? ""), parseISO(load.columns[column] ?? "")));
  }
  return (
    <li className="border-b border-rule py-2">
      <div className="flex items-baseline gap-2">
        {movable && <Grip {...{ load, drop }} from={{ who, column }} title={row.title} />}
        <span className="size-2.5 flex-none" style={{ background: colour }} aria-hidden="true" />
        <button
          type="button"
          className="min-w-0 flex-1 text-left font-semibold hover:underline"
          onClick={() => openTask(code, row.id)}
        >
          <span className="font-normal text-ink-2">{code}</span> {row.title}
        </button>
        <span className="flex-none">{say(task.minutes)}</span>
      </div>
      <div className="mt-0.5 flex flex-wrap items-center gap-x-2 pl-[18px] text-[12.5px] text-ink-2">
        {row.start && row.finish && (
          <span>
            {sayDay(row.start, now)} to {sayDay(row.finish, now)}
          </span>
        )}
        {mine && mine.of !== "labour" ? (
          <span>in all {say(mine.amount ?? 0)}</span>
        ) : mine && task.may_edit ? (
          <span className="flex items-center">
            in all{" "}
            <TextField
              value={sayHours(mine.minutes)}
              label={`Hours on ${row.title}`}
              className="w-[58px] px-1"
              onSave={(text) =>
                save(
                  `Changed hours of “${row.title}”`,
                  row.bookings.map((one) =>
                    one === mine ? { ...bookingsSent(one), minutes: text } : bookingsSent(one),
                  ),
                )
              }
            />
          </span>
        ) : (
          mine && <span>in all {sayHours(mine.minutes)}</span>
        )}
        {task.may_edit && !mine?.resource && (
          <Pop
            label={`Give ${row.title} to somebody`}
            open={giving}
            onOpenChange={setGiving}
            trigger={
              <button type="button" className="text-rose hover:underline">
                {mine ? "give to another" : "give to somebody"}
              </button>
            }
          >
            <PersonList
              value={mine?.who ?? null}
              onChoose={(id) => {
                setGiving(false);
                if (id && id !== mine?.who) give(id);
              }}
            />
          </Pop>
        )}
        {movable && row.start && (
          <span className="flex items-center">
            <IconButton label={`Move ${row.title} a day earlier`} onClick={() => step(-1)}>
              <ChevronLeft size={14} />
            </IconButton>
            <IconButton label={`Move ${row.title} a day later`} onClick={() => step(1)}>
              <ChevronRight size={14} />
            </IconButton>
          </span>
        )}
        {task.outside > 0 && (
          <span className="font-semibold text-ember">
            {sayHours(task.outside)} outside the days of {byId.get(who)?.name.split(" ")[0] ?? "that person"}
          </span>
        )}
      </div>
    </li>
  );
}
