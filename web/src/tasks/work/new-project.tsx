import { useQueryClient } from "@tanstack/react-query";
import { format } from "date-fns";
import { useEffect, useState } from "react";
import { Controller } from "react-hook-form";
import { useNavigate } from "react-router";
import { ask, client, newId, send } from "../../data/api";
import { useMe } from "../../data/hooks";
import { allKey, projectKey } from "../../data/keys";
import { Button, Field, Modal, Wrong } from "../../parts/basics";
import { DateField } from "../../parts/dates/field";
import { useSending } from "../../parts/form";
import { NameAndCode } from "../name-and-code";
import { projectShape } from "../project-shape";

/** Start a project. The code follows from the name until it is typed. */
export function NewProject({ close, portfolio = false }: { close: () => void; portfolio?: boolean }) {
  const { now } = useMe();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [id] = useState(newId);
  const values = { name: "", code: "", description: "", start_day: format(now, "yyyy-MM-dd"), private: false };
  const form = useSending(projectShape, values, async (typed) => {
    const body = { id, ...typed };
    const made = await send<{ code: string }>((headers) =>
      portfolio ? client.POST("/api/portfolios", { body, headers }) : client.POST("/api/projects", { body, headers }),
    );
    if (!portfolio) queries.setQueryData(projectKey(made.code), made);
    queries.invalidateQueries({ queryKey: allKey("work") });
    close();
    navigate(`/p/${made.code}/${portfolio ? "portfolio" : "outline"}`);
  });
  const { dirtyFields } = form.formState;
  const name = form.watch("name");
  useEffect(() => {
    if (!name.trim() || dirtyFields.code) return;
    const timer = setTimeout(async () => {
      const { code } = await ask(client.GET("/api/project-codes", { params: { query: { name } } }));
      if (!form.formState.dirtyFields.code) form.setValue("code", code);
    }, 200);
    return () => clearTimeout(timer);
  }, [name, dirtyFields.code, form]);
  return (
    <Modal open onOpenChange={close} title={portfolio ? "New portfolio" : "New project"}>
      <form onSubmit={form.submit}>
        <NameAndCode form={form} />
        <Field label="What it is for">
          <textarea className="input h-16 w-full py-1.5" {...form.register("description")} />
        </Field>
        <Field label="Starts on" error={form.wrong("start_day")}>
          <Controller
            name="start_day"
            control={form.control}
            render={({ field }) => <DateField label="Starts on" value={field.value} onChange={field.onChange} />}
          />
        </Field>
        <label className="mb-3 flex items-center gap-2">
          <input type="checkbox" className="size-3.5 accent-rose" {...form.register("private")} /> Private: only its
          members see it
        </label>
        <Wrong text={form.wrong("root")} />
        <div className="flex gap-2">
          <Button look="go" type="submit" disabled={form.isSubmitting}>
            {portfolio ? "Start the portfolio" : "Start the project"}
          </Button>
          <Button look="quiet" onClick={close}>
            Cancel
          </Button>
        </div>
      </form>
    </Modal>
  );
}
