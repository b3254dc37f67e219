/** A project: title line, scope sentence, horizon, a lens, and the folio of the task that is open. */
import { useQueryClient } from "@tanstack/react-query";
import { Suspense, useEffect } from "react";
import { Link, Navigate, useParams, useSearchParams } from "react-router";
import type { Project } from "../../data/api";
import { may, useProject } from "../../data/hooks";
import { Failed, Loading } from "../../parts/basics";
import { useProjectDashboards } from "../../reports/dashboards/tabs";
import { type DraftComparison, enterDraft, toOpen, useDraftComparison } from "../../schedule/draft";
import { useChanges } from "../../tasks/changes";
import { useSheetTabs } from "../../views/sheets";
import { sheetAddress, useSheets } from "../../views/view";
import { DraftStrip } from "../pages";
import { type Sheet, SheetBar } from "../sheet-bar";
import { TitleLine } from "../title-line";
import { Head } from "./head";
import { LENSES, LensChoice } from "./lenses";
import { ABOUT, IN_DRAFT, NAMES, SCOPED } from "./names";
import { Stage } from "./stage";

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
  const upper = code.toUpperCase();
  const asked = useProject(upper);
  const comparison = useDraftComparison(upper, draft);
  const project = draft ? inDraft(asked.data, comparison.data) : asked.data;
  const error = asked.error ?? (draft ? comparison.error : null);
  const name = project?.name;
  useEffect(() => {
    document.title = name ? `${NAMES[lens] ?? lens} · ${name}` : "Rhodonite";
  }, [name, lens]);

  if (!(lens in NAMES) || (lens === "compare" && !draft)) return <Navigate to={`/p/${upper}/brief`} replace />;
  if (lens === "portfolio" && project && !project.portfolio) return <Navigate to={`/p/${upper}/brief`} replace />;
  if (draft && !IN_DRAFT.includes(lens)) return <Navigate to={`/p/${upper}/${lens}`} replace />;
  if (error)
    return (
      <>
        <TitleLine title={upper} />
        <Failed error={error} retry={asked.refetch} />
        {draft && (
          <p className="mx-6">
            <Link to={`/p/${upper}/planning`} className="font-semibold text-rose underline">
              Back to the plan
            </Link>
          </p>
        )}
      </>
    );
  if (!project)
    return (
      <>
        <TitleLine code={upper} title="…" />
        <Loading what="the project" rows={14} />
      </>
    );
  return (
    <>
      {comparison.data && <Strip project={project} comparison={comparison.data} />}
      <Head project={project} lens={lens} />
      <Stage project={project} lens={lens} which={number} comparison={comparison.data} />
      <ProjectBar project={project} lens={lens} draft={draft} />
    </>
  );
}

function Strip({ project, comparison }: { project: Project; comparison: DraftComparison }) {
  const changes = useChanges(project.code);
  return (
    <Suspense fallback={null}>
      <DraftStrip project={project} changes={changes} comparison={comparison} />
    </Suspense>
  );
}

/** The lenses that the bar of a project offers, and the one that is open. */
function lensesOf(project: Project, lens: string, draft: string | null): string[] {
  const offered = (one: string) =>
    project.lenses.includes(one) && (one !== "costs" || project.may.includes("see_costs"));
  const inBar = Object.keys(LENSES).filter((one) => one === lens || offered(one));
  return [...inBar, ...(draft ? ["compare"] : [])];
}

/** The pages on the project itself that one may open. */
function pagesOf(project: Project, draft: string | null): string[] {
  return Object.keys(ABOUT).filter((one) => {
    if (draft) return IN_DRAFT.includes(one);
    if (one === "import") return may(project, "edit");
    return one !== "invoices" || (project.time && project.may.includes("see_costs"));
  });
}

/** The sheet bar of a project; a draft has neither sheets of its own nor lenses to choose. */
function ProjectBar({ project, lens, draft }: { project: Project; lens: string; draft: string | null }) {
  const [params] = useSearchParams();
  const scoped = SCOPED.includes(lens);
  const tabs = useSheetTabs(project, scoped ? lens : null);
  const boards = useProjectDashboards(project.code);
  const sheetOf = (one: string): Sheet => ({ to: `/p/${project.code}/${one}`, name: NAMES[one] ?? one });
  return (
    <SheetBar
      sheets={lensesOf(project, lens, draft).map(sheetOf)}
      current={params.get("sheet") && scoped ? "" : (NAMES[lens] ?? "")}
      project={pagesOf(project, draft).map(sheetOf)}
      more={!draft && <LensChoice project={project} />}
      {...(draft ? {} : { ...tabs, kept: [...tabs.kept, ...boards] })}
    />
  );
}
