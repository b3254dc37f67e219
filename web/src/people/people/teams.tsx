/** Teams: named groups of people, for sentences that say “my team”. Administrators name them. */

import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { client, newId, type Schemas, sentence } from "../../data/api";
import { useMe, usePeople, useTeams } from "../../data/hooks";
import { note } from "../../data/notes";
import { sendUndoable } from "../../data/undo";
import { Button, Empty, Field, Modal, Tick, Wrong } from "../../parts/basics";
import { useSending } from "../../parts/form";
import { count } from "../../parts/format";
import { Tile } from "../../parts/tile";
import { z } from "../../parts/zod";
import { SheetBar } from "../../shell/sheet-bar";
import { TitleLine } from "../../shell/title-line";
import { peopleSheets } from ".";

type Team = Schemas["TeamOut"];

export default function Teams() {
  const me = useMe();
  const teams = useTeams();
  const { byId } = usePeople();
  const queries = useQueryClient();
  const [editing, setEditing] = useState<Team | "new" | null>(null);
  const administrator = me.person.role === "administrator";
  async function remove(team: Team) {
    try {
      await sendUndoable(queries, "", `Took away the team ${team.name}`, (headers) =>
        client.DELETE("/api/teams/{team_id}", { params: { path: { team_id: team.id } }, headers }),
      );
      note(`Took away the team ${team.name}. Its people stay.`);
    } catch (error) {
      note(sentence(error), "wrong");
    }
    queries.invalidateQueries({ queryKey: ["teams"] });
  }
  return (
    <>
      <TitleLine title={`Teams of ${me.organisation}`}>
        <span>
          <b>{teams.length}</b> {teams.length === 1 ? "team" : "teams"}
        </span>
        {administrator && (
          <Button look="go" className="-my-1.5 ml-2" onClick={() => setEditing("new")}>
            Name a team
          </Button>
        )}
      </TitleLine>
      <div className="mt-2 min-h-0 flex-1 overflow-auto border-t border-rule bg-sheet" tabIndex={-1}>
        <ul className="px-3 py-2 sm:px-[18px]">
          {teams.map((team) => (
            <li
              key={team.id}
              className="flex min-h-14 flex-wrap items-center gap-x-6 gap-y-1 border-b border-rule py-2"
            >
              <h2 className="w-52 flex-none text-[15px]">
                {team.name}
                <span className="block text-[12px] font-normal text-ink-2">
                  {count(team.people.length, "person", "people")}
                </span>
              </h2>
              <ul className="flex min-w-0 flex-1 flex-wrap gap-x-5 gap-y-1">
                {team.people.map((id) => {
                  const person = byId.get(id);
                  return (
                    person && (
                      <li key={id} className="flex items-center gap-1.5">
                        <Tile person={person} size={22} label={false} /> {person.name}
                      </li>
                    )
                  );
                })}
              </ul>
              {administrator && (
                <span className="flex">
                  <Button look="quiet" onClick={() => setEditing(team)} aria-label={`Change the team ${team.name}`}>
                    Change
                  </Button>
                  <Button look="quiet" onClick={() => remove(team)} aria-label={`Take away the team ${team.name}`}>
                    Take away
                  </Button>
                </span>
              )}
            </li>
          ))}
        </ul>
        {!teams.length && (
          <Empty title="No team has a name yet">
            <p>
              A team is a named group of people. A sentence can then ask for its work at once: what is held by my team,
              or by any other.
              {!administrator && " An administrator names teams."}
            </p>
          </Empty>
        )}
      </div>
      <SheetBar sheets={peopleSheets(me.person)} current="Teams" />
      {editing && <TeamForm team={editing === "new" ? null : editing} close={() => setEditing(null)} />}
    </>
  );
}

const teamShape = z.object({ name: z.string().trim().min(1, "A team needs a name."), people: z.array(z.string()) });

function TeamForm({ team, close }: { team: Team | null; close: () => void }) {
  const queries = useQueryClient();
  const { active, byId } = usePeople();
  const [id] = useState(team?.id ?? newId);
  const form = useSending(teamShape, { name: team?.name ?? "", people: team?.people ?? [] }, async (body) => {
    const what = team ? `Changed the team ${body.name}` : `Named the team ${body.name}`;
    await sendUndoable(queries, "", what, (headers) =>
      team
        ? client.PATCH("/api/teams/{team_id}", { params: { path: { team_id: id } }, body, headers })
        : client.POST("/api/teams", { body: { id, ...body }, headers }),
    ).finally(() => queries.invalidateQueries({ queryKey: ["teams"] }));
    close();
  });
  const people = form.watch("people");
  // whoever has left stays in the list until they are taken out
  const gone = people.flatMap((one) => byId.get(one) ?? []).filter((one) => !one.active);

  return (
    <Modal open onOpenChange={close} title={team ? `The team ${team.name}` : "Name a team"}>
      <form onSubmit={form.submit}>
        <Field label="Name" error={form.wrong("name")}>
          <input className="input w-full" placeholder="Night crew" {...form.register("name")} />
        </Field>
        <fieldset className="mb-3">
          <legend className="label">Who is in it</legend>
          <div className="max-h-72 overflow-auto border border-rule-2">
            {[...active, ...gone].map((person) => (
              <Tick
                key={person.id}
                checked={people.includes(person.id)}
                onChange={(on) =>
                  form.setValue("people", on ? [...people, person.id] : people.filter((one) => one !== person.id))
                }
              >
                <Tile person={person} size={18} label={false} /> {person.name}
              </Tick>
            ))}
          </div>
        </fieldset>
        <Wrong text={form.wrong("people") ?? form.wrong("root")} />
        <Button look="go" type="submit" disabled={form.isSubmitting}>
          {team ? "Save" : "Name it"}
        </Button>
      </form>
    </Modal>
  );
}
