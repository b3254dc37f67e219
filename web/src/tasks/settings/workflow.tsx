import { useState } from "react";
import { Link } from "react-router";
import { Blanks } from "../../board/blanks";
import { client, newId, type Project, type State, sentence } from "../../data/api";
import { note } from "../../data/notes";
import { stateClasses } from "../../data/vocabulary";
import { Button, Modal, Wrong } from "../../parts/basics";
import { AddByName } from "../../parts/form";
import { Reorder } from "../../parts/reorder";
import { Select } from "../../parts/select";
import { TextField } from "../../parts/text-field";
import { useSaveProject } from "./save";

/** The states of each workflow: rename, reorder, limit, class, delete with a place for the tasks that stand there. */
export function Workflow({ project }: { project: Project }) {
  return (
    <section>
      <h2 className="mb-1 text-[17px]">Workflow</h2>
      <p className="mb-2 text-ink-2">
        The states that work goes through. A limit says how many tasks may stand in one at a time. Steps, rules, lanes,
        the backlog and further workflows are set{" "}
        <Link className="text-rose underline" to={`/p/${project.code}/board?arranging=yes`}>
          on the board
        </Link>
        .
      </p>
      {[null, ...project.workflows.map((one) => one.id)].map((id) => (
        <States key={id} project={project} workflow={id} />
      ))}
      <Blanks project={project} />
    </section>
  );
}

function States({ project, workflow }: { project: Project; workflow: string | null }) {
  const states = project.states.filter((one) => one.workflow_id === workflow);
  const name = project.workflows.find((one) => one.id === workflow)?.name ?? project.workflow_name;
  const save = useSaveProject(project);
  const [doomed, setDoomed] = useState<State | null>(null);
  const tell = (promise: Promise<unknown>) => promise.catch((error) => note(sentence(error), "wrong"));
  const edit = (state: State, body: Record<string, unknown>) =>
    save(`Changed the state ${state.name}`, (headers) =>
      client.PATCH("/api/projects/{code}/states/{state_id}", {
        params: { path: { code: project.code, state_id: state.id } },
        body,
        headers,
      }),
    );
  const move = (index: number, by: number) => {
    const state = states[index];
    const rest = states.filter((one) => one !== state);
    if (state) tell(edit(state, { after_id: rest[index + by - 1]?.id ?? null }));
  };
  return (
    <div className="mb-4">
      {project.workflows.length > 0 && <h3 className="mt-2 text-[15px]">{name}</h3>}
      <ol>
        {states.map((state, index) => (
          <li key={state.id} className="flex min-h-9 items-center gap-1.5 border-b border-rule">
            <div className="flex-1">
              <TextField
                value={state.name}
                label="Name of the state"
                className="-ml-1.5 w-full px-1.5"
                onSave={async (text) => {
                  await edit(state, { name: text });
                }}
              />
            </div>
            <Select
              className="w-[100px]"
              aria-label={`Class of ${state.name}`}
              value={state.state_class}
              onChange={(event) => tell(edit(state, { state_class: event.target.value }))}
            >
              {stateClasses().map((one) => (
                <option key={one}>{one}</option>
              ))}
            </Select>
            <span className="w-20">
              <TextField
                value={state.limit ? String(state.limit) : ""}
                label={`Limit of ${state.name}`}
                placeholder="no limit"
                className="w-full px-1.5"
                onSave={async (text) => {
                  await edit(state, { limit: text.trim() ? Number(text) : null });
                }}
              />
            </span>
            <Reorder
              name={state.name}
              at={index}
              of={states.length}
              move={(by) => move(index, by)}
              remove={() => setDoomed(state)}
              away={`Delete ${state.name}`}
            />
          </li>
        ))}
      </ol>
      <AddByName
        label={project.workflows.length ? `Name of a new state of ${name}` : "Name of a new state"}
        action="Add a state"
        save={(name) =>
          save(`Added the state ${name}`, (headers) =>
            client.POST("/api/projects/{code}/states", {
              params: { path: { code: project.code } },
              body: { id: newId(), name, state_class: "active", workflow_id: workflow, after_id: "end" },
              headers,
            }),
          )
        }
      />
      {doomed && <DeleteState project={project} state={doomed} close={() => setDoomed(null)} />}
    </div>
  );
}

export function DeleteState({ project, state, close }: { project: Project; state: State; close: () => void }) {
  const save = useSaveProject(project);
  const others = project.states.filter((one) => one.id !== state.id && one.step_of !== state.id);
  const [target, setTarget] = useState(
    others.find((one) => one.state_class === state.state_class)?.id ?? others[0]?.id ?? "",
  );
  const [wrong, setWrong] = useState("");
  return (
    <Modal open onOpenChange={close} title={`Delete the state ${state.name}`}>
      <label>
        <span className="label">Tasks that stand in it move to</span>
        <Select className="w-full" value={target} onChange={(event) => setTarget(event.target.value)}>
          {others.map((one) => (
            <option key={one.id} value={one.id}>
              {one.label}
            </option>
          ))}
        </Select>
      </label>
      <Wrong text={wrong} />
      <div className="mt-4 flex gap-2">
        <Button
          look="go"
          onClick={() =>
            save(`Deleted the state ${state.name}`, (headers) =>
              client.DELETE("/api/projects/{code}/states/{state_id}", {
                params: { path: { code: project.code, state_id: state.id }, query: { move_to: target } },
                headers,
              }),
            )
              .then(close)
              .catch((error) => setWrong(sentence(error)))
          }
        >
          Delete the state
        </Button>
        <Button look="quiet" onClick={close}>
          Keep it
        </Button>
      </div>
    </Modal>
  );
}
