/** Checks of the plan's soundness, each with the tasks concerned and what mends it. */

import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, type Schemas } from "../../data/api";
import { may } from "../../data/hooks";
import { projectKey } from "../../data/keys";
import { Button, Failed, Loading } from "../../parts/basics";
import { count } from "../../parts/format";
import { DaysField } from "../days-field";
import { type PlanningProps, Section } from ".";

const FIRST = 5;

export function Soundness({ project, changes, openTask }: PlanningProps) {
  const queries = useQueryClient();
  const { data, error, refetch } = useQuery({
    queryKey: projectKey(project.code, "soundness"),
    queryFn: () => ask(client.GET("/api/projects/{code}/soundness", { params: { path: { code: project.code } } })),
  });
  if (error) return <Failed error={error} retry={refetch} />;
  if (!data) return <Loading what="the checks" rows={8} />;
  const found = data.filter((check) => check.tasks.length);
  const clean = data.filter((check) => !check.tasks.length);
  return (
    <Section title="Soundness">
      {!found.length && <p className="text-ink-2">All checks pass: the dates are worth what they look.</p>}
      <ul className="flex flex-col gap-4">
        {found.map((check) => (
          <Found
            key={check.kind}
            check={check}
            canMend={may(project, "edit")}
            mend={(ids) => changes.mend(check.kind, ids)}
            openTask={openTask}
          />
        ))}
      </ul>
      <div className="mt-4">
        <DaysField
          name="longest_days"
          before="A task is long beyond"
          onSaved={() => queries.invalidateQueries({ queryKey: projectKey(project.code, "soundness") })}
        />
      </div>
      {found.length > 0 && clean.length > 0 && (
        <p className="mt-2 border-t border-rule pt-2 text-[12.5px] text-ink-2">
          <span className="text-verdigris" aria-hidden="true">
            ●{" "}
          </span>
          Nothing found: {clean.map((check) => check.title.toLowerCase()).join(", ")}.
        </p>
      )}
    </Section>
  );
}

function Found({
  check,
  canMend,
  mend,
  openTask,
}: {
  check: Schemas["CheckOut"];
  canMend: boolean;
  mend: (ids: string[]) => Promise<unknown>;
  openTask: (id: string) => void;
}) {
  const [all, setAll] = useState(false);
  const shown = all ? check.tasks : check.tasks.slice(0, FIRST);
  return (
    <li>
      <div className="flex items-start gap-3">
        <div className="min-w-0 flex-1">
          <h3 className="font-sans text-[13px]">
            {check.title} <span className="font-normal text-ink-2">· {count(check.tasks.length, "task")}</span>
          </h3>
          <p className="text-[12.5px] text-ink-2">{check.says}</p>
        </div>
        {check.fix && canMend && (
          <Button className="h-[26px] px-2.5" onClick={() => mend(check.tasks.map((one) => one.id))}>
            {check.fix}
          </Button>
        )}
      </div>
      <ul className="mt-1">
        {shown.map((one) => (
          <li key={one.id} className="border-t border-rule">
            <button
              type="button"
              className="block min-h-[26px] w-full truncate text-left hover:bg-rose-soft"
              onClick={() => openTask(one.id)}
            >
              <span className="mr-2 inline-block w-7 text-right text-ink-3">{one.number}</span>
              {one.title}
            </button>
          </li>
        ))}
      </ul>
      {check.tasks.length > FIRST && (
        <button type="button" className="text-[12.5px] text-rose hover:underline" onClick={() => setAll(!all)}>
          {all ? "Show fewer" : `Show all ${check.tasks.length}`}
        </button>
      )}
    </li>
  );
}
