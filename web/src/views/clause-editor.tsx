/** One clause of a condition: how it asks, and what for. */
import { useEffect, useRef } from "react";
import { useMe, usePeople, useTeams } from "../data/hooks";
import { Tick } from "../parts/basics";
import { DateField } from "../parts/dates/field";
import { Select } from "../parts/select";
import type { Catalogue, CatalogueColumn, Clause } from "./view";

export function ClauseEditor({
  clause,
  catalogue,
  onChange,
}: {
  clause: Clause;
  catalogue: Catalogue;
  onChange: (clause: Clause) => void;
}) {
  const [key, operator, value] = clause;
  const column = catalogue.columns.find((one) => one.key === key);
  if (!column) return <p className="p-2">That field is not in the project any more.</p>;
  const operators = Object.entries(catalogue.operators[column.type] ?? {});
  const set = (next: string) => {
    if (catalogue.bare.includes(next)) return onChange([key, next]);
    const days = (one: string) => one === "within" || one === "past";
    const keep = value !== undefined && days(next) === days(operator);
    onChange([
      key,
      next,
      keep ? value : days(next) ? 7 : column.type === "date" ? "" : catalogue.first[column.type]?.[1],
    ]);
  };
  return (
    <>
      <p className="flex items-center gap-1.5 p-1">
        <span className="flex-none font-semibold">{column.name}</span>
        <Select
          className="min-w-0 flex-1"
          aria-label={`How ${column.name} is asked for`}
          value={operator}
          onChange={(event) => set(event.target.value)}
        >
          {operators.map(([name, words]) => (
            <option key={name} value={name}>
              {words}
            </option>
          ))}
        </Select>
      </p>
      {!catalogue.bare.includes(operator) && (
        <ValueEditor
          column={column}
          operator={operator}
          value={value}
          onChange={(next) => onChange([key, operator, next])}
        />
      )}
    </>
  );
}

function ValueEditor({
  column,
  operator,
  value,
  onChange,
}: {
  column: CatalogueColumn;
  operator: string;
  value: unknown;
  onChange: (value: unknown) => void;
}) {
  const { active } = usePeople();
  const { person: me } = useMe();
  const teams = useTeams();
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => field.current?.focus(), []);
  if (column.type === "one_of" || column.type === "several_of") {
    const chosen = Array.isArray(value) ? value.map(String) : value ? [String(value)] : [];
    const choices: [string, string][] = column.people
      ? [
          ["me", "me"],
          ["my_team", "my team"],
          ...(column.type === "one_of" ? ([["nobody", "nobody"]] as [string, string][]) : []),
          ...teams.map((team): [string, string] => [team.id, team.name]),
          ...active.filter((one) => one.id !== me.id).map((one): [string, string] => [one.id, one.name]),
        ]
      : Object.entries(column.choices);
    return (
      <div className="max-h-64 overflow-auto">
        {choices.map(([id, name]) => (
          <Tick
            key={id}
            checked={chosen.includes(id)}
            onChange={(on) => onChange(on ? [...chosen, id] : chosen.filter((one) => one !== id))}
          >
            {name}
          </Tick>
        ))}
        {!choices.length && <p className="px-2 py-1 text-ink-2">There is nothing to choose from yet.</p>}
      </div>
    );
  }
  const days = operator === "within" || operator === "past";
  if (column.type === "date" && !days)
    return (
      <div className="p-1">
        <DateField
          className="w-full"
          label={`Value for ${column.name}`}
          value={String(value ?? "")}
          onChange={onChange}
        />
      </div>
    );
  const isText = column.type === "text";
  return (
    <label className="flex items-center gap-2 p-1">
      <input
        ref={field}
        className="input min-w-0 flex-1"
        type={isText ? "text" : "number"}
        step="any"
        aria-label={`Value for ${column.name}`}
        value={String(value ?? "")}
        onChange={({ target: { value: text } }) => onChange(isText || text === "" ? text : Number(text))}
      />
      <span className="text-ink-2">{days ? "days" : column.unit}</span>
    </label>
  );
}
