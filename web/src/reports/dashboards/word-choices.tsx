/** Dotted words of a panel’s sentence behind which there is one of a few, a number, or a field. */
import type { ReactNode } from "react";
import { Tick } from "../../parts/basics";
import { FieldList } from "../../views/field-list";
import type { Catalogue } from "../../views/view";
import { Word } from "../../views/word";
import type { Options } from "./dashboards";

export type Change = (part: Partial<Options>) => void;
export interface Parts {
  options: Options;
  change: Change;
  catalogue: Catalogue;
}

export function ChoiceWord<T extends string>({
  label,
  choices,
  value,
  set,
}: {
  label: string;
  choices: [T, string][];
  value: T;
  set: (value: T) => void;
}) {
  return (
    <Word
      label={label}
      chooser={choices.map(([id, words]) => (
        <Tick key={id} checked={id === value} onChange={() => set(id)}>
          {words}
        </Tick>
      ))}
    >
      {choices.find(([id]) => id === value)?.[1] ?? value}
    </Word>
  );
}

export function NumberWord({
  label,
  value,
  least = 1,
  most,
  set,
}: {
  label: string;
  value: number;
  least?: number;
  most: number;
  set: (value: number) => void;
}) {
  return (
    <Word
      label={label}
      chooser={
        <input
          className="input w-24"
          type="number"
          aria-label={label}
          min={least}
          max={most}
          defaultValue={value}
          onChange={(event) => {
            const number = Number(event.target.value);
            if (Number.isInteger(number) && number >= least && number <= most) set(number);
          }}
        />
      }
    >
      {value}
    </Word>
  );
}

/** A field to choose, of one sort where only that can be. */
export function FieldWord({
  label,
  value,
  set,
  catalogue,
  only,
  also,
}: Parts & { label: string; value: string; set: (key: string) => void; only?: "number"; also?: ReactNode }) {
  const left = { ...catalogue, columns: catalogue.columns.filter((one) => !only || one.type === only) };
  return (
    <Word
      label={label}
      chooser={
        <>
          <FieldList catalogue={left} onChoose={(column) => set(column.key)} height="max-h-56" />
          {also}
        </>
      }
    >
      {nameOf(catalogue, value) ?? "a number …"}
    </Word>
  );
}

export const nameOf = (catalogue: Catalogue, key: string | undefined) =>
  catalogue.columns.find((one) => one.key === key)?.name.toLowerCase();
