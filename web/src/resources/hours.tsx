/** The hours of a task in the folio: estimate, who is booked for how much, what is open, and what stays when one changes. */
import { X } from "lucide-react";
import { useTaskCost } from "../cost/cost";
import { sentence, type TaskRow } from "../data/api";
import { usePeople } from "../data/hooks";
import { note } from "../data/notes";
import { IconButton, Menu, MenuItem, Pop } from "../parts/basics";
import { sayHours } from "../parts/format";
import { TextField } from "../parts/text-field";
import { Tile } from "../parts/tile";
import { Cell, type FieldProps, PICK } from "../tasks/folio/cell";
import { Book } from "./book";
import { type Booking, bookingsSent, readAmount, SHAPES, sayAmount, sayBooked } from "./bookings";
import { useBookable } from "./use-bookable";

export const KEEPS: Record<string, string> = {
  ask: "asked each time",
  hours: "hours stay",
  length: "length stays",
  units: "units stay",
};
const perDay = (row: TaskRow, minutes: number) =>
  row.duration ? `${sayHours((minutes * row.day_minutes) / row.duration)} a day` : "";

export function Hours({ row, project, canEdit, edit }: FieldProps) {
  const bookable = useBookable(project.code);
  const { byId } = usePeople();
  const known = new Map(bookable.map((one) => [one.id, one]));
  const nameOf = (who: string) => known.get(who)?.name ?? byId.get(who)?.name ?? "Somebody";
  const open = canEdit && !row.is_summary;
  const send = (what: string, bookings: Record<string, unknown>[]) => edit(what, { bookings });
  const tell = (promise: Promise<void>) => promise.catch((error) => note(sentence(error), "wrong"));
  const without = (booking: Booking) => row.bookings.filter((one) => one !== booking).map(bookingsSent);
  const replaced = (booking: Booking, fields: Record<string, unknown>) =>
    row.bookings.map((one) => (one.who === booking.who ? { ...bookingsSent(one), ...fields } : bookingsSent(one)));
  if (row.is_summary)
    return (
      <Cell label="Booked">
        {sayHours(row.booked)}
        {row.open ? <span className="text-ink-2">, open {sayHours(row.open)}</span> : null}
      </Cell>
    );
  return (
    <Cell label="Booked" wide>
      <ul className="w-full">
        {row.bookings.map((booking) => (
          <li key={booking.who} className="flex min-h-8 items-center gap-2 border-b border-rule">
            <Tile person={byId.get(booking.who)} size={20} label={false} />
            <span className="min-w-0 flex-1 truncate">{nameOf(booking.who)}</span>
            {booking.of === "labour" ? (
              <LabourOf
                {...{ row, booking, open }}
                name={nameOf(booking.who)}
                save={(fields) => send("Hours", fields ? replaced(booking, fields) : without(booking))}
              />
            ) : booking.of === "fixed" ? (
              <SumOf
                {...{ row, project, open, booking }}
                name={nameOf(booking.who)}
                save={(amount) => send("What is spent", replaced(booking, { amount }))}
              />
            ) : (
              <TextField
                value={sayBooked(booking, known.get(booking.who)?.unit)}
                label={`How much of ${nameOf(booking.who)}`}
                readOnly={!open}
                className="w-[110px] px-1 text-right"
                onSave={(text) => send("What is used", replaced(booking, { amount: readAmount(text) }))}
              />
            )}
            {open && (
              <IconButton
                label={`Take out ${booking.of === "labour" ? `the hours of ${nameOf(booking.who)}` : nameOf(booking.who)}`}
                onClick={() => tell(send("Hours", without(booking)))}
              >
                <X size={13} />
              </IconButton>
            )}
          </li>
        ))}
      </ul>
      <span className="flex flex-wrap items-center gap-x-3 pt-1 text-[12.5px]">
        {open && (
          <Book
            {...{ row, project, bookable }}
            onChoose={(booking) => tell(send("Hours", [...row.bookings.map(bookingsSent), booking]))}
          />
        )}
        {row.open !== null && row.open !== 0 && (
          <b className={`font-semibold ${row.open < 0 ? "text-ochre" : ""}`}>
            {row.open > 0 ? `${sayHours(row.open)} open` : `${sayHours(-row.open)} more than estimated`}
          </b>
        )}
        {row.bookings.length > 0 && (
          <Menu
            trigger={
              <button
                type="button"
                disabled={!open}
                className={`${PICK} ml-auto w-auto text-ink-2`}
                aria-label={`When the length changes: ${KEEPS[row.keeps ?? "ask"]}`}
              >
                when the length changes: {KEEPS[row.keeps ?? "ask"]}
              </button>
            }
          >
            {Object.entries(KEEPS).map(([id, name]) => (
              <MenuItem
                key={id}
                chosen={(row.keeps ?? "ask") === id}
                onSelect={() => tell(edit("What stays", { keeps: id === "ask" ? null : id }))}
              >
                {name}
              </MenuItem>
            ))}
          </Menu>
        )}
      </span>
    </Cell>
  );
}

/** The sum of a fixed cost: for who may see cost; for others it stands as it is. */
function SumOf({
  row,
  project,
  booking,
  name,
  open,
  save,
}: {
  row: TaskRow;
  project: FieldProps["project"];
  booking: Booking;
  name: string;
  open: boolean;
  save: (amount: number) => Promise<void>;
}) {
  const sees = project.may.includes("see_costs");
  const { data } = useTaskCost(row.id);
  const line = data?.lines.find((one) => one.who === booking.who);
  if (!sees) return <span className="text-[12px] text-ink-2">a sum for leads to see</span>;
  return (
    <TextField
      value={line ? sayAmount("fixed", line.booked) : ""}
      label={`How much of ${name}`}
      readOnly={!open}
      className="w-[110px] px-1 text-right"
      onSave={(text) => save(readAmount(text))}
    />
  );
}

/** The hours of one person or crew: how many, and how they lie. Saved with null, they are taken out. */
function LabourOf({
  row,
  booking,
  name,
  open,
  save,
}: {
  row: TaskRow;
  booking: Booking;
  name: string;
  open: boolean;
  save: (fields: Record<string, unknown> | null) => Promise<void>;
}) {
  const tell = (promise: Promise<void>) => promise.catch((error) => note(sentence(error), "wrong"));
  return (
    <>
      <span className="hidden text-[11.5px] text-ink-2 sm:inline">{perDay(row, booking.minutes)}</span>
      <TextField
        value={sayHours(booking.minutes)}
        label={`Hours of ${name}`}
        readOnly={!open || booking.shape === "by_day"}
        className="w-[62px] px-1 text-right"
        onSave={(text) => save(text.trim() ? (text.includes("%") ? share(text) : { minutes: text }) : null)}
      />
      {open && (
        <Menu
          trigger={
            <button
              type="button"
              aria-label={`How the hours of ${name} lie: ${SHAPES[booking.shape]}`}
              title={SHAPES[booking.shape]}
              className="flex-none px-1 hover:bg-rose-soft"
            >
              <ShapeSign shape={booking.shape} />
            </button>
          }
        >
          {(["even", "front", "back"] as const).map((shape) => (
            <MenuItem key={shape} chosen={shape === booking.shape} onSelect={() => tell(save({ shape, by_day: [] }))}>
              <ShapeSign shape={shape} /> {SHAPES[shape]}
            </MenuItem>
          ))}
          <MenuItem chosen={booking.shape === "by_day"} onSelect={() => tell(save(byDay(row, booking)))}>
            <ShapeSign shape="by_day" /> {SHAPES.by_day}
          </MenuItem>
        </Menu>
      )}
      {booking.shape === "by_day" && open && <ByDay {...{ booking, name }} save={(by_day) => save({ by_day })} />}
    </>
  );
}

const share = (text: string) => ({ minutes: null, units: Number(text.replace(",", ".").replace("%", "").trim()) });

/** The same hours, laid on the days of the task one by one, to be changed there. */
function byDay(row: TaskRow, booking: Booking) {
  const days = Math.max(1, Math.min(200, Math.round((row.duration ?? row.day_minutes) / row.day_minutes)));
  const each = Math.floor(booking.minutes / days);
  const by_day = Array.from({ length: days }, (_, day) => each + (day < booking.minutes - each * days ? 1 : 0));
  return { shape: "by_day", by_day };
}

function ByDay({ booking, name, save }: { booking: Booking; name: string; save: (days: number[]) => Promise<void> }) {
  const text = booking.by_day.map((minutes) => Number((minutes / 60).toFixed(2))).join(" ");
  return (
    <Pop
      label={`Hours of ${name} by day`}
      trigger={
        <button type="button" className="flex-none text-rose hover:underline">
          days
        </button>
      }
    >
      <div className="w-64 p-2">
        <p className="mb-1 text-[12px] text-ink-2">
          Hours of each working day from the first of the task, with spaces between. They move with the task.
        </p>
        <TextField
          value={text}
          label={`Hours of ${name} by day`}
          className="w-full px-1.5"
          onSave={(typed) => save(readDays(typed))}
        />
      </div>
    </Pop>
  );
}

function readDays(text: string): number[] {
  return text
    .split(/[\s;]+/)
    .filter(Boolean)
    .map((one) => {
      const hours = Number(one.replace(",", "."));
      if (!Number.isFinite(hours) || hours < 0 || hours > 24)
        throw new Error(`“${one}” is no number of hours of a day.`);
      return Math.round(hours * 60);
    });
}

function ShapeSign({ shape }: { shape: Booking["shape"] }) {
  const heights = { even: [7, 7, 7, 7], front: [11, 8, 5, 2], back: [2, 5, 8, 11], by_day: [4, 10, 2, 8] }[shape];
  return (
    <svg width="16" height="12" aria-hidden="true" className="inline-block flex-none">
      <path
        d={heights.map((height, at) => `M${at * 4 + 1.5},12v-${height}`).join("")}
        stroke="currentColor"
        strokeWidth="3"
      />
    </svg>
  );
}
