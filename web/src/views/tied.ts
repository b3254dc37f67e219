/** What tasks of a project are tied to in others, with the fields that are carried across. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef } from "react";
import { ask, client, type Project, type Schemas } from "../data/api";
import { allKey, projectKey, refreshTasks } from "../data/keys";
import { useChangesOf } from "../tasks/changes";

export type Tied = Schemas["TiedOut"];
export type TiedField = Schemas["TiedFieldOut"];
type TiedOfProject = Record<string, TiedField[]>;

export const CARRIED = "carried.";

/** It shows work of other projects, so a change to any of them asks for it again. */
const tiedKey = (code: string) => allKey("tied", code);

/** By task what it is tied to; asked for only where the project has a field for that. */
export function useTied(project: Project): TiedOfProject {
  const { code } = project;
  const asks = project.fields.some((one) => one.type === "tied");
  const { data } = useQuery({
    queryKey: tiedKey(code),
    enabled: asks,
    queryFn: ({ signal }) => ask(client.GET("/api/projects/{code}/tied", { params: { path: { code } }, signal })),
  });
  // columns show it in words, which follow
  const queries = useQueryClient();
  const before = useRef(data);
  useEffect(() => {
    if (before.current && data !== before.current) queries.invalidateQueries({ queryKey: projectKey(code, "view") });
    before.current = data;
  }, [data, code, queries]);
  return data ?? NONE;
}

const NONE: TiedOfProject = {};

/** The one task whose field a carried column shows and can change; nothing where there are several, or it is only read. */
export function carriedIn(
  tied: TiedOfProject,
  itemId: string,
  column: string,
): { of: Tied; field: string } | undefined {
  const [fieldId = "", name = ""] = splitCarried(column);
  const [only, ...more] = tied[itemId]?.find((one) => one.field_id === fieldId)?.tied ?? [];
  const field = only?.carried.find((one) => one.name === name)?.field;
  return only && !more.length && field && only.may_edit ? { of: only, field } : undefined;
}

/** The field and the name of what it carries, of the key of a column. */
function splitCarried(column: string): [string, string] {
  const rest = column.slice(CARRIED.length);
  const at = rest.indexOf(".");
  return [rest.slice(0, at), rest.slice(at + 1)];
}

/** Change a field of a tied task in its own project; what is shown here follows. Throws the problem where it was refused. */
export function useEditTied(code: string) {
  const queries = useQueryClient();
  const changesOf = useChangesOf();
  return useCallback(
    async (of: Tied, what: string, fields: Record<string, unknown>) => {
      await changesOf(of.code).edit(`${what} of ${of.code} ${of.number}`, [
        { id: of.task_id, fields, revision: of.revision },
      ]);
      refreshTasks(queries, code);
      await queries.invalidateQueries({ queryKey: tiedKey(code) });
    },
    [changesOf, queries, code],
  );
}

/** As `carriedIn`, of what is held at the moment. */
export function useHeldTied(code: string) {
  const queries = useQueryClient();
  return useCallback(() => queries.getQueryData<TiedOfProject>(tiedKey(code)) ?? NONE, [queries, code]);
}
