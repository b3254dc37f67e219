/** A goal that is set or changed: what is aimed at, by whom and when, how it is measured, and who sees it. */
import { addMonths, endOfMonth, endOfQuarter, endOfYear, format, startOfQuarter, startOfYear } from "date-fns";
import { X } from "lucide-react";
import { Suspense, useState } from "react";
import { sentence } from "../data/api";
import { manages, useMe, usePeople, useTeams } from "../data/hooks";
import { Button, Field, Modal, Wrong } from "../parts/basics";
import { DateField } from "../parts/dates/field";
import { later } from "../parts/later";
import { AddPerson } from "../parts/people-chips";
import { RhythmField } from "../parts/rhythm";
import { Select } from "../parts/select";
import { readValue } from "./forms";
import {
  type Goal,
  type GoalDetail,
  type GoalEdit,
  type GoalNew,
  type Measure,
  useGoalActions,
  useGoals,
} from "./goals";
import { MeasureFields } from "./measure";

const RichText = later(() => import("../parts/rich-text").then((module) => module.default));
const iso = (day: Date) => format(day, "yyyy-MM-dd");
const RIGHTS = [
  ["read", "reads"],
  ["comment", "comments"],
  ["edit", "edits"],
] as const;

const HAND: Measure = {
  kind: "hand",
  unit: "number",
  sign: "",
  decimals: 0,
  start: "0",
  target: "100",
  projects: [],
  where: "",
  counts: "tasks",
  by: "count",
  field: "",
  steps: [],
}; // prettier-ignore

/** The periods that lie near: quarters, halves, the year. */
function periods(now: Date): [string, string, string][] {
  const quarter = startOfQuarter(now);
  const next = addMonths(quarter, 3);
  const half = now.getMonth() < 6 ? startOfYear(now) : addMonths(startOfYear(now), 6);
  return [
    ["this quarter", iso(quarter), iso(endOfQuarter(quarter))],
    ["next quarter", iso(next), iso(endOfQuarter(next))],
    ["this half", iso(half), iso(endOfMonth(addMonths(half, 5)))],
    ["this year", iso(startOfYear(now)), iso(endOfYear(now))],
  ];
}

export function GoalForm({
  goal,
  under,
  close,
  done,
}: {
  goal?: GoalDetail;
  under?: Goal;
  close: () => void;
  done: (id: string) => void;
}) {
  const me = useMe();
  const { active } = usePeople();
  const teams = useTeams();
  const goals = useGoals().data?.goals ?? [];
  const { aim, edit } = useGoalActions();
  const near = periods(me.now);
  const [typed, setTyped] = useState<Omit<GoalNew, "id">>(() => ({
    title: goal?.title ?? "",
    owner_id: goal?.owner_id ?? me.person.id,
    first: goal?.first ?? under?.first ?? near[2]?.[1] ?? "",
    last: goal?.last ?? under?.last ?? near[2]?.[2] ?? "",
    parent_id: goal ? goal.parent_id : (under?.id ?? null),
    belongs: goal?.belongs ?? (manages(me.person) ? "organisation" : "person"),
    whose: goal ? goal.whose : manages(me.person) ? null : me.person.id,
    description: goal?.description ?? "",
    seen_by: goal?.seen_by ?? "everyone",
    people: goal?.people ?? {},
    weight: goal?.weight ?? 1,
    measure: goal?.measure ?? HAND,
    rhythm: goal?.rhythm ?? null,
  }));
  const [wrong, setWrong] = useState("");
  const [sending, setSending] = useState(false);
  const set = (part: Partial<typeof typed>) => setTyped((before) => ({ ...before, ...part }));
  async function submit(event: React.FormEvent) {
    event.preventDefault();
    setSending(true);
    try {
      const { start, target, steps, ...rest } = typed.measure;
      const measure = {
        ...rest,
        start: readValue(String(start)) ?? "0",
        target: readValue(String(target)) ?? "0",
        steps: steps.map((one) => ({ ...one, value: readValue(String(one.value)) ?? "0" })),
      };
      const wanted = { ...typed, measure };
      if (!goal) return done(await aim(wanted));
      const before = { ...goal } as Record<string, unknown>;
      const changed = Object.entries(wanted).filter(
        ([name, value]) => JSON.stringify(value) !== JSON.stringify(before[name]),
      );
      if (changed.length) await edit(goal.id, { version: goal.version, ...Object.fromEntries(changed) } as GoalEdit);
      done(goal.id);
    } catch (error) {
      setWrong(sentence(error));
      setSending(false);
    }
  }
  const above = goals.filter((one) => one.outcome === null && one.id !== goal?.id && one.right !== "read");
  return (
    <Modal open onOpenChange={(next) => !next && close()} title={goal ? "Change the goal" : "Set a goal"} width={620}>
      <form onSubmit={submit} noValidate>
        <Field label="What is aimed at">
          <input
            className="input w-full"
            maxLength={200}
            placeholder="Three places open by midsummer"
            value={typed.title}
            onChange={(event) => set({ title: event.target.value })}
          />
        </Field>
        <div className="mb-3">
          <span className="label">Why, and what it means</span>
          <Suspense fallback={<div className="h-16 border border-rule-2" />}>
            <RichText
              label="Why, and what it means"
              first={typed.description ?? ""}
              placeholder="for those who work towards it"
              onChange={(description) => set({ description })}
              onSubmit={() => undefined}
              picture={() => Promise.reject(new Error("Pictures are attached to tasks. Put a link here."))}
            />
          </Suspense>
        </div>
        <div className="grid gap-x-4 sm:grid-cols-2">
          <Field label="Owner">
            <Select
              className="w-full"
              value={typed.owner_id ?? ""}
              onChange={(event) => set({ owner_id: event.target.value })}
            >
              {active.map((one) => (
                <option key={one.id} value={one.id}>
                  {one.name}
                </option>
              ))}
            </Select>
          </Field>
          <Field label="Below which goal">
            <Select
              className="w-full"
              value={typed.parent_id ?? ""}
              onChange={(event) => set({ parent_id: event.target.value || null })}
            >
              <option value="">none: it stands on its own</option>
              {above.map((one) => (
                <option key={one.id} value={one.id}>
                  {one.title}
                </option>
              ))}
            </Select>
          </Field>
        </div>
        <div className="mb-3">
          <span className="label">Period</span>
          <div className="flex flex-wrap items-center gap-2">
            <DateField label="First day" value={typed.first} onChange={(first) => set({ first })} /> to
            <DateField label="Last day" value={typed.last} onChange={(last) => set({ last })} />
            {near.map(([words, first, last]) => (
              <button
                key={words}
                type="button"
                aria-pressed={typed.first === first && typed.last === last}
                className={`text-[12.5px] hover:underline ${typed.first === first && typed.last === last ? "font-semibold text-ink" : "text-rose"}`}
                onClick={() => set({ first, last })}
              >
                {words}
              </button>
            ))}
          </div>
        </div>
        <div className="grid gap-x-4 sm:grid-cols-2">
          <Field label="Where it belongs">
            <Select
              className="w-full"
              value={typed.belongs === "organisation" ? "organisation" : `${typed.belongs} ${typed.whose}`}
              onChange={(event) => {
                const [belongs, whose] = event.target.value.split(" ");
                set({ belongs: belongs as GoalNew["belongs"], whose: whose ?? null });
              }}
            >
              {(manages(me.person) || typed.belongs === "organisation") && (
                <option value="organisation">the organisation</option>
              )}
              {teams.map((one) => (
                <option key={one.id} value={`team ${one.id}`}>
                  {one.name}, a team
                </option>
              ))}
              {active.map((one) => (
                <option key={one.id} value={`person ${one.id}`}>
                  {one.name}
                </option>
              ))}
            </Select>
          </Field>
          <RhythmField
            label="Reminder of a progress note"
            value={typed.rhythm ?? null}
            set={(rhythm) => set({ rhythm })}
          />
        </div>
        <MeasureFields
          measure={typed.measure}
          first={typed.first}
          last={typed.last}
          set={(part) => set({ measure: { ...typed.measure, ...part } })}
        />
        {typed.parent_id && (
          <Field label="Weight in the goal above" hint="Counts where that one is measured from the goals below it.">
            <input
              className="input w-24"
              inputMode="numeric"
              value={typed.weight}
              onChange={(event) => set({ weight: Number(event.target.value.replace(/\D/g, "")) || 1 })}
            />
          </Field>
        )}
        <Seen typed={typed} set={set} />
        <Wrong text={wrong} />
        <div className="mt-2 flex gap-2">
          <Button look="go" type="submit" disabled={sending || !typed.title.trim()}>
            {goal ? "Save" : "Set it"}
          </Button>
          <Button look="quiet" onClick={close}>
            {goal ? "Leave it as it is" : "Not now"}
          </Button>
        </div>
      </form>
    </Modal>
  );
}

function Seen({ typed, set }: { typed: Omit<GoalNew, "id">; set: (part: Partial<GoalNew>) => void }) {
  const { byId } = usePeople();
  const named = Object.entries(typed.people ?? {});
  return (
    <div className="mb-3">
      <span className="label">Seen by</span>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        {(
          [
            ["everyone", "everyone but guests"],
            ["people", "named people only"],
          ] as const
        ).map(([id, words]) => (
          <label key={id} className="flex items-center gap-1.5">
            <input type="radio" name="seen" checked={typed.seen_by === id} onChange={() => set({ seen_by: id })} />
            {words}
          </label>
        ))}
        <AddPerson label="Name somebody" choose={(one) => set({ people: { ...typed.people, [one]: "comment" } })}>
          + name somebody
        </AddPerson>
      </div>
      <ul>
        {named.map(([id, right]) => (
          <li key={id} className="mt-1 flex items-center gap-2">
            <span className="w-40 truncate">{byId.get(id)?.name ?? "somebody"}</span>
            <Select
              aria-label={`What ${byId.get(id)?.name} may do`}
              className="w-32"
              value={right}
              onChange={(event) => set({ people: { ...typed.people, [id]: event.target.value as typeof right } })}
            >
              {RIGHTS.map(([one, words]) => (
                <option key={one} value={one}>
                  {words}
                </option>
              ))}
            </Select>
            <button
              type="button"
              aria-label={`Name ${byId.get(id)?.name} no more`}
              className="p-1 text-ink-2 hover:text-ink"
              onClick={() => set({ people: Object.fromEntries(named.filter(([one]) => one !== id)) })}
            >
              <X size={13} />
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}
