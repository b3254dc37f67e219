/** What the screens ask the server for. */

import { keepPreviousData, queryOptions, useQuery } from "@tanstack/react-query";
import { createContext, useContext, useMemo } from "react";
import { ask, client, type Person, type Project, type Schemas } from "./api";
import { draftHere } from "./draft-here";
import { allKey, projectKey, taskKey } from "./keys";
import { learn } from "./vocabulary";

export const SessionContext = createContext<{ person: Person; organisation: string; now: Date } | null>(null);

/** Who is signed in, and the server's clock when the page was opened. */
export function useMe() {
  const session = useContext(SessionContext);
  if (!session) throw new Error("nobody is signed in here");
  return session;
}

export const sessionQuery = queryOptions({
  queryKey: ["session"],
  queryFn: async () => {
    const session = await ask(client.GET("/api/session"));
    learn(session.vocabulary);
    return session;
  },
  staleTime: Number.POSITIVE_INFINITY,
});

export function useSession() {
  // today goes on while a page stays open
  return useQuery({ ...sessionQuery, refetchInterval: 10 * 60_000 });
}

export interface People {
  all: Person[];
  active: Person[];
  byId: Map<string, Person>;
}

/** Asked for once by the frame; every cell that shows a person reads it here. */
export const PeopleContext = createContext<People>({ all: [], active: [], byId: new Map() });
export const usePeople = () => useContext(PeopleContext);

export function useAskPeople(): People {
  const query = useQuery({ queryKey: ["people"], queryFn: () => ask(client.GET("/api/people")), staleTime: 60_000 });
  const people = query.data;
  return useMemo(() => {
    const byId = new Map((people ?? []).map((person) => [person.id, person]));
    return { all: people ?? [], active: (people ?? []).filter((person) => person.active), byId };
  }, [people]);
}

/** The teams of the organisation. */
export function useTeams() {
  const query = useQuery({ queryKey: ["teams"], queryFn: () => ask(client.GET("/api/teams")), staleTime: 60_000 });
  return query.data ?? NO_TEAMS;
}
const NO_TEAMS: Schemas["TeamOut"][] = [];

export function useWork(archived = false) {
  return useQuery({
    queryKey: allKey("work", archived),
    queryFn: () => ask(client.GET("/api/projects", { params: { query: { archived } } })),
  });
}

export const projectQuery = (code: string) =>
  queryOptions({
    queryKey: projectKey(code),
    queryFn: () => ask(client.GET("/api/projects/{code}", { params: { path: { code } } })),
  });

export const useProject = (code: string) => useQuery(projectQuery(code));

export function useBrief(code: string) {
  return useQuery({
    queryKey: projectKey(code, "brief"),
    queryFn: () => ask(client.GET("/api/projects/{code}/brief", { params: { path: { code } } })),
  });
}

export function useTask(id: string | null) {
  return useQuery({
    queryKey: taskKey(id),
    enabled: id !== null,
    queryFn: () => ask(client.GET("/api/tasks/{task_id}", { params: { path: { task_id: id ?? "" } } })),
    placeholderData: keepPreviousData,
  });
}

export function useDesk() {
  return useQuery({ queryKey: allKey("desk"), queryFn: () => ask(client.GET("/api/desk")) });
}

/** Whether somebody starts projects, plans the time of others, and sees what they cost. */
export const manages = ({ role }: Pick<Person, "role">) => role === "administrator" || role === "manager";

export const may = (project: Pick<Project, "may"> | undefined, action: "edit" | "manage") =>
  project?.may.includes(action) ?? false;

/** Whether somebody may shape the project now: what is archived is read, not changed. */
export const mayManage = (project: Pick<Project, "may" | "archived"> | undefined) =>
  may(project, "manage") && !project?.archived;

/** Whether tasks may be described here, and things hung on them: a draft keeps neither. */
export const mayShape = (project: Project | undefined) => may(project, "edit") && draftHere() === null;
