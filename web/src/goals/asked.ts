/** Which goals are shown: a sentence that stands in the address, so that it can be kept as a sheet and sent. */
import { endOfQuarter, endOfYear, format, getMonth, startOfQuarter, startOfYear } from "date-fns";
import { useCallback } from "react";
import { useSearchParams } from "react-router";
import type { Goal } from "./goals";

export const PERIODS = [
  ["", "any time"],
  ["this_quarter", "this quarter"],
  ["this_half", "this half"],
  ["this_year", "this year"],
] as const;
export const STATES = [
  ["", "open"],
  ["closed", "closed"],
  ["any", "open or closed"],
] as const;
export const HEALTHS = [
  ["steady", "steady"],
  ["strained", "strained"],
  ["slipping", "slipping"],
  ["none", "not judged yet"],
  ["due", "waiting for an update"],
] as const;

export interface Asked {
  /** ids of owners, or “me”; none: everybody */
  who: string[];
  /** ids of teams to whom goals belong */
  teams: string[];
  period: (typeof PERIODS)[number][0];
  state: (typeof STATES)[number][0];
  health: string[];
}

const list = (text: string | null) => (text ? text.split(",").filter(Boolean) : []);
const oneOf = <T extends string>(choices: readonly (readonly [T, string])[], text: string | null): T =>
  (choices.find(([one]) => one === text)?.[0] ?? choices[0]?.[0]) as T;

const read = (params: URLSearchParams): Asked => ({
  who: list(params.get("who")),
  teams: list(params.get("teams")),
  period: oneOf(PERIODS, params.get("period")),
  state: oneOf(STATES, params.get("state")),
  health: list(params.get("health")),
});

export function useAsked(): [Asked, (next: Partial<Asked>) => void] {
  const [params, setParams] = useSearchParams();
  const change = useCallback(
    (next: Partial<Asked>) =>
      setParams(
        (before) => {
          const after = new URLSearchParams(before);
          for (const [name, value] of Object.entries({ ...read(before), ...next })) {
            const text = Array.isArray(value) ? value.join(",") : value;
            if (text) after.set(name, text);
            else after.delete(name);
          }
          return after;
        },
        { replace: true },
      ),
    [setParams],
  );
  return [read(params), change];
}

const iso = (day: Date) => format(day, "yyyy-MM-dd");

/** The days of a period, seen from today; null for any time. */
export function daysOf(period: Asked["period"], now: Date): [string, string] | null {
  if (period === "this_year") return [iso(startOfYear(now)), iso(endOfYear(now))];
  if (period === "this_quarter") return [iso(startOfQuarter(now)), iso(endOfQuarter(now))];
  if (period !== "this_half") return null;
  const year = now.getFullYear();
  return getMonth(now) < 6 ? [`${year}-01-01`, `${year}-06-30`] : [`${year}-07-01`, `${year}-12-31`];
}

/** Whether a goal is among those that a sentence asks for. A period asks for what touches it. */
export function isAsked(asked: Asked, goal: Goal, me: string, now: Date): boolean {
  const days = daysOf(asked.period, now);
  const health = goal.is_due ? ["due"] : [];
  return (
    (asked.state === "any" || (goal.outcome !== null) === (asked.state === "closed")) &&
    (!asked.who.length || asked.who.some((one) => goal.owner_id === (one === "me" ? me : one))) &&
    (!asked.teams.length || (goal.belongs === "team" && asked.teams.includes(goal.whose ?? ""))) &&
    (!days || (goal.first <= days[1] && goal.last >= days[0])) &&
    (!asked.health.length || [goal.how.health ?? "none", ...health].some((one) => asked.health.includes(one)))
  );
}

export interface Branch {
  goal: Goal;
  level: number;
  below: number;
}

/** Goals in the order of their tree, each with how deep it stands; what stands below a folded one is left out. */
export function asTree(goals: Goal[], folded: ReadonlySet<string>): Branch[] {
  const shown = new Map(goals.map((one) => [one.id, one]));
  const below = new Map<string | null, Goal[]>();
  for (const one of goals) {
    const parent = one.parent_id && shown.has(one.parent_id) ? one.parent_id : null;
    const beside = below.get(parent);
    if (beside) beside.push(one);
    else below.set(parent, [one]);
  }
  const found: Branch[] = [];
  const walk = (parent: string | null, level: number) => {
    for (const goal of below.get(parent) ?? []) {
      found.push({ goal, level, below: below.get(goal.id)?.length ?? 0 });
      if (!folded.has(goal.id)) walk(goal.id, level + 1);
    }
  };
  walk(null, 1);
  return found;
}
