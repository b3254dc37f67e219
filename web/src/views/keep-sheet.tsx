/** Keeping a sheet, and changing its name and who sees it. */
import { useSearchParams } from "react-router";
import { useMe, usePeople } from "../data/hooks";
import { Button, Field, Modal, Tick, Wrong } from "../parts/basics";
import { useSending } from "../parts/form";
import { z } from "../parts/zod";
import { type Ground, type SeenBy as SeenWhom, type Sheet, useSheetChanges } from "./view";

/** Who can see a sheet of a project, or one over all projects. */
const seenBy = (code: string): [SeenWhom, string][] => [
  ["private", "only me"],
  ["people", "people whom I name"],
  ["project", code ? "everybody in the project" : "everybody, each with the work that they may see"],
];

function SeenBy({
  code,
  seen,
  people,
  onChange,
}: {
  code: string;
  seen: SeenWhom;
  people: string[];
  onChange: (seen: SeenWhom, people: string[]) => void;
}) {
  const { active } = usePeople();
  const { person: me } = useMe();
  return (
    <fieldset className="mb-3">
      <legend className="label">Who sees it</legend>
      {seenBy(code).map(([value, words]) => (
        <label key={value} className="flex min-h-7 items-center gap-2">
          <input
            type="radio"
            name="seen"
            className="accent-rose"
            checked={seen === value}
            onChange={() => onChange(value, people)}
          />
          {words}
        </label>
      ))}
      {seen === "people" && (
        <div className="max-h-40 overflow-auto border border-rule-2">
          {active
            .filter((one) => one.id !== me.id)
            .map((one) => (
              <Tick
                key={one.id}
                checked={people.includes(one.id)}
                onChange={(on) => onChange("people", on ? [...people, one.id] : people.filter((id) => id !== one.id))}
              >
                {one.name}
              </Tick>
            ))}
        </div>
      )}
    </fieldset>
  );
}

const sheetShape = z.object({
  name: z.string().trim().min(1, "A sheet needs a name."),
  seen_by: z.enum(["private", "people", "project"]),
  people: z.array(z.string()),
});
type SheetValues = z.infer<typeof sheetShape>;

export function KeepSheet({ project, lens, close }: { project: Ground; lens: string; close: () => void }) {
  const [params, setParams] = useSearchParams();
  const changes = useSheetChanges(project.code);
  async function keep({ name, seen_by, people }: SheetValues) {
    const id = await changes.keep(name, seen_by, people, lens, params);
    setParams(
      (now) => {
        now.set("sheet", id);
        return now;
      },
      { replace: true },
    );
    close();
  }
  return (
    <Modal open onOpenChange={close} title="Keep this sheet">
      <p className="mb-3 text-ink-2">The lens is kept with its sentence, columns, groups, order and tints.</p>
      <SheetForm
        code={project.code}
        values={{ name: "", seen_by: "private", people: [] }}
        hint="Waiting on the city"
        action="Keep"
        save={keep}
      />
    </Modal>
  );
}

export function EditSheet({ sheet, project, close }: { sheet: Sheet; project: Ground; close: () => void }) {
  const changes = useSheetChanges(project.code);
  return (
    <Modal open onOpenChange={close} title={`The sheet ${sheet.name}`}>
      <SheetForm
        code={project.code}
        values={{ name: sheet.name, seen_by: sheet.seen_by, people: sheet.people }}
        action="Save"
        save={(values) => changes.edit(sheet.id, values).then(close)}
      />
    </Modal>
  );
}

function SheetForm({
  code,
  values,
  hint,
  action,
  save,
}: {
  code: string;
  values: SheetValues;
  hint?: string;
  action: string;
  save: (values: SheetValues) => Promise<unknown>;
}) {
  const form = useSending(sheetShape, values, save);
  return (
    <form onSubmit={form.submit}>
      <Field label="Name" error={form.wrong("name")}>
        <input className="input w-full" placeholder={hint} {...form.register("name")} />
      </Field>
      <SeenBy
        code={code}
        seen={form.watch("seen_by")}
        people={form.watch("people")}
        onChange={(seen, people) => {
          form.setValue("seen_by", seen);
          form.setValue("people", people);
        }}
      />
      <Wrong text={form.wrong("seen_by") ?? form.wrong("people") ?? form.wrong("root")} />
      <Button look="go" type="submit" disabled={form.isSubmitting}>
        {action}
      </Button>
    </form>
  );
}
