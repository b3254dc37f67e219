/** The facet: a hexagon filled from the bottom by percent done, in the colour of the task's health. */
import { useId } from "react";
import type { TaskRow } from "../data/api";

const HEXAGON = "8,0.8 14.4,4.4 14.4,11.6 8,15.2 1.6,11.6 1.6,4.4";
const TONE: Record<string, string> = {
  steady: "var(--color-ink)",
  not_judged: "var(--color-ink)",
  strained: "var(--color-ochre)",
  slipping: "var(--color-ember)",
};

type Shown = Pick<TaskRow, "percent" | "health" | "state_class" | "kind">;

/** What the facet says, for those who do not see it. */
export function sayFacet(row: Shown): string {
  if (row.state_class === "finished") return "finished";
  if (row.state_class === "dropped") return "dropped";
  return `${row.percent} % done${row.health === "slipping" || row.health === "strained" ? `, ${row.health}` : ""}`;
}

export function Facet({ row, size = 16 }: { row: Shown; size?: number }) {
  const clip = useId();
  const tone = TONE[row.health] ?? "var(--color-ink)";
  const percent = row.state_class === "finished" ? 100 : row.percent;
  if (row.kind === "milestone") {
    return (
      <svg
        width={size}
        height={size}
        viewBox="0 0 16 16"
        role="img"
        aria-label={`milestone, ${sayFacet(row)}`}
        className="flex-none"
      >
        <path
          d="M8 1.2l6.8 6.8L8 14.8 1.2 8z"
          fill={percent === 100 ? tone : "var(--color-sheet)"}
          stroke={tone}
          strokeWidth="1.4"
        />
        {percent === 100 && <path d="M5.2 8.2l2 2 3.6-4" stroke="var(--color-sheet)" strokeWidth="1.5" fill="none" />}
      </svg>
    );
  }
  return (
    <svg width={size} height={size} viewBox="0 0 16 16" role="img" aria-label={sayFacet(row)} className="flex-none">
      <clipPath id={clip}>
        <polygon points={HEXAGON} />
      </clipPath>
      <g clipPath={`url(#${clip})`}>
        <rect width="16" height="16" fill="var(--color-sheet)" />
        <rect y={16 - 0.16 * percent} width="16" height={0.16 * percent} fill={tone} />
      </g>
      <polygon points={HEXAGON} fill="none" stroke={tone} strokeWidth="1.4" />
      {row.state_class === "finished" && (
        <path d="M4.8 8.3l2.2 2.2 4.2-4.6" stroke="var(--color-sheet)" strokeWidth="1.6" fill="none" />
      )}
      {row.state_class === "dropped" && <path d="M1.5 14.5l13-13" stroke={tone} strokeWidth="1.6" />}
    </svg>
  );
}
