/** Clauses over any field: read as words in the sentence, changed in a small chooser. Tints are made of the same. */
import { useEffect, useRef, useState } from "react";
import { useMe, usePeople, useTeams } from "../data/hooks";
import { Button, Pop, Tick } from "../parts/basics";
import { Select } from "../parts/select";
import { asked, BARE, FIRST, firstClause, isGroup, joined, partsOf, whole, writeWhere } from "./conditions";
import { WORD } from "./scope-sentence";
import type { Catalogue, CatalogueColumn, Clause, Group } from "./view";
import { useClauseWords } from "./view";

/** The clauses of a condition as words; each opens its chooser, and can be taken out or joined by “or”. */
export function ClauseWords({
  code,
  group,
  catalogue,
  onChange,
  fresh,
  lead = ", where ",
}: {
  code: string;
  group: Group;
  catalogue: Catalogue;
  onChange: (group: Group) => void;
  /** the place of a clause that has just been added, whose chooser opens by itself */
  fresh?: number;
  lead?: string;
}) {
  // a clause that was joined to another by “or” opens by itself
  const [joinedAt, setJoinedAt] = useState<number>();
  const words = useClauseWords(code, writeWhere(asked(group)));
  const parts = partsOf(group);
  // the server says each finished clause, in order
  let said = 0;
  const saidOf = (clause: Clause) => {
    const name = catalogue.columns.find((one) => one.key === clause[0])?.name ?? "a field that is gone";
    if (!whole(clause)) return `${name} …`;
    return words.data?.clauses[said++] ?? name;
  };
  const set = (index: number, part: Clause | Group | null) =>
    onChange(joined(group, part === null ? parts.filter((_, n) => n !== index) : parts.with(index, part)));
  return parts.map((part, index) => (
    // biome-ignore lint/suspicious/noArrayIndexKey: clauses have no name but their place
    <span key={index}>
      {index === 0 ? lead : "any" in group ? " or " : " and "}
      {isGroup(part) ? (
        <>
          (
          {partsOf(part).map((inner, at) =>
            isGroup(inner) ? null : (
              // biome-ignore lint/suspicious/noArrayIndexKey: clauses have no name but their place
              <span key={at}>
                {at > 0 && ("any" in part ? " or " : " and ")}
                <ClauseWord
                  clause={inner}
                  words={saidOf(inner)}
                  catalogue={catalogue}
                  first={(fresh === index || joinedAt === index) && at === partsOf(part).length - 1}
                  onChange={(next) => {
                    const rest = next ? partsOf(part).with(at, next) : partsOf(part).filter((_, n) => n !== at);
                    const only = rest[0];
                    set(index, rest.length > 1 ? joined(part, rest) : only && !isGroup(only) ? only : null);
                  }}
                  onOr={(next) => {
                    setJoinedAt(index);
                    set(index, joined(part, [...partsOf(part), next]));
                  }}
                />
              </span>
            ),
          )}
          )
        </>
      ) : (
        <ClauseWord
          clause={part}
          words={saidOf(part)}
          catalogue={catalogue}
          first={fresh === index}
          onChange={(next) => set(index, next)}
          onOr={(next) => {
            setJoinedAt(index);
            set(index, { any: [part, next] });
          }}
        />
      )}
    </span>
  ));
}

function ClauseWord({
  clause,
  words,
  catalogue,
  first,
  onChange,
  onOr,
}: {
  clause: Clause;
  words: string;
  catalogue: Catalogue;
  first: boolean;
  onChange: (clause: Clause | null) => void;
  onOr: (clause: Clause) => void;
}) {
  const [open, setOpen] = useState(first);
  const [choosing, setChoosing] = useState(false);
  const leads = useRef(false);
  // what was typed last, even where the page has not drawn it yet
  const latest = useRef(clause);
  useEffect(() => {
    latest.current = clause;
  }, [clause]);
  const change = (next: Clause) => {
    latest.current = next;
    onChange(next);
  };
  return (
    <Pop
      label={`Clause: ${words}`}
      open={open}
      leads={leads}
      onOpenChange={(next) => {
        setOpen(next);
        setChoosing(false);
        if (!next && !whole(latest.current)) onChange(null);
      }}
      trigger={
        <button type="button" className={WORD}>
          {words}
        </button>
      }
    >
      {choosing ? (
        <FieldList
          catalogue={catalogue}
          onChoose={(column) => {
            leads.current = true;
            setOpen(false);
            setChoosing(false);
            onOr(firstClause(column));
          }}
        />
      ) : (
        <div className="w-72">
          <ClauseEditor clause={clause} catalogue={catalogue} onChange={change} />
          <div className="mt-1.5 flex gap-1 border-t border-rule pt-1.5">
            <Button look="rose" onClick={() => setChoosing(true)} disabled={!whole(clause)}>
              or …
            </Button>
            <Button
              look="quiet"
              className="ml-auto"
              onClick={() => {
                setOpen(false);
                onChange(null);
              }}
            >
              Take it out
            </Button>
          </div>
        </div>
      )}
    </Pop>
  );
}

/** Fields to ask about, narrowed by what is typed. */
export function FieldList({
  catalogue,
  onChoose,
  without = [],
  height = "",
}: {
  catalogue: Catalogue;
  onChoose: (column: CatalogueColumn) => void;
  without?: string[];
  /** of the list, where other things stand under it */
  height?: string;
}) {
  const [text, setText] = useState("");
  const wanted = text.trim().toLowerCase();
  const shown = catalogue.columns.filter(
    (one) => one.name.toLowerCase().includes(wanted) && !without.includes(one.key),
  );
  return (
    <div className="w-60">
      <input
        className="input mb-1 w-full"
        aria-label="Find a field"
        placeholder="Find a field"
        value={text}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => {
          const one = shown[0];
          if (event.key === "Enter" && one) onChoose(one);
        }}
      />
      <div className={`overflow-auto ${height}`}>
        {shown.map((one) => (
          <button
            key={one.key}
            type="button"
            title={one.help || undefined}
            className="block min-h-7 w-full px-2 text-left hover:bg-rose-soft focus-visible:bg-rose-soft"
            onClick={() => onChoose(one)}
          >
            {one.name}
          </button>
        ))}
      </div>
      {!shown.length && <p className="px-2 py-1 text-ink-2">No field is called that.</p>}
    </div>
  );
}

/** A button whose list of fields closes once one is chosen. */
export function FieldPop({
  label,
  trigger,
  catalogue,
  onChoose,
}: {
  label: string;
  trigger: React.ReactNode;
  catalogue: Catalogue;
  onChoose: (column: CatalogueColumn) => void;
}) {
  const [open, setOpen] = useState(false);
  const leads = useRef(false);
  return (
    <Pop label={label} open={open} onOpenChange={setOpen} trigger={trigger} leads={leads}>
      <FieldList
        catalogue={catalogue}
        onChoose={(column) => {
          leads.current = true;
          setOpen(false);
          onChoose(column);
        }}
      />
    </Pop>
  );
}

/** One clause: how it asks, and what for. */
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
    if (BARE.has(next)) return onChange([key, next]);
    const days = (one: string) => one === "within" || one === "past";
    const keep = value !== undefined && days(next) === days(operator);
    onChange([key, next, keep ? value : days(next) ? 7 : column.type === "date" ? "" : FIRST[column.type]?.[1]]);
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
      {!BARE.has(operator) && (
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
  return (
    <label className="flex items-center gap-2 p-1">
      <input
        ref={field}
        className="input min-w-0 flex-1"
        type={column.type === "date" && !days ? "date" : column.type === "text" ? "text" : "number"}
        step="any"
        aria-label={`Value for ${column.name}`}
        value={String(value ?? "")}
        onChange={(event) => {
          const text = event.target.value;
          onChange(column.type === "text" || (column.type === "date" && !days) || text === "" ? text : Number(text));
        }}
      />
      <span className="text-ink-2">{days ? "days" : column.unit}</span>
    </label>
  );
}
