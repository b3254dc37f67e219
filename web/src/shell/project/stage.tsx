/** What is shown of a project: a lens or a page, with the folio of the task that is open, and what a change carries on. */
import { Suspense, useCallback, useMemo } from "react";
import { useNavigate, useSearchParams } from "react-router";
import type { Project } from "../../data/api";
import { Failed, Loading } from "../../parts/basics";
import { useAddress } from "../../parts/use-address";
import type { DraftComparison } from "../../schedule/draft";
import { useRipple } from "../../schedule/ripple";
import { type Changes, useChanges } from "../../tasks/changes";
import { type OutlineRow, type Rows, useHeldRows, useOutline } from "../../tasks/rows";
import { usePage } from "../../views/page";
import { useScope } from "../../views/scope";
import { useTints } from "../../views/view";
import {
  Activity,
  Bin,
  Board,
  Brief,
  Compare,
  CostsLens,
  Folio,
  Invoices,
  LoadLens,
  Outline,
  Planning,
  Portfolio,
  ProjectReports,
  RippleCard,
  Schedule,
  Settings,
  Transfer,
} from "../pages";
import { NAMES, SCOPED } from "./names";
import { useMade } from "./use-made";

interface StageProps {
  project: Project;
  lens: string;
  /** what stands behind the lens in the address: of a task its number, of settings a section */
  which: string | undefined;
  comparison: DraftComparison | undefined;
}

/** What everything on the stage reads and does. */
interface Work {
  rows: Rows | undefined;
  outline: OutlineRow[];
  /** the ids within the sentence; null where nothing is left out */
  inside: Set<string> | null;
  changes: Changes;
  opened: string | null;
  openTask: (id: string | null) => void;
  /** the row before or after one, in what the sentence leaves */
  beside: (id: string, by: 1 | -1) => string | undefined;
}

function useWork(code: string): Work {
  const rows = useHeldRows(code);
  const outline = useOutline(rows);
  const changes = useChanges(code);
  const [scope] = useScope();
  const ids = usePage(code, scope).data?.scope.ids;
  const inside = useMemo(() => (ids ? new Set(ids) : null), [ids]);
  const [params, setAddress] = useAddress();
  const openTask = useCallback((id: string | null) => setAddress({ open: id }), [setAddress]);
  const beside = (id: string, by: 1 | -1) => {
    const shown = outline.filter(({ row }) => !inside || inside.has(row.id));
    return shown[shown.findIndex(({ row }) => row.id === id) + by]?.row.id;
  };
  return { rows, outline, inside, changes, opened: params.get("open"), openTask, beside };
}

export function Stage(props: StageProps) {
  const { project, lens } = props;
  const work = useWork(project.code);
  const ripple = useRipple();
  const { opened, openTask } = work;
  return (
    <div className="relative flex min-h-0 flex-1 border-t border-rule bg-sheet sm:border-t-0">
      <Suspense fallback={<Loading what={NAMES[lens] ?? ""} rows={14} />}>
        {lens === "task" ? (
          <Alone {...props} work={work} />
        ) : SCOPED.includes(lens) ? (
          <Lens {...props} work={work} />
        ) : (
          <Page {...props} work={work} />
        )}
      </Suspense>
      {ripple?.code === project.code && lens !== "portfolio" && (
        <Suspense fallback={null}>
          <RippleCard key={ripple.what} open={ripple} dayMinutes={project.day_minutes} />
        </Suspense>
      )}
      {opened && lens !== "task" && lens !== "portfolio" && (
        <Suspense fallback={null}>
          <Folio
            id={opened}
            project={project}
            changes={work.changes}
            openTask={openTask}
            step={(by) => {
              const next = work.beside(opened, by);
              if (next) openTask(next);
            }}
            close={() => openTask(null)}
          />
        </Suspense>
      )}
    </div>
  );
}

/** What shows the tasks that the sentence leaves. */
function Lens({ project, lens, comparison, work }: StageProps & { work: Work }) {
  const { rows, outline, inside, changes, opened, openTask } = work;
  const [scope] = useScope();
  const page = usePage(project.code, scope);
  const { view, arranges, made } = useMade(project.code, lens);
  const tints = useTints(view, made);
  if (page.error && !rows) return <Failed error={page.error} retry={page.refetch} />;
  if (!rows) return <Loading what="the tasks" rows={18} />;
  const shared = {
    ...{ project, rows, outline, inside, changes, opened, openTask, tints },
    scope: page.data?.scope,
    answer: arranges ? made : undefined,
  };
  if (lens === "outline") return <Outline {...shared} />;
  if (lens === "costs") return <CostsLens {...shared} />;
  if (lens === "board") return <Board {...shared} />;
  return <Schedule {...shared} inPlan={comparison?.differences} />;
}

/** A page on the project itself. */
function Page({ project, lens, which, comparison, work }: StageProps & { work: Work }) {
  const { changes, openTask } = work;
  const [scope] = useScope();
  const horizon = usePage(project.code, scope).data?.horizon;
  switch (lens) {
    case "brief":
      return <Brief project={project} openTask={openTask} />;
    case "load":
      return <LoadLens project={project} openTask={openTask} horizon={horizon} />;
    case "portfolio":
      return <Portfolio project={project} />;
    case "activity":
      return <Activity project={project} openTask={openTask} />;
    case "planning":
      return <Planning project={project} changes={changes} openTask={openTask} />;
    case "compare":
      return comparison ? <Compare project={project} comparison={comparison} openTask={openTask} /> : null;
    case "bin":
      return <Bin project={project} changes={changes} />;
    case "reports":
      return <ProjectReports project={project} which={which} />;
    case "invoices":
      return <Invoices project={project} sheet={which} />;
    case "settings":
      return <Settings project={project} section={which} />;
    default:
      return <Transfer project={project} />;
  }
}

/** One task that has the page to itself. */
function Alone({ project, which, work }: StageProps & { work: Work }) {
  const navigate = useNavigate();
  const [params] = useSearchParams();
  const { rows, outline, changes, beside } = work;
  const { code } = project;
  const task = outline.find(({ row }) => row.number === Number(which))?.row;
  if (!rows) return null;
  if (!task) return <Failed error={new Error(`${code} has no task ${which}. It may have been deleted.`)} />;
  const open = (id: string | undefined) => {
    const row = rows.byId.get(id ?? "");
    if (row) navigate(`/p/${code}/task/${row.number}?${params}`);
  };
  return (
    <Folio
      whole
      id={task.id}
      project={project}
      changes={changes}
      openTask={open}
      step={(by) => open(beside(task.id, by))}
      close={() => navigate(`/p/${code}/outline?${new URLSearchParams([...params, ["open", task.id]])}`)}
    />
  );
}
