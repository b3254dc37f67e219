import { Controller } from "react-hook-form";
import { client, type Project, sentence } from "../../data/api";
import { usePeople } from "../../data/hooks";
import { Button, Field, Wrong } from "../../parts/basics";
import { DateField } from "../../parts/dates/field";
import { useSending } from "../../parts/form";
import { Select } from "../../parts/select";
import { z } from "../../parts/zod";
import { NameAndCode } from "../name-and-code";
import { projectShape } from "../project-shape";
import { useSaveProject } from "./save";

const shape = projectShape.extend({ lead_id: z.string(), start_grid: z.number() });
type Values = z.infer<typeof shape>;

/** What the project is: name, code, description, lead, start, privacy; archive and restore. */
export function About({ project }: { project: Project }) {
  const { active } = usePeople();
  const save = useSaveProject(project);
  const values: Values = { ...project, lead_id: project.lead_id ?? "" };
  const form = useSending(shape, values, (_, changed) => edit(changed));
  const { isDirty } = form.formState;
  const edit = (fields: Partial<Values> & { archived?: boolean }) =>
    save("Changed the project", (headers) =>
      client.PATCH("/api/projects/{code}", {
        params: { path: { code: project.code } },
        body: { revision: project.revision, ...fields },
        headers,
      }),
    );
  return (
    <section>
      <h2 className="mb-2 text-[17px]">The project</h2>
      <form onSubmit={form.submit}>
        <NameAndCode form={form} />
        <Field label="What it is for" error={form.wrong("description")}>
          <textarea className="input h-20 w-full py-1.5" {...form.register("description")} />
        </Field>
        <div className="grid grid-cols-3 gap-3">
          <Field label="Lead" error={form.wrong("lead_id")}>
            <Select className="w-full" {...form.register("lead_id")}>
              {active.map((person) => (
                <option key={person.id} value={person.id}>
                  {person.name}
                </option>
              ))}
            </Select>
          </Field>
          <Field label="Starts on" error={form.wrong("start_day")}>
            <Controller
              name="start_day"
              control={form.control}
              render={({ field }) => (
                <DateField label="Starts on" className="w-full" value={field.value} onChange={field.onChange} />
              )}
            />
          </Field>
          <Field label="Replanned starts fall on" error={form.wrong("start_grid")}>
            <Select className="w-full" {...form.register("start_grid", { valueAsNumber: true })}>
              <option value={1}>any minute</option>
              <option value={15}>whole quarter hours</option>
              <option value={30}>whole half hours</option>
              <option value={60}>whole hours</option>
            </Select>
          </Field>
        </div>
        <label className="mb-3 flex items-center gap-2">
          <input type="checkbox" className="size-3.5 accent-rose" {...form.register("private")} /> Private: only its
          members see it
        </label>
        <Wrong text={form.wrong("root")} />
        <div className="flex gap-2">
          <Button look="go" type="submit" disabled={!isDirty || form.isSubmitting}>
            Save
          </Button>
          <Button
            onClick={() =>
              edit({ archived: !project.archived }).catch((error) =>
                form.setError("root", { message: sentence(error) }),
              )
            }
          >
            {project.archived ? "Restore the project" : "Archive the project"}
          </Button>
        </div>
      </form>
    </section>
  );
}
