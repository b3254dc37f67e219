/** What the address says will be shown is fetched at once: code, session and rows side by side, not one after the other. */
import type { QueryClient } from "@tanstack/react-query";
import { projectQuery, sessionQuery } from "../data/hooks";
import { pageQuery } from "../views/page";
import { readScope } from "../views/scope";
import { pagesAt } from "./pages";

const PROJECT = /^\/p\/([^/]+)(?:\/([^/]+))?/;

/**
 * Resolves when the code is there, or cannot be had: whoever shows it then tries again, and says what went wrong, as with
 * answers that fail here.
 */
export function preload(queries: QueryClient, { pathname, search }: Pick<Location, "pathname" | "search">) {
  const params = new URLSearchParams(search);
  const code = Promise.allSettled(pagesAt(pathname, params).map((one) => one.load()));
  if (!pathname.startsWith("/invitation/")) queries.prefetchQuery(sessionQuery);
  const [, project, lens = ""] = PROJECT.exec(pathname) ?? [];
  if (project && lens && !params.has("draft")) {
    const quiet = { meta: { quiet: true }, retry: false }; // a draft is entered first
    queries.prefetchQuery({ ...projectQuery(project.toUpperCase()), ...quiet });
    queries.prefetchQuery({ ...pageQuery(queries, project.toUpperCase(), readScope(params)), ...quiet });
  }
  return code;
}
