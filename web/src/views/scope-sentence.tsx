/** The scope sentence: says in words which work is shown; each dotted word opens a small chooser. */
import { type ReactNode, useEffect, useState } from "react";
import type { ScopeAnswer } from "../data/api";
import { count } from "../parts/format";
import { ClauseWords } from "./clauses";
import { asked, firstClause, partsOf, readWhere, writeWhere } from "./conditions";
import { DatesWord, FLAGS, Narrow, TextClause } from "./narrow";
import { type Scope, useScope, WIDE } from "./scope";
import { type Ground, type Group, useCatalogue } from "./view";
import { KindWord, OwnerWord, StateWord } from "./who-and-what";
import { WORD } from "./word";

export function ScopeSentence({
  project,
  answer,
  children,
  end,
  arrange,
  held,
  lead = "Showing",
  label = "What is shown",
  className = "px-3 pb-2.5 sm:px-[18px]",
}: {
  project: Ground;
  answer?: Pick<ScopeAnswer, "shown" | "total" | "late" | "unowned" | "held">;
  /** where the sentence is kept, if not in the address */
  held?: [Scope, (part: Partial<Scope>) => void];
  /** how it begins */
  lead?: string;
  label?: string;
  className?: string;
  children?: ReactNode;
  /** a way to group and sort */
  arrange?: ReactNode;
  /** what stands behind the counts */
  end?: ReactNode;
}) {
  const inAddress = useScope();
  const [scope, change] = held ?? inAddress;
  const catalogue = useCatalogue(project.code);
  const [fresh, setFresh] = useState<number>();
  // what was chosen last: a clause that is not finished yet stands here alone, and the address follows a moment later
  const [chosen, setChosen] = useState<{ group: Group; where: string; before: string } | null>(null);
  const mine = chosen && (scope.where === chosen.where || scope.where === chosen.before);
  const shown = mine ? chosen.group : readWhere(scope.where);
  useEffect(() => {
    // once the address has followed, what stood there before is of no account
    setChosen((now) => (now && now.where === scope.where ? { ...now, before: now.where } : now));
  }, [scope.where]);
  function setWhere(group: Group) {
    const where = writeWhere(asked(group));
    setChosen({ group, where, before: scope.where });
    if (where !== scope.where) change({ where });
  }
  const flags = FLAGS.filter(([name]) => scope[name]);
  const narrowed = JSON.stringify(scope) !== JSON.stringify(WIDE);
  return (
    <div
      className={`flex flex-none flex-wrap items-baseline gap-x-1.5 gap-y-1 text-[13.5px] text-ink-2 ${className}`}
      role="search"
      aria-label={label}
    >
      <span>
        {lead} <KindWord scope={scope} change={change} project={project} /> held by{" "}
        <OwnerWord scope={scope} change={change} project={project} /> that is{" "}
        <StateWord scope={scope} change={change} project={project} />
        {flags.map(([name, words]) => (
          <span key={name}>
            , only{" "}
            <button
              type="button"
              className={WORD}
              title="Take this clause out"
              onClick={() => change({ [name]: false })}
            >
              {words}
            </button>
          </span>
        ))}
        <TextClause scope={scope} change={change} />
        <DatesWord scope={scope} change={change} />
        {catalogue.data && (
          <ClauseWords
            code={project.code}
            group={shown}
            catalogue={catalogue.data}
            fresh={fresh}
            onChange={(group) => {
              setFresh(undefined);
              setWhere(group);
            }}
          />
        )}
        {children}
      </span>
      <Narrow
        scope={scope}
        change={change}
        catalogue={catalogue.data}
        add={(column) => {
          const parts = partsOf(shown);
          setFresh(parts.length);
          if (catalogue.data) setWhere({ all: [...parts, firstClause(column, catalogue.data)] });
        }}
      />
      {arrange}
      {narrowed && (
        <button
          type="button"
          className="text-ink-2 underline decoration-rule-2 hover:text-ink"
          onClick={() => {
            setChosen(null);
            change(WIDE);
          }}
        >
          show all
        </button>
      )}
      {answer && (
        <span className="ml-auto text-[12.5px]" aria-live="polite">
          {answer.shown === answer.total
            ? count(answer.total, "task")
            : `${answer.shown.toLocaleString("en")} of ${count(answer.total, "task")}`}
          {answer.late > 0 && (
            <>
              {" · "}
              <button
                type="button"
                className="font-semibold text-ember hover:underline"
                onClick={() => change({ late: !scope.late })}
              >
                {answer.late} late
              </button>
            </>
          )}
          {answer.unowned > 0 && (
            <>
              {" · "}
              <button type="button" className="hover:underline" onClick={() => change({ unowned: !scope.unowned })}>
                {answer.unowned} without an owner
              </button>
            </>
          )}
          {answer.held > 0 && (
            <>
              {" · "}
              <button type="button" className="hover:underline" onClick={() => change({ held: !scope.held })}>
                {answer.held} held
              </button>
            </>
          )}
          {end && <> · {end}</>}
        </span>
      )}
    </div>
  );
}
