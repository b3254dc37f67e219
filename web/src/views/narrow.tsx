/** What narrows a sentence further: dates, words of the title, flags, and clauses on any field. */
import { format, parseISO } from "date-fns";
import { useRef, useState } from "react";
import { Button, Pop, Tick } from "../parts/basics";
import { DateField } from "../parts/dates/field";
import { neverAsked } from "./conditions";
import { FieldList } from "./field-list";
import type { Scope } from "./scope";
import type { Catalogue, CatalogueColumn } from "./view";
import { Word } from "./word";

const day = (iso: string) => format(parseISO(iso), "d MMM");

export function DatesWord({ scope, change }: { scope: Scope; change: (part: Partial<Scope>) => void }) {
  if (!scope.since && !scope.until) return null;
  return (
    <span>
      {" "}
      at work{" "}
      <Word label="Dates shown" chooser={<DatesChooser scope={scope} change={change} />}>
        {scope.since && scope.until
          ? `between ${day(scope.since)} and ${day(scope.until)}`
          : scope.since
            ? `from ${day(scope.since)}`
            : `until ${day(scope.until ?? "")}`}
      </Word>
    </span>
  );
}

function DatesChooser({ scope, change }: { scope: Scope; change: (part: Partial<Scope>) => void }) {
  return (
    <div className="grid w-56 gap-2 p-1.5">
      <div>
        <span className="label">From</span>
        <DateField
          label="From"
          className="w-full"
          value={scope.since ?? ""}
          onChange={(day) => change({ since: day || null })}
        />
      </div>
      <div>
        <span className="label">Until</span>
        <DateField
          label="Until"
          className="w-full"
          value={scope.until ?? ""}
          onChange={(day) => change({ until: day || null })}
        />
      </div>
      <Button look="quiet" onClick={() => change({ since: null, until: null })}>
        Any dates
      </Button>
    </div>
  );
}

export function TextClause({ scope, change }: { scope: Scope; change: (part: Partial<Scope>) => void }) {
  if (!scope.text) return null;
  return (
    <span>
      {" "}
      that speaks of{" "}
      <Word label="Words shown" chooser={<TextChooser scope={scope} change={change} />}>
        “{scope.text}”
      </Word>
    </span>
  );
}

function TextChooser({ scope, change }: { scope: Scope; change: (part: Partial<Scope>) => void }) {
  return (
    <input
      className="input w-56"
      aria-label="Words in the title"
      placeholder="Words in the title"
      value={scope.text}
      onChange={(event) => change({ text: event.target.value })}
    />
  );
}

export const FLAGS = [
  ["late", "late"],
  ["unowned", "without an owner"],
  ["held", "held"],
] as const;

export function Narrow({
  scope,
  change,
  catalogue,
  add,
}: {
  scope: Scope;
  change: (part: Partial<Scope>) => void;
  catalogue: Catalogue | undefined;
  add: (column: CatalogueColumn) => void;
}) {
  const [open, setOpen] = useState(false);
  const leads = useRef(false);
  return (
    <Pop
      label="Narrow what is shown"
      leads={leads}
      open={open}
      onOpenChange={setOpen}
      trigger={
        <button type="button" className="font-[550] text-rose hover:underline">
          + narrow
        </button>
      }
    >
      <div className="w-60">
        {FLAGS.map(([name, words]) => (
          <Tick key={name} checked={scope[name]} onChange={(on) => change({ [name]: on })}>
            only {words}
          </Tick>
        ))}
        <p className="px-2 pt-2 text-[12px] text-ink-3">words in the title</p>
        <div className="px-1.5">
          <TextChooser scope={scope} change={change} />
        </div>
        {catalogue && (
          <>
            <p className="px-2 pt-2 text-[12px] text-ink-3">by any field</p>
            <FieldList
              height="max-h-44"
              catalogue={catalogue}
              without={neverAsked(catalogue)}
              onChoose={(column) => {
                leads.current = true;
                setOpen(false);
                add(column);
              }}
            />
          </>
        )}
        <p className="px-2 pt-2 text-[12px] text-ink-3">at work in a span of time</p>
        <DatesChooser scope={scope} change={change} />
      </div>
    </Pop>
  );
}
