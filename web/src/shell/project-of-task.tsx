/** Making a project out of a task. */

import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { Controller } from "react-hook-form";
import { useNavigate } from "react-router";
import { ask, client, newId, send, type TaskRow } from "../data/api";
import { useMe } from "../data/hooks";
import { allKey } from "../data/keys";
import { Button, Field, Modal, Wrong } from "../parts/basics";
import { DateField } from "../parts/dates/field";
import { useSending } from "../parts/form";
import { projectShape } from "../tasks/project-shape";

const shape = projectShape.pick({ name: true, code: true, start_day: true });

export default function ProjectOfTask({ row, close }: { row: TaskRow; close: () => void }) {
  const { now } = useMe();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const values = { name: row.title, code: "", start_day: (row.start ?? now.toISOString()).slice(0, 10) };
  const form = useSending(shape, values, async (typed) => {
    const made = await send((headers) =>
      client.POST("/api/tasks/{task_id}/project", {
        params: { path: { task_id: row.id } },
        body: { id: newId(), private: false, ...typed },
        headers,
      }),
    );
    queries.invalidateQueries({ queryKey: allKey("work") });
    navigate(`/p/${made.code}/outline`);
  });
  const { setValue } = form;
  useEffect(() => {
    ask(client.GET("/api/project-codes", { params: { query: { name: row.title } } })).then(
      (free) => setValue("code", free.code),
      () => {},
    );
  }, [row.title, setValue]);
  return (
    <Modal open onOpenChange={close} title="Make it a project">
      <form onSubmit={form.submit}>
        <p className="mb-3 text-ink-2">
          The tasks below it and what is left to tick become tasks there. This task stays, and says where its project
          is.
        </p>
        <Field label="Name" error={form.wrong("name")}>
          <input className="input w-full" {...form.register("name")} />
        </Field>
        <div className="grid grid-cols-2 gap-x-3">
          <Field label="Code" error={form.wrong("code")}>
            <input className="input w-full uppercase" {...form.register("code")} />
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
        </div>
        <Wrong text={form.wrong("root")} />
        <Button look="go" type="submit" disabled={form.isSubmitting}>
          Start the project
        </Button>
      </form>
    </Modal>
  );
}
