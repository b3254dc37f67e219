/** What work costs: what the pages ask the server for, and what they send. Only for who may see it. */
import { type QueryClient, useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { ask, client, newId, type Project, type Schemas } from "../data/api";
import { projectKey, refreshTasks, taskKey } from "../data/keys";
import { sendUndoable } from "../data/undo";

export type CostRow = Schemas["CostRow"];
export type Costs = Schemas["CostsOut"];
export type TaskCost = Schemas["TaskCostOut"];
export type Expense = Schemas["ExpenseModel"];

export const maySeeCosts = (project: Pick<Project, "may" | "costs"> | undefined) =>
  Boolean(project?.costs && project.may.includes("see_costs"));

/** Ask again for what rates decide, in every project that is shown. */
export function refreshCosts(queries: QueryClient) {
  queries.invalidateQueries({
    predicate: ({ queryKey: [, , what] }) => what === "costs" || what === "cost" || what === "invoices",
  });
}

const path = (code: string) => ({ params: { path: { code } } });

export function useCosts(code: string) {
  return useQuery({
    queryKey: projectKey(code, "costs"),
    queryFn: () => ask(client.GET("/api/projects/{code}/costs", path(code))),
  });
}

export function useEarned(code: string) {
  return useQuery({
    queryKey: projectKey(code, "costs", "earned"),
    queryFn: () => ask(client.GET("/api/projects/{code}/costs/earned", path(code))),
  });
}

export function useMonths(code: string) {
  return useQuery({
    queryKey: projectKey(code, "costs", "months"),
    queryFn: () => ask(client.GET("/api/projects/{code}/costs/months", path(code))),
  });
}

export function useTaskCost(id: string) {
  return useQuery({
    queryKey: taskKey(id, "cost"),
    queryFn: () => ask(client.GET("/api/tasks/{task_id}/cost", { params: { path: { task_id: id } } })),
  });
}

/** An amount as it stands in figures: `12,480.50`, less than nothing with a true minus. */
export function saySum(amount: string | null | undefined): string {
  if (amount === null || amount === undefined) return "";
  const [whole = "0", part] = amount.replace("-", "").split(".");
  const said = whole.replace(/\B(?=(\d{3})+(?!\d))/g, ",") + (part ? `.${part}` : "");
  return amount.startsWith("-") ? `−${said}` : said;
}

/** An amount as it is typed, for the API: `1,250.50` and `1250,5` are the same. Empty for none; refused where it is no number. */
export function readSum(text: string, decimals = 3): string | null {
  const bare = text
    .trim()
    .replace(/[\s’']/g, "")
    .replace(/,(?=\d{3}(?!\d))/g, "")
    .replace(",", ".")
    .replace(/[A-Za-z€$£]+/g, "");
  if (!bare) return null;
  if (!/^\d+(\.\d+)?$/.test(bare) || (bare.split(".")[1]?.length ?? 0) > decimals)
    throw new Error(`“${text.trim()}” is no sum. Write it as 1250.50.`);
  return bare;
}

export const isNothing = (amount: string | null | undefined) => !amount || /^-?0*(\.0*)?$/.test(amount);

/** Write budgets and expenses of a project. */
export function useCostActions(code: string) {
  const queries = useQueryClient();
  return useMemo(() => {
    const run = async (what: string, call: Parameters<typeof sendUndoable>[3]) => {
      await sendUndoable(queries, code, what, call);
      refreshTasks(queries, code);
    };
    return {
      budget: (task_id: string | null, amount: string | null) =>
        run("Changed a budget", (headers) =>
          client.PUT("/api/projects/{code}/budget", { ...path(code), body: { task_id, amount }, headers }),
        ),
      spend: (expense: Partial<Schemas["ExpenseNew"]> & { task_id: string; day: string }) =>
        run("Entered something spent", (headers) =>
          client.POST("/api/projects/{code}/expenses", {
            ...path(code),
            body: { expenses: [{ id: newId(), note: "", ...expense }] },
            headers,
          }),
        ),
      edit: (expense: Expense, fields: Partial<Schemas["ExpenseEdit"]>) =>
        run("Changed something spent", (headers) =>
          client.PATCH("/api/projects/{code}/expenses", {
            ...path(code),
            body: { expenses: [{ id: expense.id, revision: expense.revision, ...fields }] },
            headers,
          }),
        ),
      remove: (expense: Expense) =>
        run("Took something spent away", (headers) =>
          client.POST("/api/projects/{code}/expenses/delete", { ...path(code), body: { ids: [expense.id] }, headers }),
        ),
    };
  }, [queries, code]);
}
