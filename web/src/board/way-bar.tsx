/** The bar above the board of one workflow, where there are several; and what a lead sets of all of the board. */
import { ChevronDown, ChevronRight, Ellipsis } from "lucide-react";
import { useState } from "react";
import type { Project } from "../data/api";
import { orTell } from "../data/notes";
import { kinds as everyKind } from "../data/vocabulary";
import { IconButton, Pop, Tick } from "../parts/basics";
import { AddByName } from "../parts/form";
import { count } from "../parts/format";
import { Picker } from "../parts/picker";
import { Select } from "../parts/select";
import { TextField } from "../parts/text-field";
import type { OutlineRow } from "../tasks/rows";
import { Act, AddPop, MoveOut } from "./arranging";
import { useColumns, useWorkflows } from "./board";
import { Line, readLimit } from "./column-form";
import type { Way } from "./shape";

export function WayBar({
  project,
  way,
  total,
  waiting,
  folded,
  fold,
  manages,
  outline,
}: {
  project: Project;
  way: Way;
  total: number;
  /** in the backlog */
  waiting: number;
  folded: boolean;
  fold: () => void;
  manages: boolean;
  outline: OutlineRow[];
}) {
  return (
    <div className="reveals sticky left-0 flex w-[calc(100cqw/var(--zoom))] items-center gap-2 border-b border-rule-2 bg-band px-2 py-1.5">
      <button
        type="button"
        aria-label={`${folded ? "Unfold" : "Fold"} the workflow ${way.name}`}
        aria-expanded={!folded}
        onClick={fold}
        className="grid size-6 place-items-center text-ink-2 hover:text-ink"
      >
        {folded ? <ChevronRight size={15} aria-hidden="true" /> : <ChevronDown size={15} aria-hidden="true" />}
      </button>
      <h2 className="text-[15px]">{way.name}</h2>
      <span className="text-[12px] text-ink-2">
        {count(total, "task")}
        {waiting > 0 && `, ${waiting} in the backlog`}
        {way.id && goesThrough(project, way.id, outline)}
      </span>
      {manages && (
        <span className="reveal">
          <Pop
            label={`Workflow ${way.name}`}
            className="w-[320px]"
            trigger={
              <IconButton label={`Change the workflow ${way.name}`} className="size-6!">
                <Ellipsis size={14} />
              </IconButton>
            }
          >
            <WayForm project={project} way={way} outline={outline} />
          </Pop>
        </span>
      )}
    </div>
  );
}

/** What goes through a workflow, in words. */
function goesThrough(project: Project, id: string, outline: OutlineRow[]): string {
  const way = project.workflows.find((one) => one.id === id);
  const kinds = way?.kinds.map((one) => project.kinds.find((kind) => kind.id === one)?.name ?? one) ?? [];
  const branches =
    way?.branches.map((one) => outline.find(({ row }) => row.id === one)?.row.title ?? "a branch that is gone") ?? [];
  const said = [
    kinds.length ? `of the kind ${kinds.join(" or ")}` : "",
    branches.length ? `under ${branches.join(" or ")}` : "",
  ];
  const words = said.filter(Boolean).join(", and what stands ");
  return words ? `; what is ${words} goes this way` : "";
}

function WayForm({ project, way, outline }: { project: Project; way: Way; outline: OutlineRow[] }) {
  const define = useWorkflows(project);
  const columns = useColumns(project);
  const [doomed, setDoomed] = useState(false);
  const own = project.workflows.find((one) => one.id === way.id);
  const kinds = [...everyKind().map(({ id, name }) => ({ id, name })), ...project.kinds];
  const set = (settings: Record<string, unknown>) => orTell(define.edit(own?.id ?? "", { settings }));
  const branches = outline.filter(({ row }) => row.is_summary || own?.branches.includes(row.id));
  return (
    <div className="p-1">
      <Line label="Name">
        <TextField
          value={way.name}
          label="Name of the workflow"
          className="w-full px-1.5"
          onSave={async (name) => {
            if (own) await define.edit(own.id, { name });
            else await columns.limits({ workflow_name: name });
          }}
        />
      </Line>
      {!own && <p className="px-1.5 py-1 text-[12px] text-ink-2">What no other workflow takes goes this way.</p>}
      {own && (
        <>
          <p className="mt-1 border-t border-rule px-1.5 pt-1.5 text-[12px] text-ink-2">Kinds that go this way</p>
          {kinds.map((kind) => (
            <Tick
              key={kind.id}
              checked={own.kinds.includes(kind.id)}
              onChange={(on) =>
                set({ kinds: on ? [...own.kinds, kind.id] : own.kinds.filter((one) => one !== kind.id) })
              }
            >
              {kind.name}
            </Tick>
          ))}
          <p className="mt-1 border-t border-rule px-1.5 pt-1.5 text-[12px] text-ink-2">
            Branches: all that stands under them goes this way
          </p>
          {branches.length > 0 ? (
            <Picker
              label="Find a branch"
              className="w-full"
              height="max-h-36"
              choices={branches.map(({ row, depth }) => ({
                id: row.id,
                name: row.title,
                chosen: own.branches.includes(row.id),
                before: <span style={{ width: depth * 8 }} />,
              }))}
              onChoose={(id) =>
                set({
                  branches: own.branches.includes(id)
                    ? own.branches.filter((one) => one !== id)
                    : [...own.branches, id],
                })
              }
            />
          ) : (
            <p className="px-1.5 py-1">There is no task with tasks under it yet.</p>
          )}
          <div className="mt-1 grid border-t border-rule pt-1">
            <Act onClick={() => setDoomed(true)}>Delete</Act>
          </div>
        </>
      )}
      {doomed && own && (
        <MoveOut
          title={`Delete the workflow ${own.name}`}
          says="Its tasks go on, in the state that answers to theirs, in"
          nowhere={project.workflow_name}
          others={project.workflows.filter((one) => one.id !== own.id)}
          remove={(to) => define.moveOut(own.id, own.name, to)}
          close={() => setDoomed(false)}
        />
      )}
    </div>
  );
}

const RULES = { warn: "it is told", ask: "a reason is asked for and kept", refuse: "it is refused" };

/** Below the board while it is arranged: another workflow, limits of people, and what happens beyond a limit. */
export function ArrangeFoot({ project }: { project: Project }) {
  const define = useWorkflows(project);
  const columns = useColumns(project);
  return (
    <div className="sticky left-0 flex w-[calc(100cqw/var(--zoom))] flex-wrap items-center gap-x-4 gap-y-1 border-t border-rule bg-paper px-3 py-2">
      <AddPop what="a workflow" name="Workflow" width="w-72">
        <div className="px-1.5 pb-1">
          <p className="py-1 text-[12px] text-ink-2">
            Another way that work goes, with columns, lanes and limits of its own. Choose then what goes through it.
          </p>
          <AddByName label="Name of a new workflow" action="Add it" save={(name) => define.add(name, {})} />
        </div>
      </AddPop>
      <label className="flex items-center gap-2">
        Where a limit is passed,
        <Select
          aria-label="Where a limit is passed"
          value={project.limit_rule}
          onChange={(event) => orTell(columns.limits({ limit_rule: event.target.value as Project["limit_rule"] }))}
        >
          {Object.entries(RULES).map(([id, words]) => (
            <option key={id} value={id}>
              {words}
            </option>
          ))}
        </Select>
      </label>
      <span className="flex items-center gap-1">
        One person has
        <span className="w-20">
          <TextField
            value={project.person_limit ? String(project.person_limit) : ""}
            label="Tasks that one person has under way"
            placeholder="any number"
            className="w-full border-rule-2! px-1.5"
            onSave={async (text) => {
              await columns.limits({ person_limit: readLimit(text) });
            }}
          />
        </span>
        tasks under way at most
      </span>
    </div>
  );
}
