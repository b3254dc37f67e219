/** What the server says of the tasks that a sentence leaves. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { ask, client } from "../data/api";
import { projectKey } from "../data/keys";
import { type Scope, scopeQuery } from "./scope";

export function useScopeAnswer(code: string, scope: Scope) {
  return useQuery({
    queryKey: projectKey(code, "scope", scope),
    queryFn: ({ signal }) =>
      ask(client.GET("/api/projects/{code}/scope", { params: { path: { code }, query: scopeQuery(scope) }, signal })),
    placeholderData: keepPreviousData,
  });
}

export function useHorizon(code: string, scope: Scope) {
  const wide = { ...scope, since: null, until: null };
  return useQuery({
    queryKey: projectKey(code, "horizon", wide),
    queryFn: ({ signal }) =>
      ask(client.GET("/api/projects/{code}/horizon", { params: { path: { code }, query: scopeQuery(wide) }, signal })),
    placeholderData: keepPreviousData,
  });
}
