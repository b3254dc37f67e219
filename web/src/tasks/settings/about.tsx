import { zodResolver } from "@hookform/resolvers/zod";
import { Controller, useForm } from "react-hook-form";
import { z } from "zod";
import { client, Problem, type Project, sentence } from "../../data/api";
import { usePeople } from "../../data/hooks";
import { Button, Field, Wrong } from "../../parts/basics";
import { DateField } from "../../parts/dates/field";
import { Select } from "../../parts/select";
import { projectShape } from "../project-shape";
import { useSaveProject } from "./save";

const shape = projectShape.extend({ lead_id: z.string(), start_grid: z.number() });
type Values = z.infer<typeof shape>;

/** What the project is: name, code, description, lead, start, privacy; archive and restore. */
export function About({ project }: { project: Project }) {
  const { active } = usePeople();
  const save = useSaveProject(project);
  const values: Values = { ...project, lead_id: project.lead_id ?? "" };
  const form = useForm<Values>({ resolver: zodResolver(shape), defaultValues: values });
  const { errors, dirtyFields, isDirty, isSubmitting } = form.formState;
  const edit = (fields: Partial<Values> & { archived?: boolean }) =>
    save("Changed the project", (headers) =>
      client.PATCH("/api/projects/{code}", {
        params: { path: { code: project.code } },
        body: { revision: project.revision, ...fields },
        headers,
      }),
    );
  const submit = form.handleSubmit(async (typed) => {
    const changed = Object.fromEntries(Object.entries(typed).filter(([name]) => name in dirtyFields));
    try {
      await edit(changed);
    } catch (error) {
      const field =
        error instanceof Problem && error.field && error.field in typed ? (error.field as keyof Values) : "root";
      form.setError(field, { message: sentence(error) });
    }
  });
  return (
    <section>
      <h2 className="mb-2 text-[17px]">The project</h2>
      <form onSubmit={submit}>
        <div className="grid grid-cols-[1fr_110px] gap-3">
          <Field label="Name" error={errors.name?.message}>
            <input className="input w-full" {...form.register("name")} />
          </Field>
          <Field label="Code" error={errors.code?.message}>
            <input className="input w-full uppercase" {...form.register("code")} />
          </Field>
        </div>
        <Field label="What it is for" error={errors.description?.message}>
          <textarea className="input h-20 w-full py-1.5" {...form.register("description")} />
        </Field>
        <div className="grid grid-cols-3 gap-3">
          <Field label="Lead" error={errors.lead_id?.message}>
            <Select className="w-full" {...form.register("lead_id")}>
              {active.map((person) => (
                <option key={person.id} value={person.id}>
                  {person.name}
                </option>
              ))}
            </Select>
          </Field>
          <Field label="Starts on" error={errors.start_day?.message}>
            <Controller
              name="start_day"
              control={form.control}
              render={({ field }) => (
                <DateField label="Starts on" className="w-full" value={field.value} onChange={field.onChange} />
              )}
            />
          </Field>
          <Field label="Replanned starts fall on" error={errors.start_grid?.message}>
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
        <Wrong text={errors.root?.message} />
        <div className="flex gap-2">
          <Button look="go" type="submit" disabled={!isDirty || isSubmitting}>
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
