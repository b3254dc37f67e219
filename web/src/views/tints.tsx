/** The editor of tints: ordered rules. Beside each stands what it catches now, and what an earlier one took. */
import { Plus } from "lucide-react";
import { newId } from "../data/api";
import { Button, Modal, Pop, Tick } from "../parts/basics";
import { count } from "../parts/format";
import { Reorder } from "../parts/reorder";
import { Select } from "../parts/select";
import { Sign, SignChooser } from "../parts/sign";
import { ClauseWords } from "./clauses";
import { firstClause, partsOf } from "./conditions";
import { FieldPop } from "./field-list";
import { type Catalogue, COLOURS, type Ground, type Tint, type TintCount, useCatalogue, useView } from "./view";

const COVERS: [Tint["covers"][number], string][] = [
  ["row", "the row"],
  ["cell", "one cell"],
  ["slip", "the slip"],
  ["bar", "the bar"],
];

export default function Tints({
  project,
  counts,
  close,
}: {
  project: Ground;
  counts: TintCount[] | undefined;
  close: () => void;
}) {
  const [view, change] = useView();
  const { data: catalogue } = useCatalogue(project.code);
  const tints = view.tints ?? [];
  const set = (next: Tint[]) => change({ tints: next });
  const put = (index: number, part: Partial<Tint>) => {
    const tint = tints[index];
    if (tint) set(tints.with(index, { ...tint, ...part }));
  };
  const move = (index: number, to: number) => {
    const rest = tints.filter((_, n) => n !== index);
    const tint = tints[index];
    if (tint) set([...rest.slice(0, to), tint, ...rest.slice(to)]);
  };
  if (!catalogue) return null;
  return (
    <Modal open onOpenChange={close} title="Tints" width={760}>
      <p className="mb-2 text-ink-2">
        Rules from the top down: the first that holds for a task colours it. Nothing but colour changes.
      </p>
      <ol>
        {tints.map((tint, index) => (
          <Rule
            key={tint.id}
            tint={tint}
            tints={tints}
            of={counts?.find((one) => one.id === tint.id)}
            catalogue={catalogue}
            project={project}
            total={tints.length}
            put={(part) => put(index, part)}
            move={(to) => move(index, to)}
            index={index}
            remove={() => set(tints.filter((_, n) => n !== index))}
          />
        ))}
      </ol>
      {!tints.length && <p className="py-2 text-ink-2">There is none yet.</p>}
      <FieldPop
        label="What the new tint asks for"
        trigger={
          <Button className="mt-3">
            <Plus size={14} aria-hidden="true" /> Tint by
          </Button>
        }
        catalogue={catalogue}
        onChoose={(column) =>
          set([
            ...tints,
            {
              id: newId(),
              name: column.name,
              where: { all: [firstClause(column, catalogue)] },
              colour: COLOURS[(tints.length + 4) % COLOURS.length] ?? "slate",
              sign: "square",
              covers: ["row", "slip", "bar"],
            },
          ])
        }
      />
    </Modal>
  );
}

function Rule({
  tint,
  tints,
  of,
  catalogue,
  project,
  total,
  index,
  put,
  move,
  remove,
}: {
  tint: Tint;
  tints: Tint[];
  of: TintCount | undefined;
  catalogue: Catalogue;
  project: Ground;
  total: number;
  index: number;
  put: (part: Partial<Tint>) => void;
  move: (to: number) => void;
  remove: () => void;
}) {
  const nameOf = (id: string) => tints.find((one) => one.id === id)?.name ?? "an earlier one";
  const taken = Object.entries(of?.taken ?? {});
  const before = of?.move_before ? tints.findIndex((one) => one.id === of.move_before) : -1;
  return (
    <li className="border-b border-rule py-2.5">
      <div className="flex items-center gap-2">
        <Pop
          label={`Sign and colour of ${tint.name}`}
          trigger={
            <button
              type="button"
              aria-label={`Sign and colour of ${tint.name}: ${tint.sign}, ${tint.colour}`}
              className="grid size-7 place-items-center border border-rule-2 hover:border-ink"
            >
              <Sign shape={tint.sign} colour={tint.colour} />
            </button>
          }
        >
          <SignChooser
            shape={tint.sign}
            colour={tint.colour}
            colours={COLOURS}
            onChange={({ shape, colour }) => put({ sign: shape, colour })}
          />
        </Pop>
        <input
          className="input w-44 font-semibold"
          aria-label="Name of the tint"
          value={tint.name}
          onChange={(event) => put({ name: event.target.value })}
        />
        <Pop
          label="What it colours"
          trigger={
            <button type="button" className="border-b-[1.5px] border-dotted border-rose">
              colours{" "}
              {COVERS.filter(([one]) => tint.covers.includes(one))
                .map(([, words]) => words)
                .join(", ") || "nothing"}
            </button>
          }
        >
          {COVERS.map(([one, words]) => (
            <Tick
              key={one}
              checked={tint.covers.includes(one)}
              onChange={(on) =>
                put({
                  covers: on ? [...tint.covers, one] : tint.covers.filter((each) => each !== one),
                  cell: one === "cell" && on ? (tint.cell ?? "finish") : tint.cell,
                })
              }
            >
              {words}
            </Tick>
          ))}
          {tint.covers.includes("cell") && (
            <Select
              className="w-full"
              aria-label="Which cell"
              value={tint.cell ?? "finish"}
              onChange={(event) => put({ cell: event.target.value })}
            >
              {catalogue.columns.map((one) => (
                <option key={one.key} value={one.key}>
                  {one.name}
                </option>
              ))}
            </Select>
          )}
        </Pop>
        <span className="ml-auto flex flex-none">
          <Reorder name={tint.name} at={index} of={total} move={(by) => move(index + by)} remove={remove} />
        </span>
      </div>
      <p className="mt-1.5 pl-9">
        <ClauseWords
          code={project.code}
          group={tint.where}
          catalogue={catalogue}
          lead="where "
          onChange={(where) => put({ where })}
        />{" "}
        <FieldPop
          label="A further clause"
          trigger={
            <button type="button" className="font-[550] text-rose hover:underline">
              + and
            </button>
          }
          catalogue={catalogue}
          onChoose={(column) => put({ where: { all: [...partsOf(tint.where), firstClause(column, catalogue)] } })}
        />
      </p>
      {of && (
        <p className="mt-1 pl-9 text-[12px] text-ink-2">
          {of.hidden ? (
            <b className="font-semibold text-ember">
              It cannot show: {taken.map(([id, many]) => `${nameOf(id)} takes ${many}`).join(", ")} of its{" "}
              {count(of.holds, "task")}.{" "}
              {before >= 0 && (
                <button type="button" className="underline" onClick={() => move(before)}>
                  Move it before {nameOf(of.move_before ?? "")}
                </button>
              )}
            </b>
          ) : (
            <>
              colours {count(of.shows, "task")}
              {taken.length > 0 && `; ${taken.map(([id, many]) => `${nameOf(id)} takes ${many}`).join(", ")}`}
            </>
          )}
        </p>
      )}
    </li>
  );
}
