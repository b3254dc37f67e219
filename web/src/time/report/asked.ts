/** What a report of time asks for, and how it stands in the address, so that it can be kept as a sheet and sent. */
import {
  addMonths,
  endOfMonth,
  endOfWeek,
  endOfYear,
  format,
  startOfMonth,
  startOfWeek,
  startOfYear,
  subWeeks,
} from "date-fns";
import { useCallback } from "react";
import { useSearchParams } from "react-router";
import type { Schemas } from "../../data/api";

export type By = Schemas["ReportOut"]["by"][number];

export const BYS: readonly (readonly [By, string])[] = [
  ["person", "person"],
  ["project", "project"],
  ["task", "task"],
  ["kind", "kind of task"],
  ["day", "day"],
  ["week", "week"],
  ["month", "month"],
  ["billable", "whether charged"],
];
export const PERIODS = [
  ["this_week", "this week"],
  ["last_week", "last week"],
  ["this_month", "this month"],
  ["last_month", "last month"],
  ["this_year", "this year"],
] as const;
export type Period = (typeof PERIODS)[number][0] | "own";

export interface Asked {
  by: By[];
  /** ids of people; none: everybody */
  who: string[];
  /** codes; none: every project */
  projects: string[];
  charged: "" | "yes" | "no";
  period: Period;
  first: string;
  last: string;
}

const iso = (day: Date) => format(day, "yyyy-MM-dd");
const MONDAY = { weekStartsOn: 1 } as const;

/** The days of a period, seen from today. */
function daysOf(period: Period, now: Date): [Date, Date] {
  const month = period === "last_month" ? addMonths(now, -1) : now;
  const week = period === "last_week" ? subWeeks(now, 1) : now;
  if (period === "this_week" || period === "last_week") return [startOfWeek(week, MONDAY), endOfWeek(week, MONDAY)];
  if (period === "this_year") return [startOfYear(now), endOfYear(now)];
  return [startOfMonth(month), endOfMonth(month)];
}

const list = (text: string | null) => (text ? text.split(",").filter(Boolean) : []);

function read(params: URLSearchParams, now: Date): Asked {
  const known = new Set(BYS.map(([by]) => by as string));
  const by = list(params.get("by")).filter((one) => known.has(one)) as By[];
  const from = params.get("from");
  const to = params.get("to");
  const period = from && to ? "own" : ((params.get("period") as Period | null) ?? "this_month");
  const [first, last] = daysOf(period, now).map(iso);
  const charged = params.get("charged");
  return {
    by: by.length ? by.slice(0, 3) : ["project", "person"],
    who: list(params.get("who")),
    projects: list(params.get("projects")),
    charged: charged === "yes" || charged === "no" ? charged : "",
    period,
    first: from && to ? from : (first ?? ""),
    last: from && to ? to : (last ?? ""),
  };
}

export function useAsked(now: Date): [Asked, (next: Partial<Asked>) => void] {
  const [params, setParams] = useSearchParams();
  const asked = read(params, now);
  const change = useCallback(
    (next: Partial<Asked>) =>
      setParams(
        (before) => {
          const all = { ...read(before, now), ...next };
          const after = new URLSearchParams(before);
          const own = all.period === "own";
          const values = {
            by: all.by.join(","),
            who: all.who.join(","),
            projects: all.projects.join(","),
            charged: all.charged,
            period: own ? "" : all.period,
            from: own ? all.first : "",
            to: own ? all.last : "",
          };
          for (const [name, value] of Object.entries(values)) {
            if (value) after.set(name, value);
            else after.delete(name);
          }
          return after;
        },
        { replace: true },
      ),
    [setParams, now],
  );
  return [asked, change];
}

/** As the API takes it. */
export const queryOf = (asked: Asked) => ({
  first: asked.first,
  last: asked.last,
  by: asked.by,
  people: asked.who,
  projects: asked.projects,
  billable: asked.charged ? asked.charged === "yes" : undefined,
});
