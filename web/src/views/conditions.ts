/** Conditions as the address and sheets keep them; `core/views/conditions.py` reads the same. */
import type { CatalogueColumn, Clause, Group } from "./view";

/** Operators that need no value. */
export const BARE = new Set(["empty", "filled", "yes", "no", "before_today", "this_week", "next_week", "this_month"]);
export const FIRST: Record<string, [operator: string, value?: unknown]> = {
  text: ["contains", ""],
  number: ["least", 1],
  date: ["within", 7],
  yes_no: ["yes"],
  one_of: ["any", []],
  several_of: ["any", []],
};

export const isGroup = (part: Clause | Group): part is Group => !Array.isArray(part);
export const partsOf = (group: Group) => ("any" in group ? group.any : group.all);
export const joined = (group: Group, parts: (Clause | Group)[]): Group =>
  "any" in group ? { any: parts } : { all: parts };

/** True for a clause that can be asked: it has its value. */
export const whole = (clause: Clause) => {
  const [, operator, value] = clause;
  return BARE.has(operator) || !(value === undefined || value === "" || (Array.isArray(value) && !value.length));
};

/** A condition without the clauses that are not finished yet. */
export function asked(group: Group): Group {
  const kept = partsOf(group)
    .map((part) => (isGroup(part) ? asked(part) : part))
    .filter((part) => (isGroup(part) ? partsOf(part).length > 0 : whole(part)));
  return joined(group, kept);
}

export function readWhere(text: string): Group {
  try {
    return text ? (JSON.parse(text) as Group) : { all: [] };
  } catch {
    return { all: [] };
  }
}

export const writeWhere = (group: Group) => (partsOf(group).length ? JSON.stringify(group) : "");

/** A first clause on a field. */
export const firstClause = (column: CatalogueColumn): Clause => {
  const [operator, value] = FIRST[column.type] ?? ["filled"];
  return value === undefined ? [column.key, operator] : [column.key, operator, value];
};
