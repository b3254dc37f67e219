/** The lenses on a project: which stand in its sheet bar, and what the others are for. */
import { Plus } from "lucide-react";
import { Link } from "react-router";
import { client, type Project, sentence } from "../../data/api";
import { may } from "../../data/hooks";
import { note } from "../../data/notes";
import { Pop, Tick } from "../../parts/basics";
import { useSaveProject } from "../../tasks/settings/save";

/** What each is called, and what it is for. The API says which there are. */
export const LENSES: Record<string, { name: string; use: string }> = {
  brief: { name: "Brief", use: "how the project stands, in sentences" },
  portfolio: { name: "Portfolio", use: "its own larger items and those of the projects that it joins" },
  outline: { name: "Outline", use: "the tree of tasks as a grid, edited in place" },
  board: { name: "Board", use: "a column for each state, with limits" },
  schedule: { name: "Schedule", use: "bars, links, and what decides the finish" },
  load: { name: "Load", use: "hours and tasks of people by day, and who is over" },
  costs: { name: "Costs", use: "budgets, what is spent and still to come, earned value" },
};

/** Behind a plus: every lens with what it is for. A lead chooses which stand in the bar. */
export function LensChoice({ project }: { project: Project }) {
  const save = useSaveProject(project);
  const manages = may(project, "manage");
  const offered = Object.entries(LENSES).filter(
    ([id]) =>
      (manages || !project.lenses.includes(id)) &&
      (id !== "costs" || project.may.includes("see_costs")) &&
      (id !== "portfolio" || project.portfolio),
  );
  if (!offered.length) return null;
  const change = (id: string, on: boolean) =>
    save(on ? "Put a lens into the bar" : "Took a lens out of the bar", (headers) =>
      client.PATCH("/api/projects/{code}", {
        params: { path: { code: project.code } },
        body: {
          revision: project.revision,
          lenses: on ? [...project.lenses, id] : project.lenses.filter((one) => one !== id),
        },
        headers,
      }),
    ).catch((error) => note(sentence(error), "wrong"));
  return (
    <Pop
      label="Lenses"
      className="w-[340px]"
      trigger={
        <button
          type="button"
          aria-label="More lenses"
          title="More lenses"
          className="flex flex-none items-center px-2 text-ink-2 hover:text-ink"
        >
          <Plus size={15} aria-hidden="true" />
        </button>
      }
    >
      <p className="px-2 py-1 text-[12px] text-ink-2">
        {manages ? "Ticked ones stand in the bar for everybody." : "Not in the bar of this project:"}
      </p>
      {offered.map(([id]) =>
        manages ? (
          <Tick key={id} checked={project.lenses.includes(id)} onChange={(on) => change(id, on)}>
            <LensWords code={project.code} id={id} />
          </Tick>
        ) : (
          <div key={id} className="px-2">
            <LensWords code={project.code} id={id} />
          </div>
        ),
      )}
    </Pop>
  );
}

function LensWords({ code, id }: { code: string; id: string }) {
  const lens = LENSES[id];
  return (
    <span className="py-1">
      <Link className="font-semibold hover:underline" to={`/p/${code}/${id}`}>
        {lens?.name}
      </Link>
      <span className="block text-[12px] text-ink-2">{lens?.use}</span>
    </span>
  );
}
