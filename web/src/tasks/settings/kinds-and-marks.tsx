/** Kinds and marks of the project's own: each a sign and a word. */

import { Trash2 } from "lucide-react";
import type { Project } from "../../data/api";
import { orTell } from "../../data/notes";
import { IconButton, Pop, Tick } from "../../parts/basics";
import { AddByName } from "../../parts/form";
import { Sign, SignChooser } from "../../parts/sign";
import { TextField } from "../../parts/text-field";
import { COLOURS } from "../../views/view";
import { useDefine } from "./define";

const WORDS = {
  kinds: {
    title: "Kinds of task",
    says: "Beside task, milestone, deliverable, defect, risk and request. A kind can pass through some of the states only.",
    add: "Add a kind",
    name: "Name of a new kind",
  },
  marks: {
    title: "Marks",
    says: "KindsOrMarks that anybody puts on a task by hand, to draw attention.",
    add: "Add a mark",
    name: "Name of a new mark",
  },
};

export function KindsOrMarks({ project, sort }: { project: Project; sort: "kinds" | "marks" }) {
  const define = useDefine(project, sort);
  const words = WORDS[sort];
  const all = project[sort];
  return (
    <section>
      <h2 className="mb-1 text-[17px]">{words.title}</h2>
      <p className="mb-2 text-ink-2">{words.says}</p>
      <ul>
        {all.map((one) => (
          <li key={one.id} className="flex min-h-9 items-center gap-1.5 border-b border-rule">
            <Pop
              label={`Sign of ${one.name}`}
              trigger={
                <button
                  type="button"
                  aria-label={`Sign of ${one.name}: ${one.shape}, ${one.colour}`}
                  className="grid size-7 flex-none place-items-center border border-rule-2 hover:border-ink"
                >
                  <Sign shape={one.shape} colour={one.colour} />
                </button>
              }
            >
              <SignChooser
                shape={one.shape}
                colour={one.colour}
                colours={COLOURS}
                onChange={(settings) => orTell(define.edit(one.id, { settings }))}
              />
            </Pop>
            <div className="flex-1">
              <TextField
                value={one.name}
                label={`Name of ${one.name}`}
                className="w-full px-1.5"
                onSave={(text) => define.edit(one.id, { name: text })}
              />
            </div>
            {"states" in one && (
              <Pop
                label={`States of ${one.name}`}
                align="end"
                trigger={
                  <button type="button" className="border-b-[1.5px] border-dotted border-rose whitespace-nowrap">
                    {one.states.length
                      ? `${one.states.length} of ${project.states.length} states`
                      : "through all states"}
                  </button>
                }
              >
                {project.states.map((state) => {
                  const chosen = one.states.length ? one.states : project.states.map((each) => each.id);
                  return (
                    <Tick
                      key={state.id}
                      checked={chosen.includes(state.id)}
                      onChange={(on) => {
                        const next = project.states
                          .map((each) => each.id)
                          .filter((id) => (id === state.id ? on : chosen.includes(id)));
                        const states = next.length === project.states.length ? [] : next;
                        orTell(define.edit(one.id, { settings: { states } }));
                      }}
                    >
                      {state.label}
                    </Tick>
                  );
                })}
              </Pop>
            )}
            <IconButton label={`Take ${one.name} away`} onClick={() => orTell(define.remove(one.id, one.name))}>
              <Trash2 size={14} />
            </IconButton>
          </li>
        ))}
      </ul>
      <AddByName
        label={words.name}
        action={words.add}
        save={(name) => {
          const colour = COLOURS[(all.length + 1) % COLOURS.length];
          return define.add(name, { shape: sort === "marks" ? "flag" : "square", colour });
        }}
      />
    </section>
  );
}
