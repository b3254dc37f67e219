/** What if: drafts of the plan, one's own and those that colleagues share. */

import { useSearchParams } from "react-router";
import { may, useMe, usePeople } from "../../data/hooks";
import { Failed } from "../../parts/basics";
import { AddByName } from "../../parts/form";
import { count, sayDay } from "../../parts/format";
import { useDraftChanges, useDrafts } from "../draft";
import { type PlanningProps, Section } from ".";

export function WhatIf({ project }: PlanningProps) {
  const { code } = project;
  const { now } = useMe();
  const { byId } = usePeople();
  const { data, error, refetch } = useDrafts(code);
  const { start } = useDraftChanges(code);
  const [, setParams] = useSearchParams();
  const open = (draft: string) => setParams({ draft });
  if (error) return <Failed error={error} retry={refetch} />;
  return (
    <Section title="What if">
      <p className="mb-2 text-ink-2">
        Try several changes in a draft beside the plan: every lens shows what would come of them. Compare it with the
        plan, share it, apply it or throw it away.
      </p>
      <ul>
        {data?.map((one) => (
          <li key={one.id} className="flex min-h-9 items-center gap-3 border-b border-rule">
            <button
              type="button"
              className="min-w-0 flex-1 truncate text-left font-semibold hover:underline"
              onClick={() => open(one.id)}
            >
              {one.name}
            </button>
            <span className="text-[12.5px] text-ink-2">
              {one.changes ? `${count(one.changes, "task")} changed` : "nothing changed yet"}
            </span>
            <span className="text-[12.5px] text-ink-2">
              {one.mine
                ? one.shared
                  ? "shared"
                  : "only you see it"
                : `by ${byId.get(one.person_id)?.short ?? "somebody"}`}
            </span>
            <span className="text-[12.5px] text-ink-2">{sayDay(one.at, now)}</span>
          </li>
        ))}
      </ul>
      {may(project, "edit") && (
        <AddByName
          label="Name of the new draft"
          hint="Second crew in May"
          action="Start a draft"
          save={async (name) => open((await start(name)).id)}
        />
      )}
    </Section>
  );
}
