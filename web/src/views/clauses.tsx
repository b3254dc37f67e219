/** Clauses over any field: read as words in the sentence, changed in a small chooser. Tints are made of the same. */
import { useEffect, useRef, useState } from "react";
import { Button, Pop } from "../parts/basics";
import { ClauseEditor } from "./clause-editor";
import { asked, firstClause, isGroup, joined, neverAsked, partsOf, whole, writeWhere } from "./conditions";
import { FieldList } from "./field-list";
import type { Catalogue, Clause, Group } from "./view";
import { useClauseWords } from "./view";
import { WORD } from "./word";

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
          without={neverAsked(catalogue)}
          onChoose={(column) => {
            leads.current = true;
            setOpen(false);
            setChoosing(false);
            onOr(firstClause(column, catalogue));
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
