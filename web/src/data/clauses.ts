/** The form in which addresses, sheets and tints keep conditions. */

/** A clause: field, operator, and what it is held against. */
export type Clause = [key: string, operator: string, value?: unknown];
/** Clauses and groups of them, all or any of which must hold. */
export type Group = { all: (Clause | Group)[] } | { any: (Clause | Group)[] };
