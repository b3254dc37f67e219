/** The title line: code and name at the left; at the right the facts that a manager is asked for. */
import type { ReactNode } from "react";
import type { Project, ScopeAnswer } from "../data/api";
import { useMe } from "../data/hooks";
import { count, sayDay, sayFull } from "../parts/format";
import { Health } from "../parts/health";

export function TitleLine({ code, title, children }: { code?: string; title: string; children?: ReactNode }) {
  return (
    <div className="flex min-h-[46px] flex-none flex-wrap items-baseline gap-x-3.5 gap-y-0.5 px-3 pt-3 pb-1 sm:px-[18px]">
      {code && <span className="text-[11px] font-semibold tracking-[.08em] text-rose">{code}</span>}
      <h1 className="min-w-0 truncate text-[23px]">{title}</h1>
      <div className="flex flex-wrap items-baseline gap-x-[18px] text-ink-2 sm:ml-auto [&_b]:font-semibold [&_b]:text-ink">
        {children}
      </div>
    </div>
  );
}

export function ProjectTitle({ project, facts }: { project: Project; facts: ScopeAnswer["facts"] | undefined }) {
  const { now } = useMe();
  const next = facts?.next_milestone;
  return (
    <TitleLine code={project.code} title={project.name}>
      {project.archived && <span className="font-semibold text-slate">Archived: it can be read, not changed</span>}
      {facts && (
        <>
          {/* a portfolio whose own items have no dates is judged item by item, by what these are tied to */}
          {!(project.portfolio && facts.health === "not_judged") && (
            <Health value={facts.health} rule={facts.health_rule} />
          )}
          <span>
            <b>{facts.percent} %</b> done
          </span>
          {facts.finish && (
            <span title={sayFull(facts.finish)}>
              Finish <b>{sayDay(facts.finish, now)}</b>
              {facts.agreed && facts.agreed_days !== 0 && (
                <span title={`Agreed: ${sayFull(facts.agreed)}`}>
                  , {count(Math.abs(facts.agreed_days), "day")} {facts.agreed_days > 0 ? "past" : "before"} the agreed
                  date
                </span>
              )}
              {facts.forecast && facts.forecast_days > 0 && (
                <span title={`Forecast: ${sayFull(facts.forecast)}, by what is done so far`}>
                  , forecast <b>{sayDay(facts.forecast, now)}</b>
                </span>
              )}
            </span>
          )}
          {next?.finish && (
            <span title={sayFull(next.finish)} className="hidden md:inline">
              Next <b>◆ {next.title}</b>, {sayDay(next.finish, now)}
            </span>
          )}
        </>
      )}
    </TitleLine>
  );
}
