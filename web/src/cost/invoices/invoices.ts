/** Invoice sheets: what the page asks the server for, and what it sends. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { ask, client, newId, type Schemas } from "../../data/api";
import { projectKey, refreshTasks } from "../../data/keys";
import { sendUndoable } from "../../data/undo";

export type Invoice = Schemas["InvoiceOut"];
export type Line = Schemas["InvoiceLineOut"];

const path = (code: string) => ({ params: { path: { code } } });
const pathOf = (code: string, invoice_id: string) => ({ params: { path: { code, invoice_id } } });

export function useInvoices(code: string) {
  return useQuery({
    queryKey: projectKey(code, "invoices"),
    queryFn: () => ask(client.GET("/api/projects/{code}/invoices", path(code))),
  });
}

export function useInvoice(code: string, id: string) {
  return useQuery({
    queryKey: projectKey(code, "invoices", id),
    queryFn: () => ask(client.GET("/api/projects/{code}/invoices/{invoice_id}", pathOf(code, id))),
  });
}

/** What of some days could be charged: at one rate, or without one at each person’s own. */
export function useChargeable(code: string, first: string, last: string, rate: string | null = null) {
  return useQuery({
    queryKey: projectKey(code, "invoices", "chargeable", first, last, rate),
    enabled: Boolean(first && last),
    queryFn: () =>
      ask(client.GET("/api/projects/{code}/chargeable", { params: { path: { code }, query: { first, last, rate } } })),
    placeholderData: (before) => before,
  });
}

export function useInvoiceActions(code: string) {
  const queries = useQueryClient();
  return useMemo(() => {
    const run = async <T>(what: string, call: Parameters<typeof sendUndoable<T>>[3]) => {
      const answer = await sendUndoable<T>(queries, code, what, call);
      queries.invalidateQueries({ queryKey: projectKey(code, "invoices") });
      refreshTasks(queries, code, false);
      return answer;
    };
    return {
      make: async (wish: Omit<Schemas["InvoiceNew"], "id">) => {
        const id = newId();
        await run("Gathered hours to be charged", (headers) =>
          client.POST("/api/projects/{code}/invoices", { ...path(code), body: { ...wish, id }, headers }),
        );
        return id;
      },
      edit: (id: string, body: Partial<Schemas["InvoiceEdit"]>) =>
        run("Changed an invoice sheet", (headers) =>
          client.PATCH("/api/projects/{code}/invoices/{invoice_id}", { ...pathOf(code, id), body, headers }),
        ),
      remove: (id: string) =>
        run("Took an invoice sheet away", (headers) =>
          client.DELETE("/api/projects/{code}/invoices/{invoice_id}", { ...pathOf(code, id), headers }),
        ),
      freeze: (id: string, body: Schemas["FreezeIn"]) =>
        run("Froze an invoice sheet", (headers) =>
          client.POST("/api/projects/{code}/invoices/{invoice_id}/freeze", { ...pathOf(code, id), body, headers }),
        ),
      cancel: (id: string) =>
        run("Cancelled an invoice sheet", (headers) =>
          client.POST("/api/projects/{code}/invoices/{invoice_id}/cancel", { ...pathOf(code, id), headers }),
        ),
    };
  }, [queries, code]);
}
