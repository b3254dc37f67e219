/** A column, changed where it stands: name, class, limits, rules, steps, place; and how long its limit was passed. */
import { useState } from "react";
import type { Project, State } from "../data/api";
import { useMe, usePeople } from "../data/hooks";
import { orTell } from "../data/notes";
import { stateClasses } from "../data/vocabulary";
import { Button, Field, Wrong } from "../parts/basics";
import { AddByName, useSending } from "../parts/form";
import { sayAge, sayWhen } from "../parts/format";
import { Select } from "../parts/select";
import { TextField } from "../parts/text-field";
import { z } from "../parts/zod";
import { DeleteState } from "../tasks/settings/workflow";
import { Act } from "./arranging";
import { type Place, useColumns } from "./board";
import type { HeadProps } from "./heads";
import type { Stage, Way } from "./shape";

export const readLimit = (text: string): number | null => (text.trim() ? Number(text) : null);

/** A label and a field beside it, within a popover. */
export function Line({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <div className="flex min-h-8 items-center gap-2 px-1.5">
      <span className="w-[92px] flex-none text-[12px] text-ink-2">{label}</span>
      <span className="min-w-0 flex-1">{children}</span>
    </div>
  );
}

export function ColumnForm({
  project,
  way,
  state,
  stage,
  whole,
  manages,
  places,
}: HeadProps & { state: State; stage: Stage; whole: boolean }) {
  const split = stage.steps.length > 1;
  const place = places.get(whole || !split ? `column:${state.id}` : `step:${state.id}`);
  return (
    <div className="p-1">
      {manages ? (
        <Change {...{ project, way, state, stage, whole }} />
      ) : (
        <>
          <h3 className="px-1.5 text-[14px]">{state.name}</h3>
          <RuleWords label="To come in" text={state.entry_rule} />
          <RuleWords label="To go on" text={state.exit_rule} />
        </>
      )}
      <LimitHistory place={place} />
    </div>
  );
}

function RuleWords({ label, text }: { label: string; text: string }) {
  if (!text) return null;
  return (
    <p className="px-1.5 py-1">
      <span className="label">{label}</span>
      {text}
    </p>
  );
}

/** When a limit was passed, for how long and why. */
export function LimitHistory({ place }: { place: Place | undefined }) {
  const { now } = useMe();
  const { byId } = usePeople();
  if (!place?.spells.length) return null;
  return (
    <section className="mt-1 border-t border-rule px-1.5 pt-1.5">
      <h4 className="font-sans text-[12px] font-semibold">
        Over its limit {sayHoursAndDays(place.minutes)} of the last 30 days
      </h4>
      <ul className="max-h-36 overflow-auto text-[12px]">
        {place.spells.slice(0, 20).map((one) => (
          <li key={one.since} className="py-0.5">
            {sayWhen(one.since, now)}
            {one.until ? `, for ${sayAge(one.since, new Date(one.until))}` : `, since then`}: {one.most} of {one.limit}
            {one.reason && (
              <span className="block text-ink-2">
                “{one.reason}”{one.person_id && `, ${byId.get(one.person_id)?.name ?? "somebody"}`}
              </span>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

const sayHoursAndDays = (minutes: number) =>
  minutes < 60
    ? `${minutes} min`
    : minutes < 2880
      ? `${Math.round(minutes / 60)} h`
      : `${Math.round(minutes / 1440)} d`;

function Change({
  project,
  way,
  state,
  stage,
  whole,
}: Pick<HeadProps, "project" | "way"> & { state: State; stage: Stage; whole: boolean }) {
  const columns = useColumns(project);
  const [part, setPart] = useState<"" | "split" | "add" | "delete">("");
  const split = stage.steps.length > 1;
  const further = Boolean(state.step_of);
  const edit = (body: Parameters<typeof columns.edit>[1]) => columns.edit(state, body).then(() => {});
  const limitOf = whole && split ? "column_limit" : "limit";
  const limit = state[limitOf];
  const at = way.stages.indexOf(stage);
  const moveTo = (to: number) => {
    const rest = way.stages.filter((one) => one !== stage);
    orTell(edit({ after_id: rest[to - 1]?.head.id ?? null }));
  };
  return (
    <>
      <Line label={whole ? "Name" : "Step"}>
        <TextField
          value={whole ? state.name : state.step}
          label={whole ? "Name of the column" : "Name of the step"}
          className="w-full px-1.5"
          onSave={(text) => edit(whole ? { name: text } : { step: text })}
        />
      </Line>
      {!further && whole && (
        <Line label="Class">
          <Select
            className="w-full"
            aria-label="Class of the column"
            value={state.state_class}
            onChange={(event) => orTell(edit({ state_class: event.target.value as State["state_class"] }))}
          >
            {stateClasses().map((one) => (
              <option key={one}>{one}</option>
            ))}
          </Select>
        </Line>
      )}
      <Line label="Limit">
        <TextField
          value={limit ? String(limit) : ""}
          label="Limit of the column"
          placeholder="no limit"
          className="w-full px-1.5"
          onSave={(text) => edit({ [limitOf]: readLimit(text) })}
        />
      </Line>
      {whole && (
        <>
          <Line label="To come in">
            <TextField
              value={state.entry_rule}
              label="Rule on entry"
              placeholder="in words"
              className="w-full px-1.5"
              onSave={(text) => edit({ entry_rule: text })}
            />
          </Line>
          <Line label="To go on">
            <TextField
              value={state.exit_rule}
              label="Rule on exit"
              placeholder="in words"
              className="w-full px-1.5"
              onSave={(text) => edit({ exit_rule: text })}
            />
          </Line>
        </>
      )}
      <div className="mt-1 grid border-t border-rule pt-1">
        {whole && (
          <>
            <Act disabled={at === 0} onClick={() => moveTo(at - 1)}>
              Move to the left
            </Act>
            <Act disabled={at === way.stages.length - 1} onClick={() => moveTo(at + 1)}>
              Move to the right
            </Act>
            <Act onClick={() => setPart(part === "add" ? "" : "add")}>Add a column behind it</Act>
          </>
        )}
        {part === "add" && <AddColumn project={project} way={way} after={state.id} />}
        {(!whole || !split) && (
          <Act onClick={() => setPart(part === "split" ? "" : "split")}>
            {split ? "Add a step behind it" : "Split into steps"}
          </Act>
        )}
        {part === "split" && <Split project={project} state={state} close={() => setPart("")} />}
        {further && <Act onClick={() => orTell(columns.join(state))}>Join to {stage.head.step || stage.head.name}</Act>}
        {whole && <Act onClick={() => setPart("delete")}>Delete</Act>}
      </div>
      {part === "delete" && <DeleteState project={project} state={state} close={() => setPart("")} />}
    </>
  );
}

const steps = z.object({
  first: z.string().trim().min(1, "Name the first step."),
  second: z.string().trim().min(1, "Name the step behind it."),
});

function Split({ project, state, close }: { project: Project; state: State; close: () => void }) {
  const columns = useColumns(project);
  const form = useSending(
    steps,
    { first: state.step || "Doing", second: state.step ? "" : "Ready to go on" },
    async ({ first, second }) => {
      await columns.split(state, first, second);
      close();
    },
  );
  return (
    <form onSubmit={form.submit} className="px-1.5 py-1" aria-label="Split into steps">
      <Field label="What stands here is" error={form.wrong("first")}>
        <input className="input w-full" maxLength={60} {...form.register("first")} />
      </Field>
      <Field label="and goes on to" error={form.wrong("second")}>
        <input className="input w-full" maxLength={60} {...form.register("second")} />
      </Field>
      <Wrong text={form.wrong("root")} />
      <Button type="submit" look="go" disabled={form.isSubmitting}>
        Split
      </Button>
    </form>
  );
}

export function AddColumn({ project, way, after }: { project: Project; way: Way; after: string | null }) {
  const columns = useColumns(project);
  const behind = way.states.find((one) => one.id === after);
  const [kind, setKind] = useState<State["state_class"]>(
    behind && behind.state_class !== "finished" ? behind.state_class : "active",
  );
  return (
    <div className="px-1.5 pb-1">
      <Select
        className="w-full"
        aria-label="Class of the new column"
        value={kind}
        onChange={(event) => setKind(event.target.value as State["state_class"])}
      >
        {stateClasses().map((one) => (
          <option key={one}>{one}</option>
        ))}
      </Select>
      <AddByName label="Name of a new column" action="Add it" save={(name) => columns.add(name, kind, way.id, after)} />
    </div>
  );
}
