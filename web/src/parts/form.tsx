/** Forms: their values are checked against a shape, and what the server refuses is said at the field that it concerns. */
import { zodResolver } from "@hookform/resolvers/zod";
import type { ComponentProps } from "react";
import { type DefaultValues, type FieldValues, type Path, useForm } from "react-hook-form";
import { Problem, sentence } from "../data/api";
import { Button, Field, Wrong } from "./basics";
import { z } from "./zod";

/**
 * A form and how it is sent.
 *
 * Args:
 *   shape: what its values must be, with the sentence that is said where one is not.
 *   values: what it begins with.
 *   save: sends what was typed, or only what was changed of it; what it throws is shown, and nothing typed is lost.
 */
export function useSending<Values extends FieldValues>(
  shape: z.ZodType<Values, Values>,
  values: DefaultValues<Values>,
  save: (typed: Values, changed: Partial<Values>) => Promise<unknown>,
) {
  const form = useForm<Values>({ resolver: zodResolver(shape), defaultValues: values });
  const { errors, isSubmitting, dirtyFields } = form.formState;
  const submit = form.handleSubmit(async (typed) => {
    try {
      const changed = Object.entries(typed).filter(([name]) => name in dirtyFields);
      await save(typed, Object.fromEntries(changed) as Partial<Values>);
    } catch (error) {
      const field = error instanceof Problem && error.field && error.field in typed ? error.field : "root";
      form.setError(field as Path<Values>, { message: sentence(error) });
    }
  });
  return {
    ...form,
    submit,
    isSubmitting,
    /** what is wrong with a field, or with what concerns no single one */
    wrong: (name: Path<Values> | "root") => errors[name]?.message as string | undefined,
  };
}

const LENGTH = "A password has 10 to 200 characters. A few words in a row are easy to keep.";

/** What a new password must be; the server says so too. */
export const newPassword = z.string().min(10, LENGTH).max(200, LENGTH);
export const somePassword = z.string().min(1, "Type your password.");

/** A password that is typed: a new one, or the one that there is. */
export function Password({
  label,
  fresh = false,
  error,
  ...rest
}: { label: string; fresh?: boolean; error: string | undefined } & ComponentProps<"input">) {
  return (
    <Field label={label} hint={fresh ? "Ten characters or more." : undefined} error={error}>
      <input
        className="input w-full"
        type="password"
        autoComplete={fresh ? "new-password" : "current-password"}
        {...rest}
      />
    </Field>
  );
}

const named = z.object({ name: z.string().trim().min(1, "Write a name first.") });

/** One line that adds something by its name. */
export function AddByName({
  label,
  hint,
  action,
  save,
}: {
  label: string;
  hint?: string;
  action: string;
  save: (name: string) => Promise<unknown>;
}) {
  const form = useSending(named, { name: "" }, async ({ name }) => {
    await save(name);
    form.reset();
  });
  return (
    <form className="mt-2" onSubmit={form.submit} aria-label={action}>
      <div className="flex gap-2">
        <input
          className="input min-w-0 flex-1"
          aria-label={label}
          placeholder={hint ?? label}
          {...form.register("name")}
        />
        <Button type="submit" disabled={form.isSubmitting}>
          {action}
        </Button>
      </div>
      <Wrong text={form.wrong("name") ?? form.wrong("root")} />
    </form>
  );
}
