/** Planning: what was agreed and how far the plan is from it, replanning, and the plan's soundness. */
import type { Project } from "../../data/api";
import { draftHere } from "../../data/draft-here";
import type { Changes } from "../../tasks/changes";
import { Agreed } from "./agreed";
import { Exchange } from "./plan-file";
import { Replan } from "./replan";
import { Soundness } from "./soundness";
import { WhatIf } from "./what-if";

export interface PlanningProps {
  project: Project;
  changes: Changes;
  openTask: (id: string | null) => void;
}

export default function Planning(props: PlanningProps) {
  return (
    <div className="min-w-0 flex-1 overflow-auto">
      <div className="grid max-w-[1240px] gap-x-12 gap-y-8 px-[18px] py-5 lg:grid-cols-[1fr_1fr]">
        <div className="flex min-w-0 flex-col gap-8">
          <Agreed {...props} />
          <Replan {...props} />
          <Exchange {...props} />
        </div>
        <div className="flex min-w-0 flex-col gap-8">
          {!draftHere() && <WhatIf {...props} />}
          <Soundness {...props} />
        </div>
      </div>
    </div>
  );
}

export function Section({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <section className="min-w-0">
      <h2 className="mb-2 border-b border-rule-2 pb-1 text-[17px]">{title}</h2>
      {children}
    </section>
  );
}
