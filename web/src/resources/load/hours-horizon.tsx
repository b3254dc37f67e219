/** The horizon where hours are planned: hours booked a week against what the project's people can do. */
import { parseISO } from "date-fns";
import type { Project, Schemas } from "../../data/api";
import { Horizon, type HoursOfWeek } from "../../shell/horizon";
import { total, useLoad } from "./use-load";

export function HoursHorizon({
  project,
  data,
  window,
  onChange,
}: {
  project: Project;
  data: Schemas["HorizonOut"] | undefined;
  window: { since: string | null; until: string | null };
  onChange: (window: { since: string | null; until: string | null }) => void;
}) {
  const weeks = data?.weeks ?? [];
  const first = weeks[0]?.monday ?? "2027-01-04";
  const asked = { first, by: "week", count: "hours", everywhere: true, team: null, over: false } as const;
  const load = useLoad(project.code, asked, project.hours ? weeks.length : 0);
  const people = (load.data?.lines ?? []).filter((line) => line.kind === "person");
  const sum = (of: (line: (typeof people)[number]) => number) => people.reduce((all, line) => all + of(line), 0);
  const hours: HoursOfWeek[] | undefined = load.data?.columns.map((monday, index) => ({
    monday,
    booked: sum((line) => total(line, index)),
    capacity: sum((line) => line.capacity[index] ?? 0),
    over: sum((line) => line.over[index] ?? 0),
  }));
  const fits = hours?.length && hours[0] && parseISO(hours[0].monday) <= parseISO(first);
  return <Horizon data={data} window={window} onChange={onChange} hours={fits ? hours : undefined} />;
}
