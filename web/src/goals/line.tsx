/** The values of a goal over its period, against the way from start to target; the same as a table for who cannot see it. */
import { differenceInCalendarDays, format, parseISO } from "date-fns";
import { X } from "lucide-react";
import { sentence } from "../data/api";
import { useMe, usePeople } from "../data/hooks";
import { note } from "../data/notes";
import { IconButton } from "../parts/basics";
import { sayDay } from "../parts/format";
import { type GoalDetail, useGoalActions } from "./goals";

const [WIDTH, HEIGHT] = [380, 90];

export function ValueLine({ goal }: { goal: GoalDetail }) {
  const { now } = useMe();
  const { byId } = usePeople();
  const { removeValue } = useGoalActions();
  const [start, target] = [Number(goal.measure.start), Number(goal.measure.target)];
  const days = Math.max(1, differenceInCalendarDays(parseISO(goal.last), parseISO(goal.first)));
  const values = goal.values.map((one) => ({ ...one, number: Number(one.value) }));
  const all = [start, target, ...values.map((one) => one.number)];
  const [low, high] = [Math.min(...all), Math.max(...all)];
  const x = (day: string) =>
    Math.max(0, Math.min(1, differenceInCalendarDays(parseISO(day), parseISO(goal.first)) / days)) * WIDTH;
  const y = (value: number) => HEIGHT - ((value - low) / (high - low || 1)) * HEIGHT;
  const today = format(now, "yyyy-MM-dd");
  return (
    <section aria-label="Values">
      <h3 className="mt-4 mb-2 text-[14px]">Values</h3>
      {values.length > 1 && (
        <svg
          viewBox={`-5 -6 ${WIDTH + 10} ${HEIGHT + 12}`}
          className="mb-2 w-full max-w-[420px]"
          role="img"
          aria-label={`${values.length} values, the latest ${goal.how.far}`}
        >
          <line x1={0} y1={y(start)} x2={WIDTH} y2={y(target)} stroke="var(--color-rule-2)" strokeDasharray="2 4" />
          {today >= goal.first && today <= goal.last && (
            <line x1={x(today)} x2={x(today)} y1={-6} y2={HEIGHT + 6} stroke="var(--color-rose)" strokeWidth={1.5} />
          )}
          <polyline
            points={values.map((one) => `${x(one.day)},${y(one.number)}`).join(" ")}
            fill="none"
            stroke="var(--color-ink)"
            strokeWidth={1.8}
          />
          {values.map((one) => (
            <rect
              key={one.id}
              x={x(one.day) - 3.5}
              y={y(one.number) - 3.5}
              width={7}
              height={7}
              transform={`rotate(45 ${x(one.day)} ${y(one.number)})`}
              fill="var(--color-ink)"
            />
          ))}
        </svg>
      )}
      <ul>
        {[...values].reverse().map((one) => (
          <li key={one.id} className="flex min-h-7 items-center gap-2 border-t border-rule text-[12.5px]">
            <span className="w-16 text-ink-2">{sayDay(one.day, now)}</span>
            <b className="font-semibold tabular-nums">
              {one.number.toLocaleString("en-GB", { maximumFractionDigits: 4 })} {goal.measure.sign}
            </b>
            <span className="min-w-0 flex-1 truncate text-ink-2">{byId.get(one.person_id)?.short}</span>
            {goal.right === "edit" && goal.outcome === null && !one.note_id && (
              <IconButton
                label={`Take the value of ${sayDay(one.day, now)} away`}
                className="!size-6"
                onClick={() => removeValue(goal.id, one.id).catch((error) => note(sentence(error), "wrong"))}
              >
                <X size={13} />
              </IconButton>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
