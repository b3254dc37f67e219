/** The scope sentence: says in words which work is shown; each dotted word opens a small chooser. */
import { format, parseISO } from "date-fns";
import { type ReactNode, useEffect, useRef, useState } from "react";
import type { ScopeAnswer } from "../data/api";
import { useMe, usePeople, useTeams } from "../data/hooks";
import { Button, Pop, Tick } from "../parts/basics";
import { KINDS } from "../parts/choosers";
import { DateField } from "../parts/dates/field";
import { count } from "../parts/format";
import { Tile } from "../parts/tile";
import { kindName } from "../tasks/custom-fields";
import { ClauseWords, FieldList } from "./clauses";
import { asked, firstClause, partsOf, readWhere, writeWhere } from "./conditions";
import { type Scope, useScope } from "./scope";
import { type Catalogue, type CatalogueColumn, type Ground, type Group, useCatalogue } from "./view";

export const WORD =
  "border-b-[1.5px] border-dotted border-rose pb-px font-[550] text-ink hover:bg-rose-soft data-[state=open]:bg-rose-soft";

const CLASSES = ["queued", "active", "finished", "dropped"] as const;
const PLURAL: Record<string, string> = {
  task: "tasks",
  milestone: "milestones",
  deliverable: "deliverables",
  defect: "defects",
  risk: "risks",
  request: "requests",
};

const listed = (words: string[]) =>
  words.length > 1 ? `${words.slice(0, -1).join(", ")} or ${words.at(-1)}` : (words[0] ?? "");

function toggle(list: string[], value: string, on: boolean) {
  return on ? [...list, value] : list.filter((one) => one !== value);
}

export function Word({
  label,
  children,
  chooser,
  className = "",
}: {
  label: string;
  children: ReactNode;
  chooser: ReactNode;
  className?: string;
}) {
  return (
    <Pop
      label={label}
      className={className}
      trigger={
        <button type="button" className={WORD}>
          {children}
        </button>
      }
    >
      {chooser}
    </Pop>
  );
}

function KindWord({
  scope,
  change,
  project,
}: {
  scope: Scope;
  change: (part: Partial<Scope>) => void;
  project: Ground;
}) {
  const said = scope.kind.length
    ? listed(scope.kind.map((kind) => PLURAL[kind] ?? kindName(project, kind)))
    : "all work";
  return (
    <Word
      label="Kinds shown"
      chooser={
        <>
          <Tick checked={!scope.kind.length} onChange={() => change({ kind: [] })}>
            all work
          </Tick>
          {KINDS.map((kind) => (
            <Tick
              key={kind}
              checked={scope.kind.includes(kind)}
              onChange={(on) => change({ kind: toggle(scope.kind, kind, on) })}
            >
              {PLURAL[kind]}
            </Tick>
          ))}
          {project.kinds.map((kind) => (
            <Tick
              key={kind.id}
              checked={scope.kind.includes(kind.id)}
              onChange={(on) => change({ kind: toggle(scope.kind, kind.id, on) })}
            >
              {kind.name}
            </Tick>
          ))}
        </>
      }
    >
      {said}
    </Word>
  );
}

function OwnerWord({
  scope,
  change,
  project,
}: {
  scope: Scope;
  change: (part: Partial<Scope>) => void;
  project: Ground;
}) {
  const me = useMe();
  const { active, byId } = usePeople();
  const teams = useTeams();
  const words = new Map([
    ["me", "me"],
    ["my_team", "my team"],
    ["nobody", "nobody"],
    ...teams.map((team): [string, string] => [team.id, team.name]),
  ]);
  const name = (id: string) => words.get(id) ?? byId.get(id)?.short ?? "somebody";
  const inTeam = teams.some((team) => team.people.includes(me.person.id));
  const members = active
    .filter((person) => person.id !== me.person.id)
    .sort((a, b) => Number(b.id in project.members) - Number(a.id in project.members) || a.name.localeCompare(b.name));
  return (
    <Word
      label="Owners shown"
      chooser={
        <>
          <Tick checked={!scope.owner.length} onChange={() => change({ owner: [] })}>
            anyone
          </Tick>
          {[...words]
            .filter(([id]) => id !== "my_team" || inTeam)
            .map(([id, word]) => (
              <Tick
                key={id}
                checked={scope.owner.includes(id)}
                onChange={(on) => change({ owner: toggle(scope.owner, id, on) })}
              >
                {word}
              </Tick>
            ))}
          {members.map((person) => (
            <Tick
              key={person.id}
              checked={scope.owner.includes(person.id)}
              onChange={(on) => change({ owner: toggle(scope.owner, person.id, on) })}
            >
              <Tile person={person} size={18} label={false} /> {person.name}
            </Tick>
          ))}
        </>
      }
    >
      {scope.owner.length ? listed(scope.owner.map(name)) : "anyone"}
    </Word>
  );
}

function StateWord({
  scope,
  change,
  project,
}: {
  scope: Scope;
  change: (part: Partial<Scope>) => void;
  project: Ground;
}) {
  const open =
    scope.state_class.length === 2 && scope.state_class.includes("queued") && scope.state_class.includes("active");
  const names = scope.state.map((id) => project.states.find((state) => state.id === id)?.name ?? "a deleted state");
  const said = open && !names.length ? "not finished" : listed([...scope.state_class, ...names]) || "in any state";
  return (
    <Word
      label="States shown"
      chooser={
        <>
          <Tick
            checked={!scope.state.length && !scope.state_class.length}
            onChange={() => change({ state: [], state_class: [] })}
          >
            in any state
          </Tick>
          <Tick checked={open} onChange={(on) => change({ state: [], state_class: on ? ["queued", "active"] : [] })}>
            not finished
          </Tick>
          <p className="px-2 pt-1.5 text-[12px] text-ink-3">by class</p>
          {CLASSES.map((one) => (
            <Tick
              key={one}
              checked={scope.state_class.includes(one)}
              onChange={(on) => change({ state: [], state_class: toggle(scope.state_class, one, on) })}
            >
              {one}
            </Tick>
          ))}
          {project.states.length > 0 && <p className="px-2 pt-1.5 text-[12px] text-ink-3">by state</p>}
          {project.states.map((state) => (
            <Tick
              key={state.id}
              checked={scope.state.includes(state.id)}
              onChange={(on) => change({ state_class: [], state: toggle(scope.state, state.id, on) })}
            >
              {state.name}
            </Tick>
          ))}
        </>
      }
    >
      {said}
    </Word>
  );
}

const day = (iso: string) => format(parseISO(iso), "d MMM");

function DatesWord({ scope, change }: { scope: Scope; change: (part: Partial<Scope>) => void }) {
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

function TextClause({ scope, change }: { scope: Scope; change: (part: Partial<Scope>) => void }) {
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

const FLAGS = [
  ["late", "late"],
  ["unowned", "without an owner"],
  ["held", "held"],
] as const;

function Narrow({
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

/** Everything that a sentence can narrow, taken back. */
export const WIDE: Scope = {
  kind: [],
  owner: [],
  state: [],
  state_class: [],
  text: "",
  since: null,
  until: null,
  late: false,
  unowned: false,
  held: false,
  where: "",
};

export function ScopeSentence({
  project,
  answer,
  children,
  end,
  arrange,
}: {
  project: Ground;
  answer: Pick<ScopeAnswer, "shown" | "total" | "late" | "unowned" | "held"> | undefined;
  children?: ReactNode;
  /** a way to group and sort */
  arrange?: ReactNode;
  /** what stands behind the counts */
  end?: ReactNode;
}) {
  const [scope, change] = useScope();
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
      className="flex flex-none flex-wrap items-baseline gap-x-1.5 gap-y-1 px-3 pb-2.5 text-[13.5px] text-ink-2 sm:px-[18px]"
      role="search"
      aria-label="What is shown"
    >
      <span>
        Showing <KindWord scope={scope} change={change} project={project} /> held by{" "}
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
          setWhere({ all: [...parts, firstClause(column)] });
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
