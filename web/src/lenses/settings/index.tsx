/** A project's settings: what it is, who is in it, its workflow, its working calendar. */
import { useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import type { Project } from "../../data/api";
import { may } from "../../data/hooks";
import { note } from "../../data/notes";
import { refreshProject } from "../../data/rows";
import { About } from "./about";
import { Calendars } from "./calendar";
import { KeptChecklists } from "./kept-checklists";
import { Members } from "./members";
import { OwnFields } from "./own-fields";
import { Signs } from "./signs";
import { Workflow } from "./workflow";

/** Send a change to the project; a refusal is thrown for the form to show. */
export function useSaveProject(project: Project) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  return async (call: Promise<Project>) => {
    const saved = await call;
    queries.setQueryData(["project", saved.code], saved);
    refreshProject(queries, saved.code);
    if (saved.code !== project.code) navigate(`/p/${saved.code}/settings`, { replace: true });
    note("Saved");
    return saved;
  };
}

export default function Settings({ project }: { project: Project }) {
  const canManage = may(project, "manage");
  return (
    <div
      className="min-w-0 flex-1 overflow-auto px-3 py-4 sm:px-[18px]"
      role="region"
      aria-label="Settings"
      tabIndex={0}
    >
      {!canManage && (
        <p className="mb-3 text-ink-2">A lead of this project can change these. You are {project.role} here.</p>
      )}
      <fieldset disabled={!canManage} className="grid max-w-6xl items-start gap-x-12 gap-y-8 lg:grid-cols-2">
        <legend className="sr-only">Settings of {project.name}</legend>
        <div className="grid min-w-0 grid-cols-[minmax(0,1fr)] gap-y-8">
          <About key={`about${project.revision}`} project={project} />
          <Workflow project={project} />
          <OwnFields project={project} />
        </div>
        <div className="grid min-w-0 grid-cols-[minmax(0,1fr)] gap-y-8">
          <Members project={project} />
          <Signs project={project} sort="kinds" />
          <Signs project={project} sort="marks" />
          <KeptChecklists project={project} />
          <Calendars project={project} />
        </div>
      </fieldset>
    </div>
  );
}
