/** Whether a project plans hours and records time, and the crews and roles that only it can book. */
import { useQueryClient } from "@tanstack/react-query";
import { addYears, format } from "date-fns";
import { useState } from "react";
import { client, type Project, type Schemas, sentence } from "../../data/api";
import { useMe } from "../../data/hooks";
import { note } from "../../data/notes";
import { sendUndoable } from "../../data/undo";
import { AsTable, BringTable, fileForm } from "../../parts/table-file";
import { Crews } from "../../resources/crews";
import { refreshTime } from "../../time/time";
import { useSaveProject } from "./save";

export function HoursSettings({ project }: { project: Project }) {
  const save = useSaveProject(project);
  const change = (what: string, fields: { hours?: boolean; own_time?: boolean; time?: boolean }, put: () => void) =>
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
        nobody sees any of it; what was booked is kept.
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
      {project.hours && <Crews project={project} />}
      <h2 className="mt-8 mb-2 text-[17px]">Time</h2>
      <Choice
        on={project.time}
        name="Record the time that people spend"
        change={(time, put) => change(time ? "Switched time on" : "Switched time off", { time }, put)}
      >
        People then enter hours on tasks, by hand, by a timer or in their time sheet of the week, and hand in their
        weeks for a lead to accept. Switched off, no time can be entered; what was entered is kept.
      </Choice>
      {project.time && <TimeTables project={project} />}
    </section>
  );
}

/** The time entries of a project out and in as tables. */
function TimeTables({ project }: { project: Project }) {
  const queries = useQueryClient();
  const { now } = useMe();
  const days = `first=${format(addYears(now, -1), "yyyy-MM-dd")}&last=${format(now, "yyyy-MM-dd")}`;
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1 text-ink-2">
      <BringTable
        what="time entry"
        many="time entries"
        columns="Person, E-mail, Task, Day, From, Hours, Note, Billable"
        send={async (file) => {
          const done = await sendUndoable<Schemas["BroughtTime"]>(queries, project.code, "Brought time in", (headers) =>
            client.POST("/api/projects/{code}/time/table", {
              params: { path: { code: project.code } },
              ...fileForm(file),
              headers,
            }),
          );
          refreshTime(queries, project.code);
          return done;
        }}
      />
      <AsTable
        what="Take out the entries of a year "
        address={(kind) => `/api/projects/${project.code}/time.${kind}?${days}`}
      />
    </div>
  );
}

function Choice({
  on,
  name,
  change,
  children,
}: {
  on: boolean;
  name: string;
  /** put: shows again how it is, where it was refused */
  change: (on: boolean, put: () => void) => void;
  children: React.ReactNode;
}) {
  const [shown, setShown] = useState(on);
  return (
    <label className="mb-3 flex items-start gap-2">
      <input
        type="checkbox"
        className="mt-0.5 size-3.5 accent-rose"
        checked={shown}
        onChange={(event) => {
          setShown(event.target.checked);
          change(event.target.checked, () => setShown(on));
        }}
      />
      <span>
        <b className="font-semibold">{name}</b>
        <span className="block max-w-prose text-ink-2">{children}</span>
      </span>
    </label>
  );
}
