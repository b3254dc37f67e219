/** The fields that a project adds to its tasks: defined, ordered, taken away and put back. */

import { Trash2 } from "lucide-react";
import { useState } from "react";
import { newId, type Project, sentence } from "../../data/api";
import { usePeople } from "../../data/hooks";
import { orTell } from "../../data/notes";
import { kinds } from "../../data/vocabulary";
import { Button, Field, IconButton, Modal, Pop, Tick, Wrong } from "../../parts/basics";
import { Reorder } from "../../parts/reorder";
import { Select } from "../../parts/select";
import { Sign } from "../../parts/sign";
import { COLOURS } from "../../views/view";
import { CustomFieldPicker } from "../custom-field-picker";
import { type CustomField, ownText, TYPED } from "../custom-fields";
import { useDefine } from "./define";

const TYPES: [CustomField["type"], string][] = [
  ["text", "text"],
  ["number", "number"],
  ["money", "money"],
  ["date", "date"],
  ["yes_no", "yes or no"],
  ["person", "person"],
  ["choice", "one of a list"],
  ["choices", "several of a list"],
  ["link", "link to a page"],
  ["computed", "computed"],
  ["tasks", "tasks of a kind"],
  ["tied", "work of other projects"],
];

const BLANK: CustomField = {
  id: "",
  name: "",
  type: "text",
  help: "",
  unit: "",
  decimals: 0,
  options: [],
  formula: "",
  kinds: [],
  default: null,
  required_from: null,
  target_kind: null,
  carries: [],
  progress: false,
  broken: [],
};

export function CustomFields({ project }: { project: Project }) {
  const define = useDefine(project, "fields");
  const [edited, setEdited] = useState<CustomField | null>(null);
  const move = (index: number, by: number) => {
    const one = project.fields[index];
    const rest = project.fields.filter((each) => each !== one);
    if (one) orTell(define.edit(one.id, { after_id: rest[index + by - 1]?.id ?? null }));
  };
  return (
    <section>
      <h2 className="mb-1 text-[17px]">Fields of its own</h2>
      <p className="mb-2 text-ink-2">
        What this project wants to know of its tasks besides the usual. Each can be a column, a clause of the sentence,
        a group and a tint.
      </p>
      <ul>
        {project.fields.map((one, index) => (
          <li key={one.id} className="flex min-h-9 items-center gap-1.5 border-b border-rule">
            <button
              type="button"
              className="min-w-0 flex-1 truncate text-left hover:underline"
              onClick={() => setEdited(one)}
            >
              {one.name} <span className="text-ink-2">{saysOf(one, project)}</span>
            </button>
            <Reorder
              name={one.name}
              at={index}
              of={project.fields.length}
              move={(by) => move(index, by)}
              remove={() => orTell(define.remove(one.id, one.name))}
            />
          </li>
        ))}
      </ul>
      <Button className="mt-2" onClick={() => setEdited(BLANK)}>
        Add a field
      </Button>
      {edited && <EditField key={edited.id} field={edited} project={project} close={() => setEdited(null)} />}
    </section>
  );
}

function saysOf(one: CustomField, project: Project): string {
  const type = TYPES.find(([value]) => value === one.type)?.[1] ?? "";
  const state = project.states.find((each) => each.id === one.required_from);
  return [
    one.type === "computed" ? one.formula : type,
    one.unit && `in ${one.unit}`,
    one.kinds.length > 0 && `for ${one.kinds.map((kind) => nameOf(project, kind)).join(", ")}`,
    state && `needed from ${state.name} on`,
    one.broken.length > 0 && `cannot be read and stands as if nobody had set it: ${one.broken.join(", ")}`,
  ]
    .filter(Boolean)
    .join(", ");
}

const nameOf = (project: Project, kind: string) => project.kinds.find((one) => one.id === kind)?.name ?? kind;

function EditField({ field, project, close }: { field: CustomField; project: Project; close: () => void }) {
  const define = useDefine(project, "fields");
  const people = usePeople();
  const [draft, setDraft] = useState(field);
  const [wrong, setWrong] = useState("");
  const set = (part: Partial<CustomField>) => {
    setWrong("");
    setDraft({ ...draft, ...part });
  };
  const fresh = field.id === "";
  const { type } = draft;
  const number = type === "number" || type === "money" || type === "computed";
  const list = type === "choice" || type === "choices";
  const every = [...kinds(), ...project.kinds];
  async function save(event: React.FormEvent) {
    event.preventDefault();
    const { id, name, broken: _, ...settings } = draft;
    try {
      if (fresh) await define.add(name, settings);
      else await define.edit(id, { name, settings });
      close();
    } catch (error) {
      setWrong(sentence(error));
    }
  }
  return (
    <Modal open onOpenChange={close} title={fresh ? "A field of its own" : `The field ${field.name}`} width={560}>
      <form onSubmit={save}>
        <div className="grid grid-cols-2 gap-x-3">
          <Field label="Name">
            <input
              className="input w-full"
              value={draft.name}
              onChange={(event) => set({ name: event.target.value })}
            />
          </Field>
          <Field label="Type" hint={fresh ? undefined : "The type of a field stays."}>
            <Select
              className="w-full"
              value={type}
              disabled={!fresh}
              onChange={(event) =>
                set({
                  type: event.target.value as CustomField["type"],
                  default: null,
                  decimals: event.target.value === "money" ? 2 : 0,
                })
              }
            >
              {TYPES.map(([value, words]) => (
                <option key={value} value={value}>
                  {words}
                </option>
              ))}
            </Select>
          </Field>
        </div>
        <Field label="Help" hint="Shown beside the field.">
          <input className="input w-full" value={draft.help} onChange={(event) => set({ help: event.target.value })} />
        </Field>
        {number && (
          <div className="grid grid-cols-2 gap-x-3">
            <Field label={type === "money" ? "Currency" : "Unit"}>
              <input
                className="input w-full"
                placeholder={type === "money" ? "EUR" : "kg"}
                value={draft.unit}
                onChange={(event) => set({ unit: event.target.value })}
              />
            </Field>
            <Field label="Decimals">
              <input
                type="number"
                min={0}
                max={6}
                className="input w-full"
                value={draft.decimals}
                onChange={(event) => set({ decimals: Number(event.target.value) })}
              />
            </Field>
          </div>
        )}
        {type === "computed" && (
          <Field
            label="Formula"
            hint="Fields by their names, + − × ÷, if … then … else …, today, working days from … to …, sum of … below."
          >
            <textarea
              className="input h-16 w-full py-1"
              placeholder="Unit price × Pieces"
              value={draft.formula}
              onChange={(event) => set({ formula: event.target.value })}
            />
          </Field>
        )}
        {list && <Options options={draft.options} set={(options) => set({ options })} />}
        {type === "tied" && <TiedSettings draft={draft} set={set} />}
        {type === "tasks" && (
          <Field label="Points to">
            <Select
              className="w-full"
              value={draft.target_kind ?? ""}
              onChange={(event) => set({ target_kind: event.target.value || null })}
            >
              <option value="">tasks of any kind</option>
              {every.map((kind) => (
                <option key={kind.id} value={kind.id}>
                  {kind.name}
                </option>
              ))}
            </Select>
          </Field>
        )}
        <div className="grid grid-cols-2 gap-x-3">
          <div className="mb-3">
            <span className="label">For</span>
            <Pop
              label="Kinds that have it"
              trigger={
                <button type="button" className="input w-full text-left">
                  {draft.kinds.length
                    ? draft.kinds.map((kind) => nameOf(project, kind)).join(", ")
                    : "tasks of every kind"}
                </button>
              }
            >
              {every.map((kind) => (
                <Tick
                  key={kind.id}
                  checked={draft.kinds.includes(kind.id)}
                  onChange={(on) =>
                    set({ kinds: on ? [...draft.kinds, kind.id] : draft.kinds.filter((one) => one !== kind.id) })
                  }
                >
                  {kind.name}
                </Tick>
              ))}
            </Pop>
          </div>
          {type !== "computed" && (
            <Field label="Needed from">
              <Select
                className="w-full"
                value={draft.required_from ?? ""}
                onChange={(event) => set({ required_from: event.target.value || null })}
              >
                <option value="">never</option>
                {project.states.map((state) => (
                  <option key={state.id} value={state.id}>
                    {state.label}, and after it
                  </option>
                ))}
              </Select>
            </Field>
          )}
        </div>
        {TYPED.has(type) && (
          <Field label="New tasks have in it">
            <input
              className="input w-full"
              placeholder="nothing"
              value={String(draft.default ?? "")}
              onChange={(event) => set({ default: event.target.value || null })}
            />
          </Field>
        )}
        {(type === "choice" || type === "yes_no" || type === "person") && (
          <div className="mb-3">
            <span className="label">New tasks have in it</span>
            <Pop
              label="What new tasks have in it"
              trigger={
                <button type="button" className="input w-full text-left">
                  {ownText(draft, draft.default, people) || "nothing"}
                </button>
              }
            >
              <CustomFieldPicker
                field={draft}
                value={draft.default}
                project={project}
                onChoose={(value) => set({ default: value })}
              />
            </Pop>
          </div>
        )}
        <Wrong text={wrong} />
        <Button look="go" type="submit" disabled={!draft.name.trim()}>
          {fresh ? "Add the field" : "Save"}
        </Button>
      </form>
    </Modal>
  );
}

/** The list that a field chooses from. */
function Options({
  options,
  set,
}: {
  options: CustomField["options"];
  set: (options: CustomField["options"]) => void;
}) {
  const [text, setText] = useState("");
  function add() {
    if (!text.trim()) return;
    const colour = COLOURS[(options.length + 2) % COLOURS.length] ?? "slate";
    set([...options, { id: newId(), name: text.trim(), colour }]);
    setText("");
  }
  return (
    <fieldset className="mb-3">
      <legend className="label">Entries of the list</legend>
      {options.map((option, index) => (
        <p key={option.id} className="mb-1 flex items-center gap-2">
          <button
            type="button"
            aria-label={`Colour of ${option.name}: ${option.colour}; take the next`}
            className="grid size-7 place-items-center border border-rule-2"
            onClick={() => {
              const next = (COLOURS as readonly string[]).indexOf(option.colour) + 1;
              set(options.with(index, { ...option, colour: COLOURS[next % COLOURS.length] ?? "slate" }));
            }}
          >
            <Sign shape="square" colour={option.colour} />
          </button>
          <input
            className="input flex-1"
            aria-label={`Entry ${index + 1}`}
            value={option.name}
            onChange={(event) => set(options.with(index, { ...option, name: event.target.value }))}
          />
          <IconButton label={`Take ${option.name} out`} onClick={() => set(options.filter((one) => one !== option))}>
            <Trash2 size={14} />
          </IconButton>
        </p>
      ))}
      <p className="flex gap-2">
        <input
          className="input flex-1"
          aria-label="A new entry"
          placeholder="A new entry"
          value={text}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => {
            if (event.key !== "Enter") return;
            event.preventDefault();
            add();
          }}
        />
        <Button onClick={add} disabled={!text.trim()}>
          Add
        </Button>
      </p>
    </fieldset>
  );
}

/** What the API carries across, in the order of its document. */
const CARRIED: [string, string][] = [
  ["state", "state"],
  ["owner", "owner"],
  ["start", "start"],
  ["finish", "finish"],
  ["deadline", "deadline"],
  ["percent", "percent done"],
  ["priority", "priority"],
  ["health", "health"],
  ["effort", "effort"],
  ["held_by", "what holds it"],
  ["marks", "marks"],
  ["agreed_finish", "agreed finish"],
  ["variance", "variance"],
];
const OTHER = "own:";

/** What is carried across from work of other projects, and whether progress comes from it. */
function TiedSettings({ draft, set }: { draft: CustomField; set: (part: Partial<CustomField>) => void }) {
  const [name, setName] = useState("");
  const toggle = (one: string, on: boolean) =>
    set({ carries: on ? [...draft.carries, one] : draft.carries.filter((each) => each !== one) });
  const own = draft.carries.filter((one) => one.startsWith(OTHER));
  const add = () => {
    const wanted = `${OTHER}${name.trim()}`;
    if (name.trim() && !draft.carries.includes(wanted)) set({ carries: [...draft.carries, wanted] });
    setName("");
  };
  return (
    <fieldset className="mb-3">
      <legend className="label">Fields of that work shown here, and changed here as there</legend>
      <div className="grid grid-cols-2">
        {CARRIED.map(([id, words]) => (
          <Tick key={id} checked={draft.carries.includes(id)} onChange={(on) => toggle(id, on)}>
            {words}
          </Tick>
        ))}
        {own.map((one) => (
          <Tick key={one} checked onChange={() => toggle(one, false)}>
            {one.slice(OTHER.length)}
          </Tick>
        ))}
      </div>
      <span className="mt-1 flex gap-2">
        <input
          className="input min-w-0 flex-1"
          aria-label="A field of its own, by its name there"
          placeholder="A field of its own, by its name there"
          maxLength={60}
          value={name}
          onChange={(event) => setName(event.target.value)}
          onKeyDown={(event) => {
            if (event.key !== "Enter") return;
            event.preventDefault();
            add();
          }}
        />
        <Button onClick={add}>Carry it</Button>
      </span>
      <span className="mt-1 block">
        <Tick checked={draft.progress} onChange={(progress) => set({ progress })}>
          How far the task is comes from that work
        </Tick>
      </span>
    </fieldset>
  );
}
