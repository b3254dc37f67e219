/** Load as a lens of a project. */
import { useNavigate } from "react-router";
import type { Project, Schemas } from "../../data/api";
import { LoadView } from ".";

export default function LoadLens({
  project,
  openTask,
  horizon,
}: {
  project: Project;
  openTask: (id: string) => void;
  horizon: Schemas["HorizonOut"] | undefined;
}) {
  const navigate = useNavigate();
  return (
    <LoadView
      project={project}
      horizon={horizon}
      openTask={(code, id) =>
        code === project.code ? openTask(id) : navigate(`/p/${code}/outline?${new URLSearchParams({ open: id })}`)
      }
    />
  );
}
