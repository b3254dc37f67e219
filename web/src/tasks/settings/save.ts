import { useQueryClient } from "@tanstack/react-query";
import { useLocation, useNavigate } from "react-router";
import type { Project } from "../../data/api";
import { projectKey, refreshProject } from "../../data/keys";
import { note } from "../../data/notes";
import { sendUndoable } from "../../data/undo";

type Call = Parameters<typeof sendUndoable<Project>>[3];

/** Send a change to the project, which can be taken back; a refusal is thrown for the form to show. */
export function useSaveProject(project: Project) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const { pathname } = useLocation();
  return async (what: string, call: Call | Promise<Project>) => {
    const saved = await (typeof call === "function" ? sendUndoable(queries, project.code, what, call) : call);
    queries.setQueryData(projectKey(saved.code), saved);
    refreshProject(queries, saved.code);
    if (saved.code !== project.code)
      navigate(pathname.replace(`/p/${project.code}`, `/p/${saved.code}`), { replace: true });
    note("Saved");
    return saved;
  };
}
