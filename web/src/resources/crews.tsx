/** Crews and roles: what can be booked and signs in nowhere. Of a project, or without one of the organisation. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, newId, type Project, type Schemas, sentence } from "../data/api";
import { allKey, projectKey } from "../data/keys";
import { note } from "../data/notes";
import { sendUndoable } from "../data/undo";
import { Button, Wrong } from "../parts/basics";
import { TextField } from "../parts/text-field";
import { bookableKey } from "./use-bookable";
import { staffKey } from "./use-staff";

type Resource = Schemas["ResourceOut"];
const NONE: Resource[] = [];

export function Crews({ project, given, readOnly }: { project?: Project; given?: Resource[]; readOnly?: boolean }) {
  const queries = useQueryClient();
  const code = project?.code ?? "";
  const asked = useQuery({
    queryKey: projectKey(code, "resources"),
    enabled: project !== undefined,
    queryFn: () => ask(client.GET("/api/projects/{code}/resources", { params: { path: { code } } })),
  });
  const all = given ?? asked.data ?? NONE;
  const own = all.filter((one) => (project ? one.project_id !== null : one.project_id === null));
  const shared = project ? all.filter((one) => one.project_id === null) : NONE;

  async function send(what: string, call: Parameters<typeof sendUndoable>[3]) {
    await sendUndoable(queries, code, what, call);
    for (const key of [projectKey(code, "resources"), bookableKey(code), staffKey, allKey("load")])
      queries.invalidateQueries({ queryKey: key });
  }
  const change = (one: Resource, body: { name?: string; people?: number }) =>
    send(`Changed ${one.name}`, (headers) =>
      project
        ? client.PATCH("/api/projects/{code}/resources/{resource_id}", {
            params: { path: { code, resource_id: one.id } },
            body,
            headers,
          })
        : client.PATCH("/api/resources/{resource_id}", { params: { path: { resource_id: one.id } }, body, headers }),
    );
  const remove = (one: Resource) =>
    send(`Took away ${one.name}`, (headers) =>
      project
        ? client.DELETE("/api/projects/{code}/resources/{resource_id}", {
            params: { path: { code, resource_id: one.id } },
            headers,
          })
        : client.DELETE("/api/resources/{resource_id}", { params: { path: { resource_id: one.id } }, headers }),
    ).catch((error) => note(sentence(error), "wrong"));
  const add = (name: string, people: number) =>
    send(`Added ${name}`, (headers) => {
      const body = { id: newId(), name, people };
      return project
        ? client.POST("/api/projects/{code}/resources", { params: { path: { code } }, body, headers })
        : client.POST("/api/resources", { body, headers });
    });

  return (
    <section className="mt-6" aria-label="Crews and roles">
      <h2 className="mb-1 text-[15px]">Crews and roles</h2>
      <p className="mb-2 max-w-prose text-ink-2">
        Who can be booked and signs in nowhere: a crew from outside, or a role that is still to be filled.
        {project && " These can be booked in this project alone."}
      </p>
      <ul className="border-t border-rule">
        {own.map((one) => (
          <li key={one.id} className="flex min-h-9 items-center gap-3 border-b border-rule">
            <TextField
              value={one.name}
              label={`Name of ${one.name}`}
              readOnly={readOnly}
              className="w-64 max-w-full px-1.5"
              onSave={(name) => change(one, { name })}
            />
            <TextField
              value={String(one.people)}
              label={`People of ${one.name}`}
              readOnly={readOnly}
              className="w-14 px-1.5 text-right"
              onSave={(text) => change(one, { people: readPeople(text) })}
            />
            <span className="text-ink-2">{one.people === 1 ? "person" : "people"}</span>
            {!readOnly && (
              <Button look="quiet" className="ml-auto" aria-label={`Take away ${one.name}`} onClick={() => remove(one)}>
                Take away
              </Button>
            )}
          </li>
        ))}
        {!own.length && <li className="border-b border-rule py-2 text-ink-2">None yet.</li>}
      </ul>
      {shared.length > 0 && (
        <p className="mt-2 text-ink-2">Of the organisation: {shared.map((one) => one.name).join(", ")}.</p>
      )}
      {!readOnly && <Add add={add} />}
    </section>
  );
}

function readPeople(text: string): number {
  const people = Number(text.replace(",", "."));
  if (!(people > 0 && people <= 1000)) throw new Error("Say how many people work side by side, such as 2.");
  return people;
}

function Add({ add }: { add: (name: string, people: number) => Promise<void> }) {
  const [name, setName] = useState("");
  const [people, setPeople] = useState("1");
  const [wrong, setWrong] = useState("");
  async function submit(event: React.FormEvent) {
    event.preventDefault();
    try {
      await add(name, readPeople(people));
      setName("");
      setPeople("1");
      setWrong("");
    } catch (error) {
      setWrong(sentence(error));
    }
  }
  return (
    <form className="mt-2" aria-label="Add a crew or role" onSubmit={submit}>
      <div className="flex flex-wrap gap-2">
        <input
          className="input min-w-0 flex-1"
          aria-label="Name of the crew or role"
          placeholder="Outside scaffolders"
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <input
          className="input w-16 text-right"
          aria-label="How many people"
          value={people}
          onChange={(event) => setPeople(event.target.value)}
        />
        <span className="self-center text-ink-2">{people.trim() === "1" ? "person" : "people"}</span>
        <Button type="submit">Add it</Button>
      </div>
      <Wrong text={wrong} />
    </form>
  );
}
