/** Conditions as the address and sheets keep them; `core/views/conditions.py` reads the same. */
import type { Catalogue, CatalogueColumn, Clause, Group } from "./view";

export const isGroup = (part: Clause | Group): part is Group => !Array.isArray(part);
export const partsOf = (group: Group) => ("any" in group ? group.any : group.all);
export const joined = (group: Group, parts: (Clause | Group)[]): Group =>
  "any" in group ? { any: parts } : { all: parts };

/** True for a clause that can be asked: it has its value, or an operator that has none. */
export const whole = ([, , ...value]: Clause) =>
  value.every((one) => !(one === undefined || one === null || one === "" || (Array.isArray(one) && !one.length)));

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

/** A first clause on a field, as the server begins one on a field of its type. */
export const firstClause = (column: CatalogueColumn, catalogue: Catalogue): Clause =>
  [column.key, ...(catalogue.first[column.type] ?? [])] as Clause;

/** The fields that a sentence cannot ask for. */
export const neverAsked = (catalogue: Catalogue) => catalogue.columns.filter((one) => !one.asked).map((one) => one.key);
