/** People › Crews and roles: what the organisation can book that signs in nowhere, and its kinds of absence. */
import { useQueryClient } from "@tanstack/react-query";
import { X } from "lucide-react";
import { useState } from "react";
import { client, sentence } from "../data/api";
import { useMe } from "../data/hooks";
import { allKey } from "../data/keys";
import { note } from "../data/notes";
import { sendUndoable } from "../data/undo";
import { Button, Failed, IconButton, Loading, Wrong } from "../parts/basics";
import { AddByName } from "../parts/form";
import { peopleSheets } from "../people/people";
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
  const manages = me.person.role === "administrator" || me.person.role === "manager";
  return (
    <>
      <TitleLine title={`Crews and roles of ${me.organisation}`} />
      <div className="mt-2 min-h-0 flex-1 overflow-auto border-t border-rule bg-sheet px-3 sm:px-[18px]" tabIndex={-1}>
        {staff.error ? (
          <Failed error={staff.error} retry={staff.refetch} />
        ) : !staff.data ? (
          <Loading what="crews and roles" rows={6} />
        ) : (
          <div className="max-w-3xl pb-6">
            <Crews given={staff.data.resources} readOnly={!manages} />
            <OwnHours
              key={JSON.stringify(staff.data.week)}
              week={staff.data.week}
              canEdit={me.person.role === "administrator"}
            />
            <Kinds kinds={staff.data.absence_kinds} canEdit={me.person.role === "administrator"} />
          </div>
        )}
      </div>
      <SheetBar sheets={peopleSheets(me.person)} current="Crews and roles" />
    </>
  );
}

/** The hours by which everybody works who has none of their own. */
function OwnHours({ week, canEdit }: { week: Record<string, string[][]> | null; canEdit: boolean }) {
  const queries = useQueryClient();
  const [typed, setTyped] = useState(sayWeek(week));
  const [wrong, setWrong] = useState("");
  async function save(event: React.FormEvent) {
    event.preventDefault();
    try {
      const read = readWeek(typed);
      await sendUndoable(queries, "", "Changed the organisation’s hours", (headers) =>
        client.PATCH("/api/bookable", { body: { week: read }, headers }),
      );
      setWrong("");
      note("Saved");
      queries.invalidateQueries({ queryKey: staffKey });
      queries.invalidateQueries({ queryKey: allKey("load") });
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

function Kinds({ kinds, canEdit }: { kinds: string[]; canEdit: boolean }) {
  const queries = useQueryClient();
  const own = kinds.slice(ALWAYS);
  async function save(absence_kinds: string[]) {
    await sendUndoable(queries, "", "Changed the kinds of absence", (headers) =>
      client.PATCH("/api/bookable", { body: { absence_kinds }, headers }),
    );
    queries.invalidateQueries({ queryKey: staffKey });
  }
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
