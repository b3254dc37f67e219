/** A panel: its title, what may be done with it, and what it shows. */
import { Suspense, useState } from "react";
import { Link } from "react-router";
import { orTell } from "../../data/notes";
import { Menu, MenuItem, MenuLine, MenuLink } from "../../parts/basics";
import { later } from "../../parts/later";
import { type Dashboard, listAddress, type Panel, type PanelAnswer, useDashboardActions } from "./dashboards";
import { hasSentence, kindOf } from "./kinds";
import { FigureShown, LinesShown, TasksShown } from "./shown";

const ChartShown = later(() => import("./chart").then((module) => module.ChartShown));
const ScatterShown = later(() => import("./chart").then((module) => module.ScatterShown));
const PeopleShown = later(() => import("./people").then((module) => module.PeopleShown));
const RichView = later(() => import("../../parts/rich-text/view").then((module) => module.RichView));

interface Props {
  dashboard: Dashboard;
  panel: Panel;
  answer: PanelAnswer | undefined;
  edit?: (panel: Panel) => void;
}

export function PanelFrame({ dashboard, panel, answer, edit }: Props) {
  const [asTable, setAsTable] = useState(false);
  const shown = answer?.answer;
  const drawn = shown?.kind === "chart" || shown?.kind === "scatter";
  const name = panel.title || kindOf(panel.kind).name;
  return (
    <>
      <header className="flex flex-none items-baseline gap-2 px-3.5 pt-2.5 pb-1">
        <h2 className="min-w-0 truncate text-[14.5px]" title={name}>
          {name}
        </h2>
        <Aside answer={answer} panel={panel} />
        <PanelMenu {...{ dashboard, panel, answer, edit, name }}>
          {drawn && <MenuItem onSelect={() => setAsTable(!asTable)}>{asTable ? "As a chart" : "As a table"}</MenuItem>}
        </PanelMenu>
      </header>
      <div
        className="@container min-h-0 flex-1 overflow-auto px-3.5 pb-2.5"
        // what can be scrolled and has nothing to come to by keys is come to itself
        tabIndex={(drawn && !asTable) || shown?.kind === "text" ? 0 : -1}
      >
        <Suspense fallback={null}>
          <Content answer={answer} panel={panel} asTable={asTable} />
        </Suspense>
      </div>
    </>
  );
}

/** What a panel shows, wherever it stands. */
export function Content({
  answer,
  panel,
  asTable,
}: {
  answer: PanelAnswer | undefined;
  panel: Pick<Panel, "kind" | "options">;
  asTable: boolean;
}) {
  if (!answer)
    return (
      <div role="status" aria-label="Counting">
        {[70, 45, 58].map((width) => (
          <span key={width} className="mt-2.5 block h-2.5 bg-rule" style={{ width: `${width}%` }} />
        ))}
      </div>
    );
  const { answer: shown, scope } = answer;
  if (!shown) return <p className="text-ink-2">{answer.problem}</p>;
  switch (shown.kind) {
    case "tasks":
      return <TasksShown answer={shown} scope={scope} milestones={panel.kind === "milestones"} />;
    case "figure":
      return <FigureShown answer={shown} scope={scope} />;
    case "lines":
      return <LinesShown answer={shown} kind={panel.kind} scope={scope} />;
    case "chart":
      return <ChartShown answer={shown} scope={scope} shape={panel.options.shape} asTable={asTable} />;
    case "scatter":
      return <ScatterShown answer={shown} asTable={asTable} />;
    case "people":
      return <PeopleShown answer={shown} scope={scope} />;
    default:
      return shown.html ? <RichView html={shown.html} /> : <p className="text-ink-3">Nothing is written here yet.</p>;
  }
}

/** Beside the title, how much it is. */
function Aside({ answer, panel }: { answer: PanelAnswer | undefined; panel: Panel }) {
  const shown = answer?.answer;
  const told = shown?.kind === "tasks" ? shown.shown : null;
  // milestones stand there themselves: no list holds just these
  if (told === null || shown?.kind !== "tasks" || panel.kind === "milestones") return null;
  return (
    <Link className="flex-none text-[12px] text-ink-2 hover:underline" to={listAddress(answer?.scope ?? null)}>
      {shown.late < told && told.toLocaleString("en")}
      {shown.late > 0 && (
        <span className="font-semibold text-ember">
          {shown.late < told && ", "}
          {shown.late} late
        </span>
      )}
    </Link>
  );
}

function PanelMenu({
  dashboard,
  panel,
  answer,
  edit,
  name,
  children,
}: Props & { name: string; children: React.ReactNode }) {
  const actions = useDashboardActions();
  const table = (kind: string) => `/api/dashboards/${dashboard.id}/panels/${panel.id}.${kind}`;
  return (
    <span data-menu className="ml-auto flex-none">
      <Menu
        align="end"
        trigger={
          <button
            type="button"
            aria-label={`More for the panel ${name}`}
            className="px-1.5 text-ink-3 hover:text-ink data-[state=open]:text-ink"
          >
            ▾
          </button>
        }
      >
        {edit && <MenuItem onSelect={() => edit(panel)}>Change it</MenuItem>}
        {children}
        {answer?.scope && hasSentence(panel.kind) && panel.kind !== "milestones" && (
          <MenuLink to={listAddress(answer.scope)}>All that it counts</MenuLink>
        )}
        {panel.kind !== "text" &&
          (["csv", "xlsx"] as const).map((kind) => (
            <MenuItem key={kind} onSelect={() => window.location.assign(table(kind))}>
              As {kind.toUpperCase()}
            </MenuItem>
          ))}
        {edit && (
          <>
            <MenuLine />
            <MenuItem onSelect={() => orTell(actions.removePanel(dashboard.id, panel.id))}>Take it away</MenuItem>
          </>
        )}
      </Menu>
    </span>
  );
}
