/** A project: title line, scope sentence, horizon, a lens, and the folio of the task that is open. */
import { useQueryClient } from "@tanstack/react-query";
import { Suspense, useCallback, useEffect, useMemo } from "react";
import { Link, Navigate, useNavigate, useParams, useSearchParams } from "react-router";
import { ArrangeBoard, BoardPaper, BoardWords } from "../../board/choice";
import type { Project } from "../../data/api";
import { withDraft } from "../../data/draft-here";
import { may, useProject } from "../../data/hooks";
import { Failed, Loading } from "../../parts/basics";
import { AsTable } from "../../parts/table-file";
import { useAddress } from "../../parts/use-address";
import { useProjectDashboards } from "../../reports/dashboards/tabs";
import { type DraftComparison, enterDraft, toOpen, useDraftComparison } from "../../schedule/draft";
import { useRipple } from "../../schedule/ripple";
import { useChanges } from "../../tasks/changes";
import { useHeldRows, useOutline } from "../../tasks/rows";
import { ArrangeButton, ArrangeWords, ColouredBy } from "../../views/arrange";
import { usePage } from "../../views/page";
import { readScope, useScope, writeScope } from "../../views/scope";
import { ScopeSentence } from "../../views/scope-sentence";
import { useSheetTabs } from "../../views/sheets";
import { readView, sheetAddress, tintQuery, useSheets, useTints, useView, useViewAnswer } from "../../views/view";
import { Horizon } from "../horizon";
import {
  Activity,
  Bin,
  Board,
  Brief,
  Compare,
  CostsLens,
  DraftStrip,
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
import { type Sheet, SheetBar } from "../sheet-bar";
import { ProjectTitle, TitleLine } from "../title-line";
import { LENSES, LensChoice } from "./lenses";

/** The pages on the project itself, behind one menu. */
const ABOUT: Record<string, string> = {
  planning: "Planning",
  activity: "Activity",
  bin: "Bin",
  reports: "Status reports",
  invoices: "Invoice sheets",
  import: "Import",
  settings: "Settings",
};
const NAMES: Record<string, string> = {
  ...Object.fromEntries(Object.entries(LENSES).map(([id, { name }]) => [id, name])),
  ...ABOUT,
  compare: "Side by side",
  task: "Task",
};
const SCOPED = ["outline", "board", "schedule", "costs"];
/** Where a draft is of use; the rest of a project knows of no drafts. */
const IN_DRAFT = ["task", "brief", "outline", "board", "schedule", "load", "costs", "planning", "compare"];

export default function ProjectPlace() {
  const { code = "", lens } = useParams();
  return lens ? <AtLens /> : <First code={code.toUpperCase()} />;
}

/** What opens first: the sheet that a lead chose for everybody, else the brief. */
function First({ code }: { code: string }) {
  const sheets = useSheets(code);
  if (sheets.isPending)
    return (
      <>
        <TitleLine code={code} title="…" />
        <Loading what="the project" rows={14} />
      </>
    );
  const first = sheets.data?.find((one) => one.is_default);
  return <Navigate to={first ? sheetAddress(code, first) : `/p/${code}/brief`} replace />;
}

function AtLens() {
  const queries = useQueryClient();
  const [params, setParams] = useSearchParams();
  const draft = params.get("draft");
  const made = toOpen.use();
  useEffect(() => {
    if (!made) return;
    toOpen.set(null);
    setParams((now) => new URLSearchParams([...now, ["draft", made]]));
  }, [made, setParams]);
  enterDraft(queries, draft);
  return <Inside key={draft} draft={draft} />;
}

/** The project as a person may change it within a draft: not at all where it is another's. */
function inDraft(project: Project | undefined, comparison: DraftComparison | undefined): Project | undefined {
  if (!project || !comparison) return undefined;
  return { ...project, may: comparison.draft.mine ? project.may.filter((one) => one !== "manage") : [] };
}

function Inside({ draft }: { draft: string | null }) {
  const { code = "", lens = "brief", number } = useParams();
  const navigate = useNavigate();
  const upper = code.toUpperCase();
  const asked = useProject(upper);
  const comparison = useDraftComparison(upper, draft);
  const project = draft
    ? { ...asked, error: asked.error ?? comparison.error, data: inDraft(asked.data, comparison.data) }
    : asked;
  const rows = useHeldRows(upper);
  const [scope, changeScope] = useScope();
  const page = usePage(upper, scope);
  const answer = page.data?.scope;
  const outline = useOutline(rows);
  const [view] = useView();
  const scoped = SCOPED.includes(lens);
  const arranges = lens === "outline" && Boolean(view.groups?.length || view.sorts?.length || view.columns?.length);
  const viewed = useViewAnswer(upper, scope, view, scoped && (arranges || Boolean(view.tints?.length)));
  const tints = useTints(view, viewed.data);
  const changes = useChanges(upper);
  const [params, setAddress] = useAddress();
  const opened = params.get("open");
  const ripple = useRipple();
  const ids = answer?.ids;
  const inside = useMemo(() => (ids ? new Set(ids) : null), [ids]);
  const openTask = useCallback((id: string | null) => setAddress({ open: id }), [setAddress]);
  const name = project.data?.name;
  useEffect(() => {
    document.title = name ? `${NAMES[lens] ?? lens} · ${name}` : "Rhodonite";
  }, [name, lens]);

  if (!(lens in NAMES) || (lens === "compare" && !draft)) return <Navigate to={`/p/${upper}/brief`} replace />;
  if (lens === "portfolio" && project.data && !project.data.portfolio)
    return <Navigate to={`/p/${upper}/brief`} replace />;
  if (draft && !IN_DRAFT.includes(lens)) return <Navigate to={`/p/${upper}/${lens}`} replace />;
  if (project.error)
    return (
      <>
        <TitleLine title={upper} />
        <Failed error={project.error} retry={project.refetch} />
        {draft && (
          <p className="mx-6">
            <Link to={`/p/${upper}/planning`} className="font-semibold text-rose underline">
              Back to the plan
            </Link>
          </p>
        )}
      </>
    );
  if (!project.data)
    return (
      <>
        <TitleLine code={upper} title="…" />
        <Loading what="the project" rows={14} />
      </>
    );
  const canEdit = may(project.data, "edit");
  const sheetOf = (one: string): Sheet => ({ to: `/p/${upper}/${one}`, name: NAMES[one] ?? one });
  const inBar = Object.keys(LENSES).filter(
    (one) =>
      one === lens ||
      (project.data?.lenses.includes(one) && (one !== "costs" || project.data.may.includes("see_costs"))),
  );
  const sheets = [...inBar, ...(draft ? ["compare"] : [])].map(sheetOf);
  const pages = Object.keys(ABOUT)
    .filter((one) =>
      draft
        ? IN_DRAFT.includes(one)
        : one === "import"
          ? canEdit
          : one !== "invoices" || (project.data?.time && project.data.may.includes("see_costs")),
    )
    .map(sheetOf);
  /** The row before or after one, in what the sentence leaves. */
  function beside(id: string, by: 1 | -1): string | undefined {
    const shown = outline.filter(({ row }) => !inside || inside.has(row.id));
    return shown[shown.findIndex(({ row }) => row.id === id) + by]?.row.id;
  }
  const alone = lens === "task" ? outline.find(({ row }) => row.number === Number(number))?.row : undefined;
  const toPage = (id: string | undefined) => {
    const row = rows?.byId.get(id ?? "");
    if (row) navigate(`/p/${upper}/task/${row.number}?${params}`);
  };
  const made = viewed.data;
  const shared = {
    project: project.data,
    outline,
    inside,
    scope: answer,
    changes,
    opened,
    openTask,
    answer: arranges ? made : undefined,
    tints,
  };
  return (
    <>
      {comparison.data && (
        <Suspense fallback={null}>
          <DraftStrip project={project.data} changes={changes} comparison={comparison.data} />
        </Suspense>
      )}
      <ProjectTitle project={project.data} facts={answer?.facts} />
      {SCOPED.includes(lens) && (
        <ScopeSentence
          project={project.data}
          answer={answer}
          arrange={
            lens === "outline" ? (
              <ArrangeButton project={project.data} />
            ) : (
              lens === "board" && may(project.data, "manage") && <ArrangeBoard />
            )
          }
          end={
            <>
              <ColouredBy project={project.data} counts={view.tints?.length ? made?.tint_counts : undefined} />
              {" · "}
              <ExportLink code={upper} lens={lens} params={params} columns={view.columns?.map((one) => one.key)} />
              {lens === "board" && (
                <>
                  {" or "}
                  <BoardPaper project={project.data} />
                </>
              )}
            </>
          }
        >
          {lens === "board" && <BoardWords project={project.data} />}
          {lens === "outline" && <ArrangeWords project={project.data} />}
        </ScopeSentence>
      )}
      {lens !== "load" && lens !== "portfolio" && (
        <div className="hidden sm:block">
          <Horizon
            data={page.data?.horizon}
            window={scope}
            onChange={SCOPED.includes(lens) ? changeScope : undefined}
          />
        </div>
      )}
      <div className="relative flex min-h-0 flex-1 border-t border-rule bg-sheet sm:border-t-0">
        <Suspense fallback={<Loading what={NAMES[lens] ?? ""} rows={14} />}>
          {lens === "brief" && <Brief project={project.data} openTask={openTask} />}
          {lens === "load" && <LoadLens project={project.data} openTask={openTask} horizon={page.data?.horizon} />}
          {lens === "portfolio" && project.data.portfolio && <Portfolio project={project.data} />}
          {lens === "activity" && <Activity project={project.data} openTask={openTask} />}
          {lens === "planning" && <Planning project={project.data} changes={changes} openTask={openTask} />}
          {lens === "compare" && comparison.data && (
            <Compare project={project.data} comparison={comparison.data} openTask={openTask} />
          )}
          {lens === "bin" && <Bin project={project.data} changes={changes} />}
          {lens === "reports" && <ProjectReports project={project.data} which={number} />}
          {lens === "invoices" && <Invoices project={project.data} sheet={number} />}
          {lens === "settings" && <Settings project={project.data} section={number} />}
          {lens === "import" && <Transfer project={project.data} />}
          {lens === "task" &&
            (alone ? (
              <Folio
                whole
                id={alone.id}
                project={project.data}
                changes={changes}
                openTask={toPage}
                step={(by) => toPage(beside(alone.id, by))}
                close={() => navigate(`/p/${upper}/outline?${new URLSearchParams([...params, ["open", alone.id]])}`)}
              />
            ) : (
              rows && <Failed error={new Error(`${upper} has no task ${number}. It may have been deleted.`)} />
            ))}
          {SCOPED.includes(lens) &&
            (page.error && !rows ? (
              <Failed error={page.error} retry={page.refetch} />
            ) : !rows ? (
              <Loading what="the tasks" rows={18} />
            ) : lens === "outline" ? (
              <Outline {...shared} rows={rows} />
            ) : lens === "costs" ? (
              <CostsLens {...shared} rows={rows} />
            ) : lens === "board" ? (
              <Board {...shared} rows={rows} />
            ) : (
              <Schedule {...shared} rows={rows} inPlan={comparison.data?.differences} />
            ))}
        </Suspense>
        {ripple?.code === upper && lens !== "portfolio" && (
          <Suspense fallback={null}>
            <RippleCard key={ripple.what} open={ripple} dayMinutes={project.data.day_minutes} />
          </Suspense>
        )}
        {opened && lens !== "task" && lens !== "portfolio" && (
          <Suspense fallback={null}>
            <Folio
              id={opened}
              project={project.data}
              changes={changes}
              openTask={openTask}
              step={(by) => {
                const next = beside(opened, by);
                if (next) openTask(next);
              }}
              close={() => openTask(null)}
            />
          </Suspense>
        )}
      </div>
      <ProjectBar
        project={project.data}
        lens={scoped ? lens : null}
        {...{ sheets, pages, draft }}
        current={params.get("sheet") && scoped ? "" : (NAMES[lens] ?? "")}
      />
    </>
  );
}

/** The sheet bar of a project; a draft has neither sheets of its own nor lenses to choose. */
function ProjectBar({
  project,
  lens,
  sheets,
  pages,
  current,
  draft,
}: {
  project: Project;
  lens: string | null;
  sheets: Sheet[];
  pages: Sheet[];
  current: string;
  draft: string | null;
}) {
  const tabs = useSheetTabs(project, lens);
  const boards = useProjectDashboards(project.code);
  return (
    <SheetBar
      {...{ sheets, current }}
      project={pages}
      more={!draft && <LensChoice project={project} />}
      {...(draft ? {} : { ...tabs, kept: [...tabs.kept, ...boards] })}
    />
  );
}

/** What each lens shows of a task, as columns of a table. */
const CSV_COLUMNS: Record<string, string[]> = {
  outline: [
    "number",
    "outline",
    "title",
    "state",
    "owner",
    "priority",
    "start",
    "finish",
    "duration",
    "deadline",
    "percent",
  ],
  board: ["number", "title", "kind", "state", "owner", "priority", "finish", "late", "held"],
  costs: [
    "number",
    "outline",
    "title",
    "cost.budget",
    "cost.planned",
    "cost.spent",
    "cost.to_come",
    "cost.at_completion",
    "cost.agreed",
    "cost.variance",
  ],
  schedule: [
    "number",
    "outline",
    "title",
    "owner",
    "start",
    "finish",
    "duration",
    "slack",
    "waits_for",
    "constraint",
    "percent",
    "deadline",
  ],
};

/** The tasks within the sentence as a table, with the columns of the lens. */
function ExportLink({
  code,
  lens,
  params,
  columns,
}: {
  code: string;
  lens: string;
  params: URLSearchParams;
  columns: string[] | undefined;
}) {
  const query = writeScope(new URLSearchParams(), readScope(params));
  const shown = lens === "outline" && columns ? ["number", "outline", "title", ...columns] : CSV_COLUMNS[lens];
  for (const column of new Set(shown)) query.append("column", column);
  const tints = tintQuery(readView(params));
  if (tints) query.set("view", tints);
  return <AsTable address={(kind) => withDraft(`/api/projects/${code}/tasks.${kind}?${query}`)} />;
}
