/** People: who is in the organisation, in which role; administrators invite, change roles and end access. */

import { useQueryClient } from "@tanstack/react-query";
import { Suspense, useState } from "react";
import { useSearchParams } from "react-router";
import { client, type Person, send, sentence } from "../../data/api";
import { manages, useMe, usePeople } from "../../data/hooks";
import { note } from "../../data/notes";
import { sendUndoable } from "../../data/undo";
import { Button, Field, Modal, Wrong } from "../../parts/basics";
import { useSending } from "../../parts/form";
import { count } from "../../parts/format";
import { later } from "../../parts/later";
import { Select } from "../../parts/select";
import { Tile } from "../../parts/tile";
import { z } from "../../parts/zod";
import { type Sheet, SheetBar } from "../../shell/sheet-bar";
import { TitleLine } from "../../shell/title-line";

const Capacity = later(() => import("../../resources/capacity").then((module) => module.default));
const ROLES = ["administrator", "manager", "member", "guest"] as const;

export function peopleSheets(person: Person): Sheet[] {
  return [
    { to: "/people", name: "People" },
    ...(person.role === "guest" ? [] : [{ to: "/people/load", name: "Load" }]),
    { to: "/people/teams", name: "Teams" },
    ...(person.role === "guest" ? [] : [{ to: "/people/crews", name: "Crews and roles" }]),
    ...(person.role === "guest"
      ? []
      : [
          { to: "/people/time-sheets", name: "Time sheets" },
          { to: "/people/time", name: "Time report" },
        ]),
    ...(person.role === "administrator" ? [{ to: "/people/sent", name: "Dispatch tray" }] : []),
  ];
}

export default function People() {
  const me = useMe();
  const { all } = usePeople();
  const [params] = useSearchParams();
  const [inviting, setInviting] = useState(false);
  const queries = useQueryClient();
  const administrator = me.person.role === "administrator";
  const plans = manages(me.person);
  const [booking, setBooking] = useState<Person | null>(null);
  const wanted = params.get("person");
  async function edit(person: Person, body: { role?: string; active?: boolean }) {
    try {
      await sendUndoable(queries, "", `Changed ${person.name}`, (headers) =>
        client.PATCH("/api/people/{person_id}", { params: { path: { person_id: person.id } }, body, headers }),
      );
      await queries.invalidateQueries({ queryKey: ["people"] });
    } catch (error) {
      note(sentence(error), "wrong");
    }
  }
  return (
    <>
      <TitleLine title={`People of ${me.organisation}`}>
        <span>
          <b>{all.filter((one) => one.active).length}</b> people
        </span>
        {administrator && (
          <Button look="go" className="-my-1.5 ml-2" onClick={() => setInviting(true)}>
            Invite somebody
          </Button>
        )}
      </TitleLine>
      <div className="mt-2 min-h-0 flex-1 overflow-auto border-t border-rule bg-sheet" tabIndex={-1}>
        <ul className="grid px-3 py-2 sm:px-[18px] lg:grid-cols-2 lg:gap-x-12">
          {all.map((person) => (
            <li
              key={person.id}
              className={`flex min-h-12 items-center gap-3 border-b border-rule ${person.id === wanted ? "bg-rose-soft" : ""} ${person.active ? "" : "text-ink-3"}`}
            >
              <Tile person={person} size={30} label={false} />
              <div className="min-w-0 flex-1">
                <b className="block truncate font-semibold">{person.name}</b>
                <span className="block truncate text-[12px] text-ink-2">
                  {person.title || person.email}
                  {!person.active && ", access ended"}
                </span>
              </div>
              {(plans || person.id === me.person.id) && (
                <Button
                  look="quiet"
                  className="px-2"
                  aria-label={`Capacity of ${person.name}`}
                  onClick={() => setBooking(person)}
                >
                  Capacity
                </Button>
              )}
              {administrator ? (
                <>
                  <Select
                    aria-label={`Role of ${person.name}`}
                    value={person.role}
                    onChange={(event) => edit(person, { role: event.target.value })}
                  >
                    {ROLES.map((role) => (
                      <option key={role}>{role}</option>
                    ))}
                  </Select>
                  <Button look="quiet" className="px-2" onClick={() => edit(person, { active: !person.active })}>
                    {person.active ? "End access" : "Let in again"}
                  </Button>
                </>
              ) : (
                <span className="text-ink-2">{person.role}</span>
              )}
            </li>
          ))}
        </ul>
        {!all.length && <p className="p-6 text-ink-2">{count(0, "person", "people")}</p>}
      </div>
      <SheetBar sheets={peopleSheets(me.person)} current="People" />
      {booking && (
        <Suspense fallback={null}>
          <Capacity key={booking.id} person={booking} close={() => setBooking(null)} />
        </Suspense>
      )}
      {inviting && <Invite close={() => setInviting(false)} />}
    </>
  );
}

const invited = z.object({
  name: z.string().trim().min(1, "Say who is invited."),
  email: z.string().trim().min(1, "Say to which address the invitation goes."),
  role: z.string(),
  title: z.string(),
});

function Invite({ close }: { close: () => void }) {
  const queries = useQueryClient();
  const values = { name: "", email: "", role: "member", title: "" };
  const form = useSending(invited, values, async (body) => {
    await send((headers) => client.POST("/api/people", { body, headers }));
    await queries.invalidateQueries({ queryKey: ["people"] });
    note(`Invited ${body.name}: the mail is in the dispatch tray`);
    close();
  });
  return (
    <Modal open onOpenChange={close} title="Invite somebody">
      <form onSubmit={form.submit} noValidate>
        <Field label="Name" error={form.wrong("name")}>
          <input className="input w-full" {...form.register("name")} />
        </Field>
        <Field label="E-mail" error={form.wrong("email")}>
          <input className="input w-full" type="email" {...form.register("email")} />
        </Field>
        <Field label="What they do" error={form.wrong("title")}>
          <input className="input w-full" {...form.register("title")} />
        </Field>
        <Field label="Role" error={form.wrong("role")}>
          <Select className="w-full" {...form.register("role")}>
            {ROLES.map((role) => (
              <option key={role}>{role}</option>
            ))}
          </Select>
        </Field>
        <Wrong text={form.wrong("root")} />
        <Button look="go" type="submit">
          Send the invitation
        </Button>
      </form>
    </Modal>
  );
}
