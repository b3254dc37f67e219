/** Replan from today, and shift the whole project to a new start. Both show their ripple first. */
import { format } from "date-fns";
import { useState } from "react";
import { may, useMe } from "../../data/hooks";
import { Button } from "../../parts/basics";
import { DateField } from "../../parts/dates/field";
import { type PlanningProps, Section } from ".";

export function Replan({ project, changes }: PlanningProps) {
  const { now } = useMe();
  const today = format(now, "yyyy-MM-dd");
  const [status, setStatus] = useState(today);
  const [start, setStart] = useState(project.start_day);
  const [busy, setBusy] = useState(false);
  const run = async (what: () => Promise<unknown>) => {
    setBusy(true);
    await what();
    setBusy(false);
  };
  if (!may(project, "edit")) return null;
  return (
    <Section title="Replan">
      <p className="mb-2 text-ink-2">
        Put what was not done behind the status day: what has begun gets the finish to be expected, what has not begins
        no sooner than then, and what waits follows. You see everything that moves first.
      </p>
      <div className="flex flex-wrap items-end gap-x-6 gap-y-3">
        <form
          className="flex items-end gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            run(() => changes.replan(status === today ? null : status));
          }}
        >
          <DayField label="Status day" value={status} set={setStatus} />
          <Button look="go" type="submit" disabled={busy}>
            {status === today ? "Replan from today" : "Replan from that day"}
          </Button>
        </form>
        {may(project, "manage") && (
          <form
            className="flex items-end gap-2"
            onSubmit={(event) => {
              event.preventDefault();
              run(() => changes.shift(null, start));
            }}
          >
            <DayField label="Shift the project to start on" value={start} set={setStart} />
            <Button type="submit" disabled={busy || start === project.start_day}>
              Shift
            </Button>
          </form>
        )}
      </div>
    </Section>
  );
}

function DayField({ label, value, set }: { label: string; value: string; set: (day: string) => void }) {
  return (
    <div>
      <span className="label">{label}</span>
      <DateField required label={label} className="w-[140px]" value={value} onChange={set} />
    </div>
  );
}
