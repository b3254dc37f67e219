/** Keeping a dashboard; changing its name and who sees it. */
import { useNavigate } from "react-router";
import { manages, useMe, usePeople, useWork } from "../../data/hooks";
import { Button, Field, Modal, Wrong } from "../../parts/basics";
import { useSending } from "../../parts/form";
import { PeopleChips } from "../../parts/people-chips";
import { Select } from "../../parts/select";
import { z } from "../../parts/zod";
import { type Dashboard, type SeenBy, useDashboardActions } from "./dashboards";
import { dashboardAddress } from "./tabs";

const shape = z.object({
  name: z.string().trim().min(1, "A dashboard needs a name."),
  code: z.string(),
  seen_by: z.enum(["private", "people", "everyone"]),
  people: z.array(z.string()),
});

export function DashboardForm({ dashboard, close }: { dashboard?: Dashboard; close: () => void }) {
  const actions = useDashboardActions();
  const navigate = useNavigate();
  const me = useMe();
  const { byId } = usePeople();
  const { data: projects = [] } = useWork();
  const values = {
    name: dashboard?.name ?? "",
    code: dashboard?.code ?? "",
    seen_by: dashboard?.seen_by ?? ("private" as SeenBy),
    people: dashboard?.people ?? [],
  };
  const form = useSending(shape, values, async ({ name, code, seen_by, people }, changed) => {
    if (dashboard) {
      const { code: _, ...fields } = changed;
      await actions.edit(dashboard.id, { version: dashboard.version, ...fields });
    } else {
      const id = await actions.keep({
        name,
        code: code || null,
        seen_by,
        people,
      });
      navigate(dashboardAddress(id));
    }
    close();
  });
  const code = form.watch("code");
  const readers: [SeenBy, string][] = [
    ["private", "only me"],
    ["people", "people whom I name"],
    ["everyone", code ? `all who see ${code}` : "everybody, each with the work that they may see"],
  ];
  return (
    <Modal open onOpenChange={close} title={dashboard ? `The dashboard ${dashboard.name}` : "A dashboard"}>
      <form onSubmit={form.submit}>
        <Field label="Name" error={form.wrong("name")}>
          <input className="input w-full" placeholder="Monday with the crews" {...form.register("name")} />
        </Field>
        {!dashboard && (
          <Field label="Whose work it shows" error={form.wrong("code")}>
            <Select className="w-full" {...form.register("code")}>
              <option value="">all projects that the reader may see</option>
              {projects.map(({ code: each, name }) => (
                <option key={each} value={each}>
                  {each} {name}
                </option>
              ))}
            </Select>
          </Field>
        )}
        <fieldset className="mb-3">
          <legend className="label">Who sees it</legend>
          {readers
            .filter(([value]) => value !== "everyone" || code || me.person.role !== "guest" || manages(me.person))
            .map(([value, words]) => (
              <label key={value} className="flex min-h-7 items-center gap-2">
                <input type="radio" className="accent-rose" value={value} {...form.register("seen_by")} />
                {words}
              </label>
            ))}
          {form.watch("seen_by") === "people" && (
            <div className="mt-1 flex flex-wrap items-center gap-1.5">
              <PeopleChips
                people={form.watch("people").filter((one) => byId.has(one))}
                set={(people) => form.setValue("people", people, { shouldDirty: true })}
                without={(name) => `Without ${name}`}
                add="Somebody who sees it"
                more="+ and …"
              />
            </div>
          )}
          <p className="mt-1 text-[12px] text-ink-3">Every panel shows what its reader may see, and nothing else.</p>
        </fieldset>
        <Wrong text={form.wrong("seen_by") ?? form.wrong("people") ?? form.wrong("root")} />
        <Button look="go" type="submit" disabled={form.isSubmitting}>
          {dashboard ? "Save" : "Keep it"}
        </Button>
      </form>
    </Modal>
  );
}
