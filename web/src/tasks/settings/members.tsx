import { X } from "lucide-react";
import { client, type Project, sentence } from "../../data/api";
import { usePeople } from "../../data/hooks";
import { note } from "../../data/notes";
import { Button, IconButton } from "../../parts/basics";
import { PersonChooser } from "../../parts/choosers";
import { Select } from "../../parts/select";
import { Tile } from "../../parts/tile";
import { useSaveProject } from "./save";

const ROLES = ["lead", "contributor", "commenter", "viewer"];
const MEANING: Record<string, string> = {
  lead: "changes everything here",
  contributor: "writes and changes tasks",
  commenter: "reads and comments",
  viewer: "reads",
};

/** Who is in the project, in which role. */
export function Members({ project }: { project: Project }) {
  const { byId } = usePeople();
  const save = useSaveProject(project);
  const set = (person_id: string, role: string | null) =>
    save("Changed the members", (headers) =>
      client.PUT("/api/projects/{code}/members/{person_id}", {
        params: { path: { code: project.code, person_id } },
        body: { role },
        headers,
      }),
    ).catch((error) => note(sentence(error), "wrong"));
  const members = Object.entries(project.members).sort(([a], [b]) =>
    (byId.get(a)?.name ?? "").localeCompare(byId.get(b)?.name ?? ""),
  );
  return (
    <section>
      <h2 className="mb-2 text-[17px]">Members</h2>
      <ul>
        {members.map(([id, role]) => (
          <li key={id} className="flex min-h-9 items-center gap-2 border-b border-rule">
            <Tile person={byId.get(id)} label={false} />
            <span className="flex-1 truncate">{byId.get(id)?.name}</span>
            <Select
              aria-label={`Role of ${byId.get(id)?.name}`}
              title={MEANING[role]}
              value={role}
              disabled={id === project.lead_id}
              onChange={(event) => set(id, event.target.value)}
            >
              {ROLES.map((one) => (
                <option key={one}>{one}</option>
              ))}
            </Select>
            <IconButton
              label={`Take ${byId.get(id)?.name} out`}
              disabled={id === project.lead_id}
              onClick={() => set(id, null)}
            >
              <X size={14} />
            </IconButton>
          </li>
        ))}
      </ul>
      <div className="mt-2">
        <PersonChooser
          project={project}
          value={null}
          none=""
          label="Add a member"
          onChoose={(id) => id && set(id, project.members[id] ?? "contributor")}
          trigger={<Button>Add a member</Button>}
        />
      </div>
    </section>
  );
}
