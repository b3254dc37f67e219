/** When a person can be booked: their share of the day, hours of their own, first and last day, and when they are away. */
import { useQueryClient } from "@tanstack/react-query";
import { addDays, format, parseISO } from "date-fns";
import { useState } from "react";
import { client, newId, type Person, type Schemas, sentence } from "../data/api";
import { manages, useMe } from "../data/hooks";
import { allKey } from "../data/keys";
import { note } from "../data/notes";
import { sendUndoable } from "../data/undo";
import { Button, Field, Loading, Modal, Wrong } from "../parts/basics";
import { DateField } from "../parts/dates/field";
import { sayDay } from "../parts/format";
import { Select } from "../parts/select";
import { Rates } from "./rates";
import { staffKey, useStaff } from "./use-staff";
import { readWeek, sayWeek, WeekHours } from "./week-hours";

type Staff = Schemas["BookableOut"];
type Absence = Schemas["AbsenceOut"];

export default function Capacity({ person, close }: { person: Person; close: () => void }) {
  const staff = useStaff();
  const { person: me } = useMe();
  const plans = manages(me);
  return (
    <Modal open onOpenChange={close} title={`When ${person.name} can be booked`} width={560}>
      {!staff.data ? (
        <Loading what="capacity" rows={6} />
      ) : (
        <>
          <Share person={person} staff={staff.data} canEdit={plans} />
          <Absences person={person} staff={staff.data} canEdit={plans || person.id === me.id} />
          {plans && (
            <section className="mt-5 grid gap-4 sm:grid-cols-2" aria-label="Rates">
              <Rates who={person.id} name={person.name} kind="cost" label="An hour costs" />
              <Rates who={person.id} name={person.name} kind="billing" label="An hour is charged at" />
            </section>
          )}
        </>
      )}
    </Modal>
  );
}

function useSend() {
  const queries = useQueryClient();
  return async (what: string, call: Parameters<typeof sendUndoable>[3]) => {
    await sendUndoable(queries, "", what, call);
    queries.invalidateQueries({ queryKey: staffKey });
    queries.invalidateQueries({ queryKey: allKey("load") });
  };
}

function Share({ person, staff, canEdit }: { person: Person; staff: Staff; canEdit: boolean }) {
  const send = useSend();
  const kept = staff.capacities.find((one) => one.person_id === person.id);
  const [share, setShare] = useState(String(kept?.share ?? 100));
  const [first, setFirst] = useState(kept?.first ?? "");
  const [last, setLast] = useState(kept?.last ?? "");
  const [own, setOwn] = useState(Boolean(kept?.week));
  const [week, setWeek] = useState<Record<string, string>>(sayWeek(kept?.week ?? staff.week));
  const [wrong, setWrong] = useState("");
  async function save(event: React.FormEvent) {
    event.preventDefault();
    const percent = Number(share.replace("%", ""));
    if (!Number.isInteger(percent) || percent < 1 || percent > 100)
      return setWrong("The bookable share of a day is a whole number from 1 to 100.");
    try {
      const read = own ? readWeek(week) : null;
      await send(`Changed the capacity of ${person.name}`, (headers) =>
        client.PATCH("/api/people/{person_id}/capacity", {
          params: { path: { person_id: person.id } },
          body: { share: percent, first: first || null, last: last || null, week: read },
          headers,
        }),
      );
      setWrong("");
      note("Saved");
    } catch (error) {
      setWrong(sentence(error));
    }
  }
  return (
    <form onSubmit={save} aria-label="Capacity" noValidate>
      <fieldset disabled={!canEdit}>
        <div className="grid grid-cols-3 gap-3">
          <Field label="Of the day, in %" hint="the rest is for mail and meetings">
            <input
              className="input w-full"
              inputMode="numeric"
              value={share}
              onChange={(event) => setShare(event.target.value)}
            />
          </Field>
          <Field label="From">
            <DateField label="From" className="w-full" value={first} onChange={setFirst} />
          </Field>
          <Field label="Until">
            <DateField label="Until" className="w-full" value={last} onChange={setLast} />
          </Field>
        </div>
        <label className="mb-2 flex items-center gap-2">
          <input
            type="checkbox"
            className="size-3.5 accent-rose"
            checked={own}
            onChange={(event) => setOwn(event.target.checked)}
          />
          Works hours of their own
          <span className="text-ink-2">{!own && "(now those of the organisation)"}</span>
        </label>
        {own && <WeekHours week={week} onChange={setWeek} />}
        <Wrong text={wrong} />
        {canEdit && (
          <Button look="go" type="submit">
            Save
          </Button>
        )}
      </fieldset>
    </form>
  );
}

const midnight = (at: string) => at.slice(11, 16) === "00:00";

/** `Mon 29 Mar to Thu 1 Apr`, or of hours `Tue 30 Mar, 13:00 to 17:00`. */
function sayAbsence(one: Absence, now: Date): string {
  const [start, end] = [one.start, one.end];
  if (midnight(start) && midnight(end)) {
    const last = format(addDays(parseISO(end), -1), "yyyy-MM-dd");
    return start.slice(0, 10) === last ? sayDay(start, now) : `${sayDay(start, now)} to ${sayDay(last, now)}`;
  }
  if (start.slice(0, 10) === end.slice(0, 10))
    return `${sayDay(start, now)}, ${start.slice(11, 16)} to ${end.slice(11, 16)}`;
  return `${sayDay(start, now)} ${start.slice(11, 16)} to ${sayDay(end, now)} ${end.slice(11, 16)}`;
}

function Absences({ person, staff, canEdit }: { person: Person; staff: Staff; canEdit: boolean }) {
  const { now } = useMe();
  const send = useSend();
  const all = staff.absences.filter((one) => one.person_id === person.id).reverse();
  return (
    <section className="mt-5" aria-label="Absences">
      <h3 className="mb-1 text-[15px]">Away</h3>
      <ul className="max-h-52 overflow-auto border-t border-rule">
        {all.map((one) => (
          <li key={one.id} className="flex min-h-8 items-center gap-3 border-b border-rule">
            <span className={`flex-none ${parseISO(one.end) < now ? "text-ink-3" : ""}`}>{sayAbsence(one, now)}</span>
            <span className="min-w-0 flex-1 truncate text-ink-2">
              {one.kind || "away"}
              {one.note && `, ${one.note}`}
            </span>
            {canEdit && (
              <Button
                look="quiet"
                aria-label={`Take away: ${sayAbsence(one, now)}`}
                onClick={() =>
                  send(`Took away an absence of ${person.name}`, (headers) =>
                    client.DELETE("/api/absences/{absence_id}", { params: { path: { absence_id: one.id } }, headers }),
                  ).catch((error) => note(sentence(error), "wrong"))
                }
              >
                Take away
              </Button>
            )}
          </li>
        ))}
        {!all.length && <li className="border-b border-rule py-1.5 text-ink-2">Nothing is entered.</li>}
      </ul>
      {canEdit && <Away person={person} kinds={staff.absence_kinds} />}
    </section>
  );
}

function Away({ person, kinds }: { person: Person; kinds: string[] }) {
  const send = useSend();
  const [kind, setKind] = useState(kinds[0] ?? "leave");
  const [first, setFirst] = useState("");
  const [last, setLast] = useState("");
  const [part, setPart] = useState("whole");
  const [times, setTimes] = useState({ from: "13:00", to: "17:30" });
  const [why, setWhy] = useState("");
  const [wrong, setWrong] = useState("");
  async function add(event: React.FormEvent) {
    event.preventDefault();
    if (!first) return setWrong("Say from which day.");
    const until = last || first;
    const hours = part !== "whole";
    const start = `${first}T${hours ? times.from : "00:00"}`;
    const end = hours ? `${until}T${times.to}` : `${format(addDays(parseISO(until), 1), "yyyy-MM-dd")}T00:00`;
    try {
      await send(`Entered that ${person.name} is away`, (headers) =>
        client.POST("/api/absences", {
          body: { id: newId(), person_id: person.id, kind, start, end, note: why },
          headers,
        }),
      );
      setFirst("");
      setLast("");
      setWhy("");
      setWrong("");
    } catch (error) {
      setWrong(sentence(error));
    }
  }
  return (
    <form className="mt-3" aria-label="Enter an absence" onSubmit={add} noValidate>
      <div className="flex flex-wrap items-end gap-2">
        <Select aria-label="Kind of absence" value={kind} onChange={(event) => setKind(event.target.value)}>
          {kinds.map((one) => (
            <option key={one}>{one}</option>
          ))}
        </Select>
        <DateField label="First day away" value={first} onChange={setFirst} />
        <span className="pb-1.5">to</span>
        <DateField label="Last day away" value={last} onChange={setLast} />
        <Select aria-label="Part of the day" value={part} onChange={(event) => setPart(event.target.value)}>
          <option value="whole">whole days</option>
          <option value="hours">by the hour</option>
        </Select>
        {part === "hours" && (
          <>
            <input
              type="time"
              className="input w-28"
              aria-label="Away from"
              value={times.from}
              onChange={(event) => setTimes({ ...times, from: event.target.value })}
            />
            <input
              type="time"
              className="input w-28"
              aria-label="Away until"
              value={times.to}
              onChange={(event) => setTimes({ ...times, to: event.target.value })}
            />
          </>
        )}
      </div>
      <div className="mt-2 flex gap-2">
        <input
          className="input min-w-0 flex-1"
          aria-label="Why"
          placeholder="Why, for them and for managers"
          maxLength={300}
          value={why}
          onChange={(event) => setWhy(event.target.value)}
        />
        <Button type="submit">Enter it</Button>
      </div>
      <Wrong text={wrong} />
    </form>
  );
}
