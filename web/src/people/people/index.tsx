/** People: who is in the organisation, in which role; administrators invite, change roles and end access. */
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { client, type Person, Problem, send, sentence } from "../../data/api";
import { useMe, usePeople } from "../../data/hooks";
import { note } from "../../data/notes";
import { sendUndoable } from "../../data/undo";
import { Button, Field, Modal } from "../../parts/basics";
import { count } from "../../parts/format";
import { Select } from "../../parts/select";
import { Tile } from "../../parts/tile";
import { type Sheet, SheetBar } from "../../shell/sheet-bar";
import { TitleLine } from "../../shell/title-line";

const ROLES = ["administrator", "manager", "member", "guest"] as const;

export function peopleSheets(person: Person): Sheet[] {
  return [
    { to: "/people", name: "People" },
    { to: "/people/teams", name: "Teams" },
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
      {inviting && <Invite close={() => setInviting(false)} />}
    </>
  );
}

function Invite({ close }: { close: () => void }) {
  const queries = useQueryClient();
  const [typed, setTyped] = useState({ name: "", email: "", role: "member", title: "" });
  const [wrong, setWrong] = useState<{ field: string | null; sentence: string } | null>(null);
  const set = (part: Partial<typeof typed>) => setTyped({ ...typed, ...part });
  const at = (field: string) => (wrong?.field === field ? wrong.sentence : undefined);
  async function submit(event: React.FormEvent) {
    event.preventDefault();
    try {
      await send((headers) => client.POST("/api/people", { body: typed, headers }));
      await queries.invalidateQueries({ queryKey: ["people"] });
      note(`Invited ${typed.name}: the mail is in the dispatch tray`);
      close();
    } catch (error) {
      setWrong(error instanceof Problem ? error : { field: null, sentence: String(error) });
    }
  }
  return (
    <Modal open onOpenChange={close} title="Invite somebody">
      <form onSubmit={submit}>
        <Field label="Name" error={at("name")}>
          <input className="input w-full" value={typed.name} onChange={(event) => set({ name: event.target.value })} />
        </Field>
        <Field label="E-mail" error={at("email")}>
          <input
            className="input w-full"
            type="email"
            value={typed.email}
            onChange={(event) => set({ email: event.target.value })}
          />
        </Field>
        <Field label="What they do">
          <input
            className="input w-full"
            value={typed.title}
            onChange={(event) => set({ title: event.target.value })}
          />
        </Field>
        <Field label="Role" error={at("role")}>
          <Select className="w-full" value={typed.role} onChange={(event) => set({ role: event.target.value })}>
            {ROLES.map((role) => (
              <option key={role}>{role}</option>
            ))}
          </Select>
        </Field>
        {wrong && !["name", "email", "role"].includes(wrong.field ?? "") && (
          <p role="alert" className="mb-2 font-semibold text-ember">
            {wrong.sentence}
          </p>
        )}
        <Button look="go" type="submit">
          Send the invitation
        </Button>
      </form>
    </Modal>
  );
}
