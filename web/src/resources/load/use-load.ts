/** What the load lens asks for, and how it is kept in the address: days, columns, and what is counted. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { addDays, addMonths, addWeeks, format, parseISO, startOfMonth, startOfWeek } from "date-fns";
import { useCallback } from "react";
import { useSearchParams } from "react-router";
import { ask, client, type Schemas } from "../../data/api";
import { draftHere } from "../../data/draft-here";
import { allKey } from "../../data/keys";
import { sayHours } from "../../parts/format";
import { sayAmount } from "../bookings";

export type Load = Schemas["LoadOut"];
export type Line = Schemas["LoadLineOut"];
export type Cell = Schemas["CellOut"];
export type By = "day" | "week" | "month";

export interface Asked {
  first: string;
  by: By;
  count: "hours" | "tasks";
  /** of a project's people: this project alone, or every project */
  everywhere: boolean;
  /** the name of the only team that is shown */
  team: string | null;
  /** only who is over */
  over: boolean;
}

/** All that lies on a line in one of its columns. */
export const total = (line: Line, column: number) =>
  Object.values(line.bands).reduce((sum, band) => sum + (band[column] ?? 0), line.other[column] ?? 0);

/** Whether a line has a capacity: hours that nobody has and materials have none. */
export const hasCapacity = (line: Line) => line.kind === "person" || line.kind === "resource";

/** What lies on a line: hours, or of a material its units. */
export const sayOn = (line: Line, value: number) =>
  line.kind === "material" ? `${sayAmount("material", value)} ${line.unit}` : sayHours(value);

export const iso = (day: Date) => format(day, "yyyy-MM-dd");

const begin = (day: Date, by: By) => (by === "month" ? startOfMonth(day) : startOfWeek(day, { weekStartsOn: 1 }));

/** So many columns on from a day, or back. */
export function step(day: Date, by: By, columns: number): Date {
  return by === "day" ? addDays(day, columns) : by === "week" ? addWeeks(day, columns) : addMonths(day, columns);
}

const one = <T extends string>(text: string | null, of: readonly T[]): T =>
  of.find((each) => each === text) ?? (of[0] as T);

export function useAsked(now: Date) {
  const [params, setParams] = useSearchParams();
  const by = one(params.get("by"), ["day", "week", "month"] as const);
  const from = params.get("from") ?? "";
  const asked: Asked = {
    by,
    first: /^\d{4}-\d{2}-\d{2}$/.test(from) ? from : iso(begin(now, by)),
    count: one(params.get("count"), ["hours", "tasks"] as const),
    everywhere: params.get("only") === null,
    team: params.get("team"),
    over: params.get("over") !== null,
  };
  const change = useCallback(
    (next: Partial<Asked>) =>
      setParams(
        (now) => {
          const after = new URLSearchParams(now);
          const set = (name: string, value: string | null | undefined) =>
            value ? after.set(name, value) : after.delete(name);
          if (next.by) {
            set("by", next.by === "day" ? null : next.by);
            if (!next.first) after.delete("from");
          }
          if (next.first) set("from", next.first);
          if (next.count) set("count", next.count === "hours" ? null : next.count);
          if (next.everywhere !== undefined) set("only", next.everywhere ? null : "this");
          if (next.team !== undefined) set("team", next.team);
          if (next.over !== undefined) set("over", next.over ? "yes" : null);
          return after;
        },
        { replace: true },
      ),
    [setParams],
  );
  return [asked, change] as const;
}

/** The last day that is shown, where so many columns are. */
export const lastOf = (asked: Asked, columns: number) =>
  iso(addDays(step(parseISO(asked.first), asked.by, columns), -1));

export function useLoad(code: string | null, asked: Asked, columns: number) {
  const { first, by, count, everywhere } = asked;
  const query = { first, last: lastOf(asked, columns), by, count };
  return useQuery({
    queryKey: allKey("load", code, draftHere(), query, everywhere),
    enabled: columns > 0,
    placeholderData: keepPreviousData,
    queryFn: () =>
      code
        ? ask(client.GET("/api/projects/{code}/load", { params: { path: { code }, query: { ...query, everywhere } } }))
        : ask(client.GET("/api/load", { params: { query } })),
  });
}

/** What lies behind a cell, or behind several columns of a person. */
export function useCell(code: string | null, who: string | null, first: string, last: string, everywhere: boolean) {
  return useQuery({
    queryKey: allKey("load", code, draftHere(), "tasks", who, first, last, everywhere),
    enabled: who !== null,
    placeholderData: keepPreviousData,
    queryFn: () => {
      const query = { first, last, who: who || ("nobody" as const) };
      return code
        ? ask(
            client.GET("/api/projects/{code}/load/tasks", {
              params: { path: { code }, query: { ...query, everywhere } },
            }),
          )
        : ask(client.GET("/api/load/tasks", { params: { query } }));
    },
  });
}
