/** The scope sentence, kept in the address so that a link can be sent. */
import { useCallback, useMemo } from "react";
import { useSearchParams } from "react-router";

export interface Scope {
  kind: string[];
  owner: string[];
  state: string[];
  state_class: string[];
  text: string;
  since: string | null;
  until: string | null;
  late: boolean;
  unowned: boolean;
  held: boolean;
  /** further clauses over any field, as JSON; empty for none */
  where: string;
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

const LISTS = ["kind", "owner", "state", "state_class"] as const;
const FLAGS = ["late", "unowned", "held"] as const;

export function readScope(params: URLSearchParams): Scope {
  return {
    kind: params.getAll("kind"),
    owner: params.getAll("owner"),
    state: params.getAll("state"),
    state_class: params.getAll("state_class"),
    text: params.get("text") ?? "",
    since: params.get("since"),
    until: params.get("until"),
    late: params.get("late") === "1",
    unowned: params.get("unowned") === "1",
    held: params.get("held") === "1",
    where: params.get("where") ?? "",
  };
}

export function writeScope(params: URLSearchParams, scope: Scope): URLSearchParams {
  const next = new URLSearchParams(params);
  for (const name of LISTS) {
    next.delete(name);
    for (const value of scope[name]) next.append(name, value);
  }
  for (const name of ["text", "since", "until", "where"] as const) {
    const value = scope[name];
    if (value) next.set(name, value);
    else next.delete(name);
  }
  for (const name of FLAGS) {
    if (scope[name]) next.set(name, "1");
    else next.delete(name);
  }
  return next;
}

/** The scope as the API takes it. */
export function scopeQuery(scope: Scope) {
  return {
    kind: scope.kind,
    owner: scope.owner,
    state: scope.state,
    state_class: scope.state_class,
    text: scope.text || undefined,
    since: scope.since ?? undefined,
    until: scope.until ?? undefined,
    late: scope.late || undefined,
    unowned: scope.unowned || undefined,
    held: scope.held || undefined,
    where: scope.where || undefined,
  };
}

/** The scope, the view and the draft: what stays when the lens changes. */
export function keptParams(params: URLSearchParams): string {
  const kept = writeScope(new URLSearchParams(), readScope(params));
  for (const name of ["draft", "view"]) {
    const value = params.get(name);
    if (value) kept.set(name, value);
  }
  const text = kept.toString();
  return text ? `?${text}` : "";
}

export function useScope(): [Scope, (change: Partial<Scope>) => void] {
  const [params, setParams] = useSearchParams();
  const key = params.toString();
  // biome-ignore lint/correctness/useExhaustiveDependencies: the text of the parameters is what changes
  const scope = useMemo(() => readScope(params), [key]);
  const change = useCallback(
    (part: Partial<Scope>) => setParams((now) => writeScope(now, { ...readScope(now), ...part }), { replace: true }),
    [setParams],
  );
  return [scope, change];
}
