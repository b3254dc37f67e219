/** Whether a project plans hours, and the crews, materials and fixed costs that only it can book. */
import { client, type Project, sentence } from "../../data/api";
import { note } from "../../data/notes";
import { Crews } from "../../resources/crews";
import { Choice } from "./choice";
import { useSaveProject } from "./save";

export function HoursSettings({ project }: { project: Project }) {
  const save = useSaveProject(project);
  const change = (what: string, fields: { hours?: boolean; own_time?: boolean }, put: () => void) =>
    save(what, (headers) =>
      client.PATCH("/api/projects/{code}", {
        params: { path: { code: project.code } },
        body: { revision: project.revision, ...fields },
        headers,
      }),
    ).catch((error) => {
      put();
      note(sentence(error), "wrong");
    });
  return (
    <section>
      <h2 className="mb-2 text-[17px]">Hours</h2>
      <Choice
        on={project.hours}
        name="Plan the hours of people"
        change={(hours, put) => change(hours ? "Switched hours on" : "Switched hours off", { hours }, put)}
      >
        Tasks then have an estimate and bookings of people, and the lens Load shows who has too much. Switched off,
        nobody sees any of it, but for bookings where cost is reckoned; what was booked is kept.
      </Choice>
      {project.hours && (
        <Choice
          on={project.own_time}
          name="Let people’s own time drive dates"
          change={(own_time, put) =>
            change(
              own_time ? "Let people’s own time drive dates" : "Let the calendar alone drive dates",
              { own_time },
              put,
            )
          }
        >
          A task that one person alone works on then waits while they are away, and follows the hours that are their
          own. A calendar that a task was given comes first.
        </Choice>
      )}
      {(project.hours || project.costs) && <Crews project={project} />}
    </section>
  );
}
