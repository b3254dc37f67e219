/** A part of a portfolio: how it stands as a whole; and for leads what is shown of it, and in which columns. */
import { CornerDownRight, Ellipsis, Plus } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import type { Project } from "../data/api";
import { useMe, useProject, useWork } from "../data/hooks";
import { orTell } from "../data/notes";
import { kinds } from "../data/vocabulary";
import { IconButton, Pop } from "../parts/basics";
import { count, sayDay, sayFull } from "../parts/format";
import { Health } from "../parts/health";
import { Picker } from "../parts/picker";
import { Select } from "../parts/select";
import { ToldLine } from "../reports/newest";
import { type Part, type PortfolioAnswer, useParts } from "./portfolio";

export function PartHead({
  part,
  parts,
  project,
  columns,
  manages,
}: {
  part: Part;
  parts: Part[];
  project: Project;
  columns: PortfolioAnswer["columns"];
  manages: boolean;
}) {
  const { now } = useMe();
  const at = part.expected ?? part.finish;
  return (
    <div className="reveals sticky left-0 z-[5] border-r border-b border-r-rule border-b-rule-2 bg-paper p-2">
      <div className="sticky top-[60px]">
        <div className="flex items-start gap-1">
          {part.depth > 0 && (
            <CornerDownRight
              size={12}
              className="mt-1 flex-none text-ink-3"
              aria-label={`through ${part.through || "a portfolio that you may not see"}`}
            />
          )}
          <h3 className="min-w-0 flex-1 font-sans text-[13px] leading-tight font-semibold">
            <Link to={`/p/${part.code}`} className="hover:underline">
              <span className="mr-1.5 text-[11px] tracking-[.08em] text-rose">{part.code}</span>
              {part.name}
            </Link>
          </h3>
          {manages && part.depth === 0 && (
            <span className="-mt-0.5 -mr-1.5 reveal">
              <Pop
                label={`Part ${part.code}`}
                className="w-[300px]"
                trigger={
                  <IconButton label={`Change what is shown of ${part.code}`} className="size-6!">
                    <Ellipsis size={14} />
                  </IconButton>
                }
              >
                <PartForm {...{ part, parts, project, columns }} />
              </Pop>
            </span>
          )}
        </div>
        <p className="mt-1 text-[11.5px]">
          <Health value={part.health} />
        </p>
        <p className="text-[11.5px] text-ink-2" title={part.agreed ? `agreed: ${sayFull(part.agreed)}` : undefined}>
          {part.percent} % done
          {at && `, ${sayDay(at, now)}`}
          {part.agreed && part.agreed_days !== 0 && (
            <span className={part.agreed_days > 0 ? "text-ember" : ""}>
              , {count(Math.abs(part.agreed_days), "day")} {part.agreed_days > 0 ? "past" : "before"} agreed
            </span>
          )}
        </p>
        <p className="text-[11.5px] text-ink-2">
          <ToldLine code={part.code} />
        </p>
        {(part.late > 0 || part.held > 0) && (
          <p className="text-[11.5px] text-ink-2">
            {[part.late ? `${part.late} late` : "", part.held ? `${part.held} held` : ""].filter(Boolean).join(", ")}
          </p>
        )}
      </div>
    </div>
  );
}

/** What can be shown of a project. */
function useShows(code: string): [string, string][] {
  const joined = useProject(code).data;
  if (joined?.portfolio) return [["deliverables", "its larger items"]];
  return [
    ["deliverables", "deliverables"],
    ...[1, 2, 3].map((level): [string, string] => [`level:${level}`, `level ${level} of the outline`]),
    ...[...kinds().filter((one) => one.id !== "deliverable"), ...(joined?.kinds ?? [])].map((one): [string, string] => [
      `kind:${one.id}`,
      `of the kind ${one.name}`,
    ]),
  ];
}

function PartForm({
  part,
  parts,
  project,
  columns,
}: {
  part: Part;
  parts: Part[];
  project: Project;
  columns: PortfolioAnswer["columns"];
}) {
  const change = useParts(project.code);
  const shows = useShows(part.code);
  const states = useProject(part.code).data?.states ?? [];
  const own = parts.filter((one) => one.depth === 0);
  const at = own.findIndex((one) => one.id === part.id);
  const moveTo = (to: number) => {
    const rest = own.filter((one) => one.id !== part.id);
    orTell(change.edit(part, { after_id: rest[to - 1]?.id ?? null }));
  };
  const map = (state: string, column: string) => {
    const { [state]: _, ...rest } = part.states;
    orTell(change.edit(part, { states: column ? { ...rest, [state]: column } : rest }));
  };
  return (
    <div className="p-1.5">
      <label className="block">
        <span className="label">Shown of it</span>
        <Select
          className="w-full"
          value={part.shows}
          onChange={(event) => orTell(change.edit(part, { shows: event.target.value }))}
        >
          {shows.map(([id, words]) => (
            <option key={id} value={id}>
              {words}
            </option>
          ))}
        </Select>
      </label>
      {!part.portfolio && (
        <details className="mt-2">
          <summary className="cursor-pointer text-[12px] text-ink-2">In which columns its states stand</summary>
          {states.map((state) => (
            <span key={state.id} className="flex items-center gap-2 py-0.5">
              <span className="min-w-0 flex-1 truncate" title={state.label}>
                {state.label}
              </span>
              <Select
                className="w-36"
                aria-label={`The column of ${state.label}`}
                value={part.states[state.id] ?? ""}
                onChange={(event) => map(state.id, event.target.value)}
              >
                <option value="">by its class</option>
                {columns.map((one) => (
                  <option key={one.id} value={one.id}>
                    {one.name}
                  </option>
                ))}
              </Select>
            </span>
          ))}
        </details>
      )}
      <div className="mt-2 grid border-t border-rule pt-1">
        <Act disabled={at <= 0} onClick={() => moveTo(at - 1)}>
          Move up
        </Act>
        <Act disabled={at === own.length - 1} onClick={() => moveTo(at + 1)}>
          Move down
        </Act>
        <Act onClick={() => orTell(change.leave(part))}>Take it out</Act>
      </div>
    </div>
  );
}

function Act(props: React.ComponentProps<"button">) {
  return (
    <button
      type="button"
      className="min-h-7 px-1 text-left hover:bg-rose-soft disabled:opacity-40 disabled:hover:bg-transparent"
      {...props}
    />
  );
}

/** Chooses a project, or another portfolio, to join. */
export function JoinPart({ project, parts }: { project: Project; parts: Part[] }) {
  const change = useParts(project.code);
  const work = useWork().data ?? [];
  const [open, setOpen] = useState(false);
  const joined = new Set(parts.filter((one) => one.depth === 0).map((one) => one.code));
  const others = work.filter((one) => one.code !== project.code && !joined.has(one.code));
  return (
    <Pop
      label="Join a project"
      align="end"
      open={open}
      onOpenChange={setOpen}
      trigger={
        <button
          type="button"
          className="flex items-center gap-1 font-semibold whitespace-nowrap text-rose hover:underline"
        >
          <Plus size={14} aria-hidden="true" /> Join a project
        </button>
      }
    >
      <Picker
        label="Find a project"
        nothing="No other project is called that."
        className="w-80"
        choices={others.map((one) => ({
          id: one.code,
          name: one.name,
          after: (
            <span className="flex-none text-[11.5px] text-ink-2">
              {one.code}
              {one.portfolio && ", portfolio"}
            </span>
          ),
        }))}
        onChoose={(code) => {
          setOpen(false);
          orTell(change.join(code, "deliverables"));
        }}
      />
    </Pop>
  );
}
