/** Whether a project records the time that people spend, and its entries as tables. */
import { useQueryClient } from "@tanstack/react-query";
import { addYears, format } from "date-fns";
import { client, type Project, type Schemas, sentence } from "../data/api";
import { useMe } from "../data/hooks";
import { note } from "../data/notes";
import { sendUndoable } from "../data/undo";
import { AsTable, BringTable, fileForm } from "../parts/table-file";
import { Choice } from "../tasks/settings/choice";
import { useSaveProject } from "../tasks/settings/save";
import { refreshTime } from "./time";

export function TimeSettings({ project }: { project: Project }) {
  const save = useSaveProject(project);
  return (
    <section>
      <h2 className="mb-2 text-[17px]">Time</h2>
      <Choice
        on={project.time}
        name="Record the time that people spend"
        change={(time, put) =>
          save(time ? "Switched time on" : "Switched time off", (headers) =>
            client.PATCH("/api/projects/{code}", {
              params: { path: { code: project.code } },
              body: { revision: project.revision, time },
              headers,
            }),
          ).catch((error) => {
            put();
            note(sentence(error), "wrong");
          })
        }
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
          const done = await sendUndoable<Schemas["BroughtOut"]>(queries, project.code, "Brought time in", (headers) =>
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
