/** The fields that large slips show, in the words of the server. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { ask, client, type Project } from "../data/api";
import { projectKey } from "../data/keys";
import { type Scope, scopeQuery } from "../views/scope";
import { useCatalogue } from "../views/view";
import type { BoardChoice } from "./choice";
import type { SlipProps } from "./slip";

export function useFieldWords(project: Project, scope: Scope, choice: BoardChoice): SlipProps["fields"] {
  const { code } = project;
  const catalogue = useCatalogue(code).data;
  const known = catalogue?.columns.filter((one) => choice.fields.includes(one.key)) ?? [];
  const keys = choice.size === "large" ? choice.fields.filter((key) => known.some((one) => one.key === key)) : [];
  const answer = useQuery({
    queryKey: projectKey(code, "view", "slips", scope, keys),
    enabled: keys.length > 0,
    queryFn: ({ signal }) =>
      ask(
        client.POST("/api/projects/{code}/view", {
          params: { path: { code }, query: { ...scopeQuery(scope), in_words: true } },
          body: { columns: keys.map((key) => ({ key })), groups: [], sorts: [], tints: [] },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
  }).data;
  const text = keys.join(",");
  // biome-ignore lint/correctness/useExhaustiveDependencies: the text is what changes
  return useMemo(
    () =>
      keys.map((key) => ({
        key,
        name: known.find((one) => one.key === key)?.name ?? "",
        words: answer?.words[key] ?? {},
      })),
    [text, answer, catalogue],
  );
}
