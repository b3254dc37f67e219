/** The hours of a task in the folio: estimate, who is booked for how much, what is open, and what stays when one changes. */
import { X } from "lucide-react";
import { useState } from "react";
import { type Project, sentence, type TaskRow } from "../data/api";
import { usePeople } from "../data/hooks";
import { note } from "../data/notes";
import { IconButton, Menu, MenuItem, Pop } from "../parts/basics";
import { sayHours } from "../parts/format";
import { Picker } from "../parts/picker";
import { TextField } from "../parts/text-field";
import { Tile } from "../parts/tile";
import { Cell, type FieldProps, PICK } from "../tasks/folio/cell";
import { type Booking, bookingsSent } from "./bookings";
import { useBookable } from "./use-bookable";

const SHAPES: Record<Booking["shape"], string> = {
  even: "even over its days",
  front: "most at first",
  back: "most at last",
  by_day: "set day by day",
};
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
  const nameOf = (who: string) => bookable.find((one) => one.id === who)?.name ?? byId.get(who)?.name ?? "Somebody";
  const open = canEdit && !row.is_summary;
  const send = (what: string, bookings: Record<string, unknown>[]) => edit(what, { bookings });
  const tell = (promise: Promise<void>) => promise.catch((error) => note(sentence(error), "wrong"));
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
            <span className="hidden text-[11.5px] text-ink-2 sm:inline">{perDay(row, booking.minutes)}</span>
            <TextField
              value={sayHours(booking.minutes)}
              label={`Hours of ${nameOf(booking.who)}`}
              readOnly={!open || booking.shape === "by_day"}
              className="w-[62px] px-1 text-right"
              onSave={(text) =>
                send(
                  "Hours",
                  text.trim()
                    ? replaced(booking, text.includes("%") ? share(text) : { minutes: text })
                    : row.bookings.filter((one) => one !== booking).map(bookingsSent),
                )
              }
            />
            {open && (
              <Menu
                trigger={
                  <button
                    type="button"
                    aria-label={`How the hours of ${nameOf(booking.who)} lie: ${SHAPES[booking.shape]}`}
                    title={SHAPES[booking.shape]}
                    className="flex-none px-1 hover:bg-rose-soft"
                  >
                    <ShapeSign shape={booking.shape} />
                  </button>
                }
              >
                {(["even", "front", "back"] as const).map((shape) => (
                  <MenuItem
                    key={shape}
                    chosen={shape === booking.shape}
                    onSelect={() => tell(send("Hours", replaced(booking, { shape, by_day: [] })))}
                  >
                    <ShapeSign shape={shape} /> {SHAPES[shape]}
                  </MenuItem>
                ))}
                <MenuItem
                  chosen={booking.shape === "by_day"}
                  onSelect={() => tell(send("Hours", replaced(booking, byDay(row, booking))))}
                >
                  <ShapeSign shape="by_day" /> {SHAPES.by_day}
                </MenuItem>
              </Menu>
            )}
            {open && (
              <IconButton
                label={`Take out the hours of ${nameOf(booking.who)}`}
                onClick={() => tell(send("Hours", row.bookings.filter((one) => one !== booking).map(bookingsSent)))}
              >
                <X size={13} />
              </IconButton>
            )}
            {booking.shape === "by_day" && open && (
              <ByDay
                booking={booking}
                name={nameOf(booking.who)}
                save={(by_day) => send("Hours", replaced(booking, { by_day }))}
              />
            )}
          </li>
        ))}
      </ul>
      <span className="flex flex-wrap items-center gap-x-3 pt-1 text-[12.5px]">
        {open && (
          <Book
            {...{ row, project, bookable }}
            onChoose={(who, resource, minutes) =>
              tell(send("Hours", [...row.bookings.map(bookingsSent), { who, resource, minutes }]))
            }
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

/** Book somebody: who owns the task first; what is open is proposed. */
function Book({
  row,
  project,
  bookable,
  onChoose,
}: {
  row: TaskRow;
  project: Project;
  bookable: ReturnType<typeof useBookable>;
  onChoose: (who: string, resource: boolean, minutes: number) => void;
}) {
  const { byId } = usePeople();
  const [choosing, setChoosing] = useState(false);
  const booked = new Set(row.bookings.map((one) => one.who));
  const rank = (id: string) =>
    id === row.owner_id ? 0 : row.helpers.includes(id) ? 1 : id in project.members ? 2 : byId.has(id) ? 3 : 4;
  const choices = bookable
    .filter((one) => !booked.has(one.id))
    .sort((a, b) => rank(a.id) - rank(b.id) || a.name.localeCompare(b.name));
  const minutes = Math.max(0, row.open ?? 0);
  const owner = row.owner_id && !booked.has(row.owner_id) ? bookable.find((one) => one.id === row.owner_id) : undefined;
  return (
    <>
      {owner && minutes > 0 && (
        <button type="button" className="text-rose hover:underline" onClick={() => onChoose(owner.id, false, minutes)}>
          + {owner.name.split(" ")[0]} {sayHours(minutes)}
        </button>
      )}
      <Pop
        label="Book somebody"
        open={choosing}
        onOpenChange={setChoosing}
        trigger={
          <button type="button" className="text-rose hover:underline">
            + book somebody{minutes > 0 && !owner ? ` for ${sayHours(minutes)}` : ""}
          </button>
        }
      >
        <Picker
          label="Find a person, crew or role"
          nothing="Nobody who can be booked is called that."
          choices={choices.map((one) => ({
            id: one.id,
            name: one.name,
            before: <Tile person={byId.get(one.id)} size={20} label={false} />,
          }))}
          onChoose={(id) => {
            setChoosing(false);
            const chosen = bookable.find((one) => one.id === id);
            if (chosen) onChoose(chosen.id, chosen.resource, minutes);
          }}
        />
      </Pop>
    </>
  );
}
