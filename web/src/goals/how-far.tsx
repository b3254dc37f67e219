/** How far a goal is: a line from start to target, a diamond where it stands, a dotted stroke where it should be by now. */
import { Health } from "../parts/health";
import { type Goal, sayOutcome } from "./goals";

const TONES: Record<string, string> = {
  steady: "text-verdigris",
  strained: "text-ochre",
  slipping: "text-ember",
};

export function HowFar({ goal, words = true }: { goal: Goal; words?: boolean }) {
  const { how } = goal;
  const at = how.percent === null ? null : Number(how.percent);
  const expected = goal.outcome === null && how.expected !== null ? Number(how.expected) : null;
  const said =
    at === null ? "nothing known yet" : `${at} %${expected === null ? "" : `, ${expected} % expected by now`}`;
  return (
    <div className={`min-w-0 ${TONES[how.health ?? ""] ?? "text-ink-2"}`} title={how.why || undefined}>
      <div className="relative mx-1.5 h-[18px]" role="img" aria-label={said}>
        <span className="absolute inset-x-0 top-[8.5px] h-px bg-rule-2" />
        <span className="absolute top-[3px] right-0 h-3 w-[2px] translate-x-1/2 bg-ink" />
        {expected !== null && (
          <span
            className="absolute top-0 h-[18px] border-l-2 border-dotted border-ink-2"
            style={{ left: `${expected}%` }}
          />
        )}
        {at !== null && (
          <>
            <span className="absolute top-[7px] left-0 h-1 bg-current" style={{ width: `${at}%` }} />
            <span
              className="absolute top-[4.5px] size-[9px] -translate-x-1/2 rotate-45 bg-current"
              style={{ left: `${at}%` }}
            />
          </>
        )}
      </div>
      {words && (
        <div className="flex justify-between gap-2 text-[11.5px] leading-[14px] text-ink-2">
          <span className="truncate">{goal.start}</span>
          <span className="flex-none">{how.far || "nothing known yet"}</span>
        </div>
      )}
    </div>
  );
}

/** Its health, or how it was closed. */
export function HealthOf({ goal }: { goal: Goal }) {
  if (goal.outcome) return <span className="font-semibold text-ink-2">{sayOutcome(goal.outcome)}</span>;
  const { health, proposed, why } = goal.how;
  return (
    <span className="inline-block">
      <Health value={health ?? "not_judged"} rule={why} />
      {health !== proposed && proposed && (
        <span className="block text-[11.5px] leading-[14px] text-ink-2" title={why}>
          figures: {proposed}
        </span>
      )}
    </span>
  );
}
