/** People › Crews and roles: what the organisation can book that signs in nowhere, its hours, closed days and kinds of absence. */
import { useQueryClient } from "@tanstack/react-query";
import { X } from "lucide-react";
import { useState } from "react";
import { RateTables } from "../cost/tables";
import { client, type Schemas, sentence } from "../data/api";
import { manages, useMe } from "../data/hooks";
import { allKey } from "../data/keys";
import { note } from "../data/notes";
import { sendUndoable } from "../data/undo";
import { Button, Failed, IconButton, Loading, Wrong } from "../parts/basics";
import { DateField } from "../parts/dates/field";
import { AddByName } from "../parts/form";
import { sayDay } from "../parts/format";
import { AsTable, BringTable, fileForm } from "../parts/table-file";
import { TextField } from "../parts/text-field";
import { peopleSheets } from "../people/people";
import { Holidays } from "../schedule/calendar-help";
import { SheetBar } from "../shell/sheet-bar";
import { TitleLine } from "../shell/title-line";
import { Crews } from "./crews";
import { staffKey, useStaff } from "./use-staff";
import { readWeek, sayWeek, WeekHours } from "./week-hours";

/** Kinds that every organisation has stand first; these are not taken away. */
const ALWAYS = 3;

export default function CrewsPlace() {
  const me = useMe();
  const staff = useStaff();
  const administers = me.person.role === "administrator";
  return (
    <>
      <TitleLine title={`Crews, roles and materials of ${me.organisation}`} />
      <div className="mt-2 min-h-0 flex-1 overflow-auto border-t border-rule bg-sheet px-3 sm:px-[18px]" tabIndex={-1}>
        {staff.error ? (
          <Failed error={staff.error} retry={staff.refetch} />
        ) : !staff.data ? (
          <Loading what="crews and roles" rows={6} />
        ) : (
          <div className="max-w-3xl pb-6">
            <Crews given={staff.data.resources} readOnly={!manages(me.person)} />
            <OwnHours key={JSON.stringify(staff.data.week)} week={staff.data.week} canEdit={administers} />
            <ClosedDays closed={staff.data.closed} canEdit={administers} />
            <Currency currency={staff.data.currency} canEdit={administers} />
            <AbsenceTables />
            <Kinds kinds={staff.data.absence_kinds} canEdit={administers} />
          </div>
        )}
      </div>
      <SheetBar sheets={peopleSheets(me.person)} current="Crews and roles" />
    </>
  );
}

/** Writes what holds for all of the organisation. */
function useSaveCommon() {
  const queries = useQueryClient();
  return async (what: string, body: Schemas["CommonEdit"]) => {
    await sendUndoable(queries, "", what, (headers) => client.PATCH("/api/bookable", { body, headers }));
    for (const key of [staffKey, allKey("load")]) queries.invalidateQueries({ queryKey: key });
  };
}

/** The hours by which everybody works who has none of their own. */
function OwnHours({ week, canEdit }: { week: Record<string, string[][]> | null; canEdit: boolean }) {
  const saveCommon = useSaveCommon();
  const [typed, setTyped] = useState(sayWeek(week));
  const [wrong, setWrong] = useState("");
  async function save(event: React.FormEvent) {
    event.preventDefault();
    try {
      const read = readWeek(typed);
      await saveCommon("Changed the organisation’s hours", { week: read });
      setWrong("");
      note("Saved");
    } catch (error) {
      setWrong(sentence(error));
    }
  }
  return (
    <form className="mt-8" aria-label="Hours of the organisation" onSubmit={save}>
      <h2 className="mb-1 text-[15px]">Hours of the organisation</h2>
      <p className="mb-2 text-ink-2">By these everybody can be booked who has no hours of their own.</p>
      <fieldset disabled={!canEdit} className="max-w-md">
        <WeekHours week={typed} onChange={setTyped} />
        <Wrong text={wrong} />
        {canEdit && <Button type="submit">Save the hours</Button>}
      </fieldset>
    </form>
  );
}

type Closed = Schemas["BookableOut"]["closed"];

/** Days on which nobody can be booked: holidays of a country, or the organisation's own. */
function ClosedDays({ closed, canEdit }: { closed: Closed; canEdit: boolean }) {
  const saveCommon = useSaveCommon();
  const { now } = useMe();
  const [first, setFirst] = useState("");
  const [name, setName] = useState("");
  const [wrong, setWrong] = useState("");
  async function save(days: Closed) {
    const sorted = [...days].sort((a, b) => a.from.localeCompare(b.from));
    await saveCommon("Changed the days on which nobody works", { closed: sorted });
  }
  const close = (days: { day: string; name: string }[]) => {
    const known = new Set(closed.map((one) => one.from));
    const more = days
      .filter((one) => !known.has(one.day))
      .map((one) => ({ from: one.day, to: one.day, hours: [], name: one.name }));
    return more.length ? save([...closed, ...more]) : Promise.resolve();
  };
  async function add(event: React.FormEvent) {
    event.preventDefault();
    if (!first) return setWrong("Say which day.");
    try {
      await close([{ day: first, name }]);
      setFirst("");
      setName("");
      setWrong("");
    } catch (error) {
      setWrong(sentence(error));
    }
  }
  return (
    <section className="mt-8" aria-label="Closed days">
      <h2 className="mb-1 text-[15px]">Closed days</h2>
      <p className="mb-2 text-ink-2">
        On these nobody can be booked. Projects have calendars of their own for their tasks.
      </p>
      <ul className="max-h-56 overflow-auto border-t border-rule">
        {closed.map((one) => (
          <li key={one.from + one.name} className="flex min-h-8 items-center gap-3 border-b border-rule">
            <span className="w-32 flex-none">
              {one.from === one.to ? sayDay(one.from, now) : `${sayDay(one.from, now)} to ${sayDay(one.to, now)}`}
            </span>
            <span className="min-w-0 flex-1 truncate text-ink-2">{one.name}</span>
            {canEdit && (
              <IconButton
                label={`Open on ${sayDay(one.from, now)}`}
                onClick={() =>
                  save(closed.filter((each) => each !== one)).catch((error) => note(sentence(error), "wrong"))
                }
              >
                <X size={14} />
              </IconButton>
            )}
          </li>
        ))}
        {!closed.length && <li className="border-b border-rule py-1.5 text-ink-2">None yet.</li>}
      </ul>
      {canEdit && (
        <>
          <form className="mt-2 flex flex-wrap items-center gap-2" aria-label="Close a day" onSubmit={add} noValidate>
            <DateField label="Closed on" value={first} onChange={setFirst} />
            <input
              className="input min-w-0 flex-1"
              aria-label="What day it is"
              placeholder="Harbour day"
              maxLength={120}
              value={name}
              onChange={(event) => setName(event.target.value)}
            />
            <Button type="submit">Close it</Button>
          </form>
          <Wrong text={wrong} />
          <Holidays
            added="are closed now."
            add={(days) => close(days).catch((error) => note(sentence(error), "wrong"))}
          />
        </>
      )}
    </section>
  );
}

/** Absences of everybody out and in as tables; each person's stand with their capacity, under People. */
function AbsenceTables() {
  const queries = useQueryClient();
  return (
    <section className="mt-8" aria-label="Absences">
      <h2 className="mb-1 text-[15px]">Absences</h2>
      <p className="mb-2 text-ink-2">
        They are entered for each person under People. A table of many names the person, from when, to when, the kind
        and a note.
      </p>
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1 text-ink-2">
        <BringTable
          what="absence"
          columns="Person, Kind, From, To, Note"
          send={async (file) => {
            const done = await sendUndoable<Schemas["BroughtOut"]>(queries, "", "Brought absences in", (headers) =>
              client.POST("/api/absences/table", { ...fileForm(file), headers }),
            );
            queries.invalidateQueries({ queryKey: staffKey });
            queries.invalidateQueries({ queryKey: allKey("load") });
            return done;
          }}
        />
        <AsTable what="Take them out " address={(kind) => `/api/absences.${kind}`} />
      </div>
    </section>
  );
}

/** In what rates of people and materials are told. */
function Currency({ currency, canEdit }: { currency: string; canEdit: boolean }) {
  const { person: me } = useMe();
  const saveCommon = useSaveCommon();
  return (
    <section className="mt-8" aria-label="Currency and rates">
      <h2 className="mb-1 text-[15px]">Currency and rates</h2>
      <p className="mb-1 text-ink-2">Rates of people and materials are told in it, by its three letters.</p>
      <TextField
        value={currency}
        label="Currency"
        readOnly={!canEdit}
        className="w-20 px-1.5"
        onSave={(typed) => saveCommon("Changed the currency", { currency: typed.trim() })}
      />
      {manages(me) && <RateTables />}
    </section>
  );
}

function Kinds({ kinds, canEdit }: { kinds: string[]; canEdit: boolean }) {
  const saveCommon = useSaveCommon();
  const own = kinds.slice(ALWAYS);
  const save = (absence_kinds: string[]) => saveCommon("Changed the kinds of absence", { absence_kinds });
  return (
    <section className="mt-8" aria-label="Kinds of absence">
      <h2 className="mb-1 text-[15px]">Kinds of absence</h2>
      <p className="mb-2 text-ink-2">Every organisation has {kinds.slice(0, ALWAYS).join(", ")}.</p>
      <ul className="border-t border-rule">
        {own.map((one) => (
          <li key={one} className="flex min-h-9 items-center justify-between border-b border-rule">
            {one}
            {canEdit && (
              <IconButton
                label={`Take away ${one}`}
                onClick={() =>
                  save(own.filter((each) => each !== one)).catch((error) => note(sentence(error), "wrong"))
                }
              >
                <X size={14} />
              </IconButton>
            )}
          </li>
        ))}
      </ul>
      {canEdit && (
        <AddByName
          label="Name of the kind"
          hint="parental leave"
          action="Add the kind"
          save={(name) => save([...own, name])}
        />
      )}
    </section>
  );
}
