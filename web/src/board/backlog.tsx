/** The backlog: a region before the first column, where work lies by period until it is pulled. */
import { Ellipsis } from "lucide-react";
import { useState } from "react";
import type { Project, TaskRow } from "../data/api";
import { useMe } from "../data/hooks";
import { orTell } from "../data/notes";
import { IconButton, Pop } from "../parts/basics";
import { DateField } from "../parts/dates/field";
import { AddByName } from "../parts/form";
import { count, sayDay, sayHours } from "../parts/format";
import { TextField } from "../parts/text-field";
import { AddPop, MoveOut, OrderActs } from "./arranging";
import { usePeriods } from "./board";
import { Line } from "./column-form";
import type { Period } from "./shape";

/** Of a period: its name and days, how many tasks lie in it and how much work that is. */
export function PeriodHead({
  project,
  period,
  slips,
  manages,
}: {
  project: Project;
  period: Period;
  slips: TaskRow[];
  manages: boolean;
}) {
  const { now } = useMe();
  const effort = slips.reduce((sum, row) => sum + (row.effort ?? 0), 0);
  const days = [period.first, period.last].map((day) => (day ? sayDay(day, now) : ""));
  const span =
    period.first && period.last ? days.join(" – ") : days[0] ? `from ${days[0]}` : days[1] ? `until ${days[1]}` : "";
  return (
    <div className="reveals flex items-start gap-1 px-2 pt-2 pb-1.5">
      <div className="min-w-0 flex-1">
        <h3 className="font-sans text-[13px] font-semibold break-words">{period.name}</h3>
        <p className="text-[11.5px] text-ink-2">
          {[span, slips.length ? count(slips.length, "task") : "nothing yet", effort ? sayHours(effort) : ""]
            .filter(Boolean)
            .join(", ")}
        </p>
      </div>
      {manages && (
        <span className="-mt-0.5 reveal">
          <Pop
            label={`Period ${period.name}`}
            className="w-[300px]"
            trigger={
              <IconButton label={`Change the period ${period.name}`} className="size-6!">
                <Ellipsis size={14} />
              </IconButton>
            }
          >
            <PeriodForm project={project} period={period} />
          </Pop>
        </span>
      )}
    </div>
  );
}

function PeriodForm({ project, period }: { project: Project; period: Period }) {
  const define = usePeriods(project);
  const [doomed, setDoomed] = useState(false);
  const others = project.periods.filter((one) => one.id !== period.id);
  const at = project.periods.findIndex((one) => one.id === period.id);
  const moveTo = (to: number) => orTell(define.edit(period.id, { after_id: others[to - 1]?.id ?? null }));
  return (
    <div className="p-1">
      <Line label="Name">
        <TextField
          value={period.name}
          label="Name of the period"
          className="w-full px-1.5"
          onSave={(name) => define.edit(period.id, { name })}
        />
      </Line>
      {(["first", "last"] as const).map((end) => (
        <Line key={end} label={end === "first" ? "From" : "Until"}>
          <DateField
            label={end === "first" ? "First day of the period" : "Last day of the period"}
            className="w-full"
            value={period[end] ?? ""}
            onChange={(day) => orTell(define.edit(period.id, { settings: { [end]: day || null } }))}
          />
        </Line>
      ))}
      <OrderActs at={at} of={project.periods.length} moveTo={moveTo} remove={() => setDoomed(true)} />
      {doomed && (
        <MoveOut
          title={`Delete the period ${period.name}`}
          says="Tasks that lie in it move to"
          nowhere="none: they stand in the first column"
          others={others}
          remove={(to) => define.moveOut(period.id, period.name, to)}
          close={() => setDoomed(false)}
        />
      )}
    </div>
  );
}

export function AddPeriod({ project }: { project: Project }) {
  const define = usePeriods(project);
  return (
    <AddPop what="a period" name="Period of the backlog" className="p-2">
      <div className="px-1.5 pb-1">
        <AddByName label="Name of a new period" action="Add it" save={(name) => define.add(name, {})} />
      </div>
    </AddPop>
  );
}
