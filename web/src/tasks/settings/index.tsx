/** A project's settings, in sections with addresses of their own. */
import { Link, Navigate } from "react-router";
import { CostSettings } from "../../cost/settings";
import type { Project } from "../../data/api";
import { may } from "../../data/hooks";
import { Calendars } from "../../schedule/calendar-settings";
import { TimeSettings } from "../../time/settings";
import { About } from "./about";
import { CustomFields } from "./custom-fields";
import { HoursSettings } from "./hours";
import { KeptChecklists } from "./kept-checklists";
import { KindsOrMarks } from "./kinds-and-marks";
import { Members } from "./members";
import { Workflow } from "./workflow";

type Section = (props: { project: Project }) => React.ReactNode;

const Whole: Section = ({ project }) => <About key={`about${project.revision}`} project={project} />;

const KindsAndMarks: Section = ({ project }) => (
  <div className="grid gap-y-8">
    <KindsOrMarks project={project} sort="kinds" />
    <KindsOrMarks project={project} sort="marks" />
  </div>
);

const TimeAndCost: Section = ({ project }) => (
  <>
    <TimeSettings project={project} />
    <CostSettings project={project} />
  </>
);

const SECTIONS: [id: string, name: string, Section: Section][] = [
  ["project", "The project", Whole],
  ["members", "Members", Members],
  ["workflow", "Workflow", Workflow],
  ["fields", "Fields", CustomFields],
  ["kinds", "Kinds and marks", KindsAndMarks],
  ["checklists", "Checklists", KeptChecklists],
  ["working-time", "Working time", Calendars],
  ["hours", "Hours", HoursSettings],
  ["time", "Time and cost", TimeAndCost],
];

export default function Settings({ project, section = "project" }: { project: Project; section?: string }) {
  const canManage = may(project, "manage");
  const open = SECTIONS.find(([id]) => id === section);
  if (!open) return <Navigate to={`/p/${project.code}/settings`} replace />;
  const [, , Section] = open;
  return (
    <div
      className="min-w-0 flex-1 overflow-auto px-3 py-3 sm:px-[18px]"
      role="region"
      aria-label="Settings"
      tabIndex={0}
    >
      <nav aria-label="Settings" className="mb-4 flex flex-wrap gap-x-5 gap-y-1 border-b border-rule">
        {SECTIONS.map(([id, name]) => (
          <Link
            key={id}
            to={`/p/${project.code}/settings${id === "project" ? "" : `/${id}`}`}
            aria-current={id === section ? "page" : undefined}
            className={`-mb-px border-b-2 py-1.5 ${id === section ? "border-rose font-semibold" : "border-transparent text-ink-2 hover:text-ink"}`}
          >
            {name}
          </Link>
        ))}
      </nav>
      {!canManage && (
        <p className="mb-3 text-ink-2">A lead of this project can change these. You are {project.role} here.</p>
      )}
      <fieldset disabled={!canManage} className="min-w-0 max-w-3xl">
        <legend className="sr-only">Settings of {project.name}</legend>
        <Section project={project} />
      </fieldset>
    </div>
  );
}
