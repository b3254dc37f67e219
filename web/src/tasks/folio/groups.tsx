/** The facts of a task in groups that fold; those that are empty wait behind “+ add a field”. */
import { Fragment, type ReactNode, useRef, useState } from "react";
import { Menu, MenuItem } from "../../parts/basics";

const GROUPS = ["When", "Who", "How much", "Own fields", "Besides"] as const;

export interface Fact {
  /** of one that can be added, its name */
  key: string;
  /** none for what stands on top of all groups */
  group?: (typeof GROUPS)[number];
  node: ReactNode;
  /** a task of this sort has no such fact */
  not?: boolean;
  empty?: boolean;
}

const FOLDED = "rhodonite.folio.folded";

function readFolded(): string[] {
  try {
    return JSON.parse(localStorage.getItem(FOLDED) ?? "[]");
  } catch {
    return [];
  }
}

export function Groups({ facts, canAdd }: { facts: Fact[]; canAdd: boolean }) {
  const [folded, setFolded] = useState(readFolded);
  const [added, setAdded] = useState<string[]>([]);
  const list = useRef<HTMLDivElement>(null);
  const wanted = useRef<string | null>(null);
  /** What was added has the focus once the menu has closed. */
  const focusAdded = (event: Event) => {
    const facts = [...(list.current?.querySelectorAll<HTMLElement>("[data-fact]") ?? [])];
    const fact = facts.find((one) => one.dataset.fact === wanted.current);
    wanted.current = null;
    if (!fact) return;
    event.preventDefault();
    fact.querySelector<HTMLElement>("dd input, dd button")?.focus();
  };
  const there = facts.filter((one) => !one.not);
  const shown = there.filter((one) => !one.empty || added.includes(one.key));
  const missing = there.filter((one) => one.empty && !added.includes(one.key));
  const fold = (name: string) => {
    const next = folded.includes(name) ? folded.filter((one) => one !== name) : [...folded, name];
    setFolded(next);
    localStorage.setItem(FOLDED, JSON.stringify(next));
  };
  const add = (fact: Fact) => {
    wanted.current = fact.key;
    setAdded((now) => [...now, fact.key]);
    if (fact.group && folded.includes(fact.group)) fold(fact.group);
  };
  return (
    <div ref={list} className="border-t border-rule-2">
      <List facts={shown.filter((one) => !one.group)} />
      {GROUPS.map((name) => {
        const here = shown.filter((one) => one.group === name);
        if (!here.length) return null;
        const open = !folded.includes(name);
        return (
          <section key={name} aria-label={name}>
            <button
              type="button"
              aria-expanded={open}
              className="flex h-7 w-full items-end gap-1 border-b border-rule-2 pb-0.5 text-[12px] font-semibold hover:text-rose"
              onClick={() => fold(name)}
            >
              {name} <span aria-hidden="true">{open ? "▾" : "▸"}</span>
            </button>
            {open && <List facts={here} />}
          </section>
        );
      })}
      {canAdd && missing.length > 0 && (
        <Menu
          onCloseAutoFocus={focusAdded}
          trigger={
            <button type="button" className="mt-1 min-h-7 text-rose hover:underline">
              + add a field
            </button>
          }
        >
          {missing.map((one) => (
            <MenuItem key={one.key} onSelect={() => add(one)}>
              {one.key}
            </MenuItem>
          ))}
        </Menu>
      )}
    </div>
  );
}

const List = ({ facts }: { facts: Fact[] }) => (
  <dl className="grid grid-cols-2 gap-x-4">
    {facts.map((one) => (
      <Fragment key={one.key}>{one.node}</Fragment>
    ))}
  </dl>
);
