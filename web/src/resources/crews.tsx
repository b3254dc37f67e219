/** What can be booked and signs in nowhere: crews, roles, materials, fixed costs. Of a project, or of the organisation. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, newId, type Project, type Schemas, sentence } from "../data/api";
import { manages, may, useMe } from "../data/hooks";
import { allKey, projectKey } from "../data/keys";
import { note } from "../data/notes";
import { sendUndoable } from "../data/undo";
import { Button, Pop, Wrong } from "../parts/basics";
import { PersonList } from "../parts/choosers";
import { Select } from "../parts/select";
import { AsTable, BringTable, fileForm } from "../parts/table-file";
import { TextField } from "../parts/text-field";
import { useChanges } from "../tasks/changes";
import { Rates } from "./rates";
import { bookableKey } from "./use-bookable";
import { staffKey } from "./use-staff";

type Resource = Schemas["ResourceOut"];
type Kind = Resource["kind"];
const NONE: Resource[] = [];
const KINDS: [Kind, string, string][] = [
  ["labour", "Crew or role", "Outside scaffolders"],
  ["material", "Material", "Glass panes"],
  ["fixed", "Fixed cost", "Road permit"],
];

export function Crews({ project, given, readOnly }: { project?: Project; given?: Resource[]; readOnly?: boolean }) {
  const queries = useQueryClient();
  const { person: me } = useMe();
  const code = project?.code ?? "";
  const seesRates = project ? may(project, "manage") : manages(me);
  const asked = useQuery({
    queryKey: projectKey(code, "resources"),
    enabled: project !== undefined,
    queryFn: () => ask(client.GET("/api/projects/{code}/resources", { params: { path: { code } } })),
  });
  const all = given ?? asked.data ?? NONE;
  const own = all.filter((one) => (project ? one.project_id !== null : one.project_id === null));
  const shared = project ? all.filter((one) => one.project_id === null) : NONE;

  async function bring<Answer>(what: string, call: Parameters<typeof sendUndoable<Answer>>[3]): Promise<Answer> {
    const answer = await sendUndoable<Answer>(queries, code, what, call);
    for (const key of [projectKey(code, "resources"), bookableKey(code), staffKey, allKey("load")])
      queries.invalidateQueries({ queryKey: key });
    return answer;
  }
  const send = (what: string, call: Parameters<typeof sendUndoable>[3]): Promise<void> =>
    bring(what, call).then(() => undefined);
  const change = (one: Resource, body: Schemas["ResourceEdit"]) =>
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
  const add = (wanted: Omit<Schemas["ResourceNew"], "id">) =>
    send(`Added ${wanted.name}`, (headers) => {
      const body = { id: newId(), ...wanted };
      return project
        ? client.POST("/api/projects/{code}/resources", { params: { path: { code } }, body, headers })
        : client.POST("/api/resources", { body, headers });
    });

  return (
    <section className="mt-6" aria-label="Crews, roles and materials">
      <h2 className="mb-1 text-[15px]">Crews, roles and materials</h2>
      <p className="mb-2 max-w-prose text-ink-2">
        What can be booked and signs in nowhere: a crew from outside, a role still to be filled, a material by its unit,
        a fixed cost by its sum.
        {project && " These can be booked in this project alone."}
      </p>
      <ul className="border-t border-rule">
        {KINDS.flatMap(([kind]) => own.filter((one) => one.kind === kind)).map((one) => (
          <li key={one.id} className="flex min-h-9 flex-wrap items-center gap-x-3 border-b border-rule">
            <TextField
              value={one.name}
              label={`Name of ${one.name}`}
              readOnly={readOnly}
              className="w-64 max-w-full px-1.5"
              onSave={(name) => change(one, { name })}
            />
            <Size one={one} readOnly={readOnly} change={(body) => change(one, body)} />
            {one.kind !== "fixed" && seesRates && (
              <Pop
                label={`Rates of ${one.name}`}
                trigger={
                  <button type="button" className="ml-auto text-rose hover:underline">
                    Rates<span className="sr-only"> of {one.name}</span>
                  </button>
                }
              >
                <div className="grid w-[360px] max-w-full gap-3 p-3">
                  <Rates
                    code={project?.code}
                    own={project?.currency}
                    who={one.id}
                    name={one.name}
                    kind="cost"
                    label={one.kind === "labour" ? "An hour of one of them costs" : `A ${one.unit} costs`}
                  />
                  {one.kind === "labour" && (
                    <Rates
                      code={project?.code}
                      own={project?.currency}
                      who={one.id}
                      name={one.name}
                      kind="billing"
                      label="An hour is charged at"
                    />
                  )}
                </div>
              </Pop>
            )}
            {project && !readOnly && one.kind === "labour" && may(project, "edit") && (
              <GiveTo project={project} from={one} />
            )}
            {!readOnly && (
              <Button
                look="quiet"
                className={one.kind !== "fixed" && seesRates ? "" : "ml-auto"}
                aria-label={`Take away ${one.name}`}
                onClick={() => remove(one)}
              >
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
      <div className="mt-2 flex flex-wrap items-center gap-x-3 gap-y-1 text-ink-2">
        {!readOnly && (
          <BringTable
            what="resource"
            columns="Name, Kind, People, Unit"
            send={(file) =>
              bring<Schemas["BroughtOut"]>(`Brought ${file.name} in`, (headers) =>
                project
                  ? client.POST("/api/projects/{code}/resources/table", {
                      params: { path: { code } },
                      ...fileForm(file),
                      headers,
                    })
                  : client.POST("/api/resources/table", { ...fileForm(file), headers }),
              )
            }
          />
        )}
        {own.length > 0 && (
          <AsTable
            what="Take them out "
            address={(kind) => (project ? `/api/projects/${code}/resources.${kind}` : `/api/resources.${kind}`)}
          />
        )}
      </div>
    </section>
  );
}

/** How many people a crew has, or by which unit a material is used. */
function Size({
  one,
  readOnly,
  change,
}: {
  one: Resource;
  readOnly: boolean | undefined;
  change: (body: Schemas["ResourceEdit"]) => Promise<void>;
}) {
  if (one.kind === "fixed") return <span className="text-ink-2">a fixed cost</span>;
  if (one.kind === "material")
    return (
      <>
        <span className="text-ink-2">by</span>
        <TextField
          value={one.unit}
          label={`Unit of ${one.name}`}
          readOnly={readOnly}
          className="w-16 px-1.5"
          onSave={(unit) => change({ unit })}
        />
      </>
    );
  return (
    <>
      <TextField
        value={String(one.people)}
        label={`People of ${one.name}`}
        readOnly={readOnly}
        className="w-14 px-1.5 text-right"
        onSave={(text) => change({ people: readPeople(text) })}
      />
      <span className="text-ink-2">{one.people === 1 ? "person" : "people"}</span>
    </>
  );
}

/** The hours that a role has on tasks become those of the person who fills it. */
function GiveTo({ project, from }: { project: Project; from: Resource }) {
  const [open, setOpen] = useState(false);
  const changes = useChanges(project.code);
  return (
    <Pop
      label={`Who fills ${from.name}`}
      open={open}
      onOpenChange={setOpen}
      trigger={
        <button type="button" className="text-rose hover:underline" aria-label={`Fill it: ${from.name}`}>
          Fill it
        </button>
      }
    >
      <p className="w-64 px-3 pt-2 pb-1.5 text-[12.5px] text-ink-2">
        Its hours on all tasks that are not finished go to the person that you choose.
      </p>
      <PersonList
        value={null}
        onChoose={(id) => {
          setOpen(false);
          if (id) changes.give(from.id, id, null);
        }}
      />
    </Pop>
  );
}

function readPeople(text: string): number {
  const people = Number(text.replace(",", "."));
  if (!(people > 0 && people <= 1000)) throw new Error("Say how many people work side by side, such as 2.");
  return people;
}

function Add({ add }: { add: (wanted: Omit<Schemas["ResourceNew"], "id">) => Promise<void> }) {
  const [kind, setKind] = useState<Kind>("labour");
  const [name, setName] = useState("");
  const [people, setPeople] = useState("1");
  const [unit, setUnit] = useState("");
  const [wrong, setWrong] = useState("");
  async function submit(event: React.FormEvent) {
    event.preventDefault();
    try {
      await add({
        name,
        kind,
        people: kind === "labour" ? readPeople(people) : 1,
        unit: kind === "material" ? unit : "",
      });
      setName("");
      setPeople("1");
      setWrong("");
    } catch (error) {
      setWrong(sentence(error));
    }
  }
  return (
    <form className="mt-2" aria-label="Add a crew, role or material" onSubmit={submit}>
      <div className="flex flex-wrap gap-2">
        <Select aria-label="What it is" value={kind} onChange={(event) => setKind(event.target.value as Kind)}>
          {KINDS.map(([id, words]) => (
            <option key={id} value={id}>
              {words}
            </option>
          ))}
        </Select>
        <input
          className="input min-w-0 flex-1"
          aria-label="Its name"
          placeholder={KINDS.find(([id]) => id === kind)?.[2]}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        {kind === "labour" && (
          <>
            <input
              className="input w-16 text-right"
              aria-label="How many people"
              value={people}
              onChange={(event) => setPeople(event.target.value)}
            />
            <span className="self-center text-ink-2">{people.trim() === "1" ? "person" : "people"}</span>
          </>
        )}
        {kind === "material" && (
          <>
            <span className="self-center text-ink-2">by</span>
            <input
              className="input w-20"
              aria-label="By which unit"
              placeholder="pc"
              value={unit}
              onChange={(event) => setUnit(event.target.value)}
            />
          </>
        )}
        <Button type="submit">Add it</Button>
      </div>
      <Wrong text={wrong} />
    </form>
  );
}
