/** Why a task stands where it does: shown on hovering a date or a bar, and with the key W. */
import type { Project, TaskRow } from "../../data/api";
import { useMe } from "../../data/hooks";
import { sayDay, sayDuration, sayFull } from "../../parts/format";
import { capital, useWhy } from "../../parts/why";

export interface WhyAt {
  id: string;
  x: number;
  y: number;
}

export function WhyTip({ at, row, project }: { at: WhyAt; row: TaskRow; project: Project }) {
  const { data } = useWhy(at.id, row.revision);
  const { now } = useMe();
  if (!data) return null;
  const later = data.forecast_finish && row.finish && data.forecast_finish.slice(0, 10) > row.finish.slice(0, 10);
  return (
    <div
      role="tooltip"
      id="why"
      className="pointer-events-none fixed z-50 max-w-[340px] border border-ink bg-sheet px-3 py-2 text-[12.5px] leading-snug shadow-[0_14px_34px_-12px_#231a2455]"
      style={{ left: Math.min(at.x, window.innerWidth - 352), top: Math.min(at.y, window.innerHeight - 130) }}
    >
      <p className="font-semibold">{row.title}</p>
      {row.start && (
        <p className="text-ink-2">
          {row.kind === "milestone" ? sayFull(row.finish) : `${sayFull(row.start)} to ${sayFull(row.finish)}`}
        </p>
      )}
      <p>{capital(data.start)}.</p>
      {data.slack && row.state_class !== "finished" && <p>{capital(data.slack)}.</p>}
      {data.free_slack !== null && data.free_slack > 0 && row.state_class !== "finished" && (
        <p className="text-ink-2">
          {sayDuration(data.free_slack, project.day_minutes)} of it before any other task moves.
        </p>
      )}
      {later && row.state_class !== "finished" && (
        <p className="text-ink-2">Forecast to finish on {sayDay(data.forecast_finish, now)}.</p>
      )}
      {data.conflicts.map((line) => (
        <p key={line} className="font-semibold text-ember">
          {line}
        </p>
      ))}
    </div>
  );
}
