/** What the address says will be shown is fetched at once: code, session and rows side by side, not one after the other. */
import type { QueryClient } from "@tanstack/react-query";
import { projectQuery, sessionQuery } from "../data/hooks";
import { pageQuery } from "../views/page";
import { readScope } from "../views/scope";

const PROJECT = /^\/p\/([^/]+)(?:\/([^/]+))?/;
const LENSES: Record<string, () => Promise<unknown>> = {
  brief: () => import("../overview/brief"),
  outline: () => import("../tasks/outline"),
  board: () => import("../tasks/board"),
  schedule: () => import("../schedule/lens"),
};
const PLACES: Record<string, () => Promise<unknown>> = {
  "/desk": () => import("../overview/desk"),
  "/desk/all_work": () => import("../views/all-work"),
  "/work": () => import("../tasks/work"),
};

/** Answers that fail here are asked for again by whoever shows them, who says what went wrong. */
export function preload(queries: QueryClient, { pathname, search }: Pick<Location, "pathname" | "search">) {
  queries.prefetchQuery(sessionQuery);
  PLACES[pathname]?.();
  const [, code, lens = ""] = PROJECT.exec(pathname) ?? [];
  if (!code) return;
  import("./project");
  LENSES[lens]?.();
  const params = new URLSearchParams(search);
  if (!lens || params.has("draft")) return; // a draft is entered first
  const quiet = { meta: { quiet: true }, retry: false };
  queries.prefetchQuery({ ...projectQuery(code.toUpperCase()), ...quiet });
  queries.prefetchQuery({ ...pageQuery(queries, code.toUpperCase(), readScope(params)), ...quiet });
}
