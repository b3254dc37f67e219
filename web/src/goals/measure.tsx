/** How a goal is measured: by hand, from the goals below it, from tasks and milestones, or by the sum of a field. */
import { X } from "lucide-react";
import { sentence } from "../data/api";
import { useWork } from "../data/hooks";
import { Pop, Tick } from "../parts/basics";
import { DateField } from "../parts/dates/field";
import { Select } from "../parts/select";
import { useSettled } from "../parts/use-settled";
import { ClauseWords } from "../views/clauses";
import { firstClause, partsOf, readWhere, writeWhere } from "../views/conditions";
import { FieldPop } from "../views/field-list";
import { useCatalogue } from "../views/view";
import { type Measure, useTried } from "./goals";

type Set = (part: Partial<Measure>) => void;
const KINDS: [Measure["kind"], string][] = [
  ["hand", "values that are typed"],
  ["goals", "the goals below it"],
  ["tasks", "tasks or milestones"],
  ["field", "the sum of a field"],
];
const SIGNS: Record<Measure["unit"], string> = { number: "", percent: "%", money: "EUR" };

export function MeasureFields({
  measure,
  first,
  last,
  set,
}: {
  measure: Measure;
  first: string;
  last: string;
  set: Set;
}) {
  const hasValue = measure.kind === "hand" || measure.kind === "field";
  return (
    <fieldset className="mb-3 border-y border-rule-2 py-2">
      <legend className="label">How far it is says</legend>
      <div className="flex flex-wrap gap-x-4 gap-y-1">
        {KINDS.map(([id, words]) => (
          <label key={id} className="flex items-center gap-1.5">
            <input
              type="radio"
              name="measure"
              checked={measure.kind === id}
              onChange={() => set({ kind: id, steps: [] })}
            />
            {words}
          </label>
        ))}
      </div>
      {(measure.kind === "tasks" || measure.kind === "field") && <Counting {...{ measure, first, last, set }} />}
      {hasValue && <Scale measure={measure} set={set} />}
      <Steps {...{ measure, first, last, set }} sign={hasValue ? measure.sign : "%"} />
    </fieldset>
  );
}

/** From where to where, in which unit. */
function Scale({ measure, set }: { measure: Measure; set: Set }) {
  const text = (name: "start" | "target", label: string) => (
    <label className="flex items-center gap-1.5">
      {label}
      <input
        className="input w-20 text-right"
        aria-label={name === "start" ? "Where it begins" : "Its target"}
        value={String(measure[name])}
        onChange={(event) => set({ [name]: event.target.value })}
      />
    </label>
  );
  return (
    <div className="mt-2 flex flex-wrap items-center gap-2">
      {text("start", "from")}
      {text("target", "to")}
      <Select
        aria-label="Unit"
        className="w-[118px]"
        value={measure.unit}
        onChange={(event) => {
          const unit = event.target.value as Measure["unit"];
          set({ unit, sign: SIGNS[unit], decimals: unit === "money" ? 2 : measure.decimals });
        }}
      >
        <option value="number">a number of</option>
        <option value="percent">percent</option>
        <option value="money">money in</option>
      </Select>
      <input
        className="input w-24"
        aria-label="What stands behind the number"
        placeholder="visitors"
        maxLength={20}
        value={measure.sign}
        onChange={(event) => set({ sign: event.target.value })}
      />
      <Select
        aria-label="Decimals"
        className="w-[112px]"
        value={measure.decimals}
        onChange={(event) => set({ decimals: Number(event.target.value) })}
      >
        {[0, 1, 2, 3, 4].map((one) => (
          <option key={one} value={one}>
            {one === 0 ? "whole" : one === 1 ? "one decimal" : `${one} decimals`}
          </option>
        ))}
      </Select>
    </div>
  );
}

/** Whose work is counted, which of it, and what comes of that now. */
function Counting({ measure, first, last, set }: { measure: Measure; first: string; last: string; set: Set }) {
  const projects = useWork().data ?? [];
  const catalogue = useCatalogue("").data;
  const group = readWhere(measure.where);
  const settled = useSettled(JSON.stringify({ ...measure, start: "0", target: "100", steps: [], decimals: 0 }), 300);
  const tried = useTried(JSON.parse(settled) as Measure, first, last, measure.projects.length > 0);
  const chosen = projects.filter((one) => measure.projects.includes(one.id));
  const others = measure.projects.length - chosen.length;
  return (
    <div className="mt-2 grid gap-2">
      <div className="flex flex-wrap items-center gap-x-2 gap-y-1">
        {measure.kind === "tasks" && (
          <>
            <Select
              aria-label="What is counted"
              className="w-32"
              value={measure.counts}
              onChange={(event) => set({ counts: event.target.value as Measure["counts"], by: "count" })}
            >
              <option value="tasks">tasks</option>
              <option value="milestones">milestones</option>
            </Select>
            {measure.counts === "tasks" && (
              <Select
                aria-label="By number or effort"
                className="w-32"
                value={measure.by}
                onChange={(event) => set({ by: event.target.value as Measure["by"] })}
              >
                <option value="count">by number</option>
                <option value="effort">by effort</option>
              </Select>
            )}
          </>
        )}
        {measure.kind === "field" && (
          <Select
            aria-label="Which field"
            className="w-48"
            value={measure.field}
            onChange={(event) => set({ field: event.target.value })}
          >
            <option value="">choose a field …</option>
            {Object.entries(tried.data?.fields ?? (measure.field ? { [measure.field]: "the field chosen" } : {})).map(
              ([key, name]) => (
                <option key={key} value={key}>
                  {name}
                </option>
              ),
            )}
          </Select>
        )}
        <span>of</span>
        <Pop
          label="Whose work is counted"
          trigger={
            <button type="button" className="border-b-[1.5px] border-dotted border-rose font-[550] hover:bg-rose-soft">
              {chosen.length || others
                ? [...chosen.map((one) => one.code), ...(others ? [`${others} more`] : [])].join(", ")
                : "choose projects …"}
            </button>
          }
        >
          {projects.map((one) => (
            <Tick
              key={one.id}
              checked={measure.projects.includes(one.id)}
              onChange={(on) =>
                set({
                  projects: on ? [...measure.projects, one.id] : measure.projects.filter((each) => each !== one.id),
                })
              }
            >
              {one.code} {one.name}
            </Tick>
          ))}
        </Pop>
        {catalogue && (
          <span>
            <ClauseWords
              code=""
              group={group}
              catalogue={catalogue}
              onChange={(next) => set({ where: writeWhere(next) })}
            />{" "}
            <FieldPop
              label="Narrow what is counted"
              catalogue={catalogue}
              onChoose={(column) =>
                set({ where: writeWhere({ all: [...partsOf(group), firstClause(column, catalogue)] }) })
              }
              trigger={
                <button type="button" className="text-rose hover:underline">
                  + narrow
                </button>
              }
            />
          </span>
        )}
      </div>
      <p role="status" className="text-[12.5px] text-ink-2">
        {tried.error ? (
          <span className="text-ember">{sentence(tried.error)}</span>
        ) : tried.data ? (
          `Now: ${tried.data.how.far || "nothing that it counts is there yet"}`
        ) : (
          "Choose the projects whose work is counted."
        )}
      </p>
    </div>
  );
}

/** Where it should stand when; without steps that follows from the time that has passed. */
function Steps({
  measure,
  first,
  last,
  set,
  sign,
}: {
  measure: Measure;
  first: string;
  last: string;
  set: Set;
  sign: string;
}) {
  const change = (index: number, part: Partial<Measure["steps"][number]>) =>
    set({ steps: measure.steps.map((one, n) => (n === index ? { ...one, ...part } : one)) });
  return (
    <div className="mt-2">
      <span className="text-[12.5px] text-ink-2">
        {measure.steps.length ? "It should be at" : "Expected by now follows from the time that has passed."}
      </span>
      {measure.steps.map((one, index) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: steps have no name but their place
        <div key={index} className="mt-1 flex items-center gap-2">
          <input
            className="input w-24 text-right"
            aria-label={`Step ${index + 1}, where it should be`}
            value={String(one.value)}
            onChange={(event) => change(index, { value: event.target.value })}
          />
          <span>{sign} on</span>
          <DateField label={`Day of step ${index + 1}`} value={one.day} onChange={(day) => change(index, { day })} />
          <button
            type="button"
            aria-label={`Take step ${index + 1} out`}
            className="p-1 text-ink-2 hover:text-ink"
            onClick={() => set({ steps: measure.steps.filter((_, n) => n !== index) })}
          >
            <X size={13} />
          </button>
        </div>
      ))}{" "}
      <button
        type="button"
        className="text-[12.5px] text-rose hover:underline"
        onClick={() =>
          set({ steps: [...measure.steps, { day: measure.steps.at(-1)?.day ?? first ?? last, value: "" }] })
        }
      >
        + a step
      </button>
    </div>
  );
}
