/** Whether a project plans hours, and the crews and roles that only it can book. */
import { useState } from "react";
import { client, type Project, sentence } from "../../data/api";
import { note } from "../../data/notes";
import { Crews } from "../../resources/crews";
import { useSaveProject } from "./save";

export function HoursSettings({ project }: { project: Project }) {
  const save = useSaveProject(project);
  const [on, setOn] = useState(project.hours);
  const change = (hours: boolean) => {
    setOn(hours);
    save(hours ? "Switched hours on" : "Switched hours off", (headers) =>
      client.PATCH("/api/projects/{code}", {
        params: { path: { code: project.code } },
        body: { revision: project.revision, hours },
        headers,
      }),
    ).catch((error) => {
      setOn(!hours);
      note(sentence(error), "wrong");
    });
  };
  return (
    <section>
      <h2 className="mb-2 text-[17px]">Hours</h2>
      <label className="flex items-start gap-2">
        <input
          type="checkbox"
          className="mt-0.5 size-3.5 accent-rose"
          checked={on}
          onChange={(event) => change(event.target.checked)}
        />
        <span>
          <b className="font-semibold">Plan the hours of people</b>
          <span className="block max-w-prose text-ink-2">
            Tasks then have an estimate and bookings of people, and the lens Load shows who has too much. Switched off,
            nobody sees any of it; what was booked is kept.
          </span>
        </span>
      </label>
      {project.hours && <Crews project={project} />}
    </section>
  );
}
