/** What every form of a project begins with: its name, and the code that stands before the numbers of its tasks. */
import type { UseFormRegisterReturn } from "react-hook-form";
import { Field } from "../parts/basics";

interface Form {
  register: (name: "name" | "code") => UseFormRegisterReturn;
  wrong: (name: "name" | "code") => string | undefined;
}

export function NameAndCode({ form }: { form: Form }) {
  return (
    <div className="grid grid-cols-[1fr_110px] gap-3">
      <Field label="Name" error={form.wrong("name")}>
        <input className="input w-full" {...form.register("name")} />
      </Field>
      <Field label="Code" error={form.wrong("code")}>
        <input className="input w-full uppercase" {...form.register("code")} />
      </Field>
    </div>
  );
}
