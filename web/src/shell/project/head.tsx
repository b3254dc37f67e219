/** Above the lens: the title line, the scope sentence and the horizon. None of them is drawn anew where rows alone change. */
import { useSearchParams } from "react-router";
import { ArrangeBoard, BoardPaper, BoardWords } from "../../board/choice";
import type { Project } from "../../data/api";
import { withDraft } from "../../data/draft-here";
import { may } from "../../data/hooks";
import { AsTable } from "../../parts/table-file";
import { ArrangeButton, ArrangeWords, ColouredBy } from "../../views/arrange";
import { usePage } from "../../views/page";
import { readScope, useScope, writeScope } from "../../views/scope";
import { ScopeSentence } from "../../views/scope-sentence";
import { readView, tintQuery, useView } from "../../views/view";
import { Horizon } from "../horizon";
import { ProjectTitle } from "../title-line";
import { SCOPED } from "./names";
import { useMade } from "./use-made";

export function Head({ project, lens }: { project: Project; lens: string }) {
  const [scope, changeScope] = useScope();
  const page = usePage(project.code, scope).data;
  const scoped = SCOPED.includes(lens);
  return (
    <>
      <ProjectTitle project={project} facts={page?.scope.facts} />
      {scoped && <Sentence project={project} lens={lens} />}
      {lens !== "load" && lens !== "portfolio" && (
        <div className="hidden sm:block">
          <Horizon data={page?.horizon} window={scope} onChange={scoped ? changeScope : undefined} />
        </div>
      )}
    </>
  );
}

function Sentence({ project, lens }: { project: Project; lens: string }) {
  const [scope] = useScope();
  const page = usePage(project.code, scope).data;
  const { view, made } = useMade(project.code, lens);
  const board = lens === "board";
  return (
    <ScopeSentence
      project={project}
      answer={page?.scope}
      arrange={
        lens === "outline" ? <ArrangeButton project={project} /> : board && may(project, "manage") && <ArrangeBoard />
      }
      end={
        <>
          <ColouredBy project={project} counts={view.tints?.length ? made?.tint_counts : undefined} />
          {" · "}
          <ExportLink code={project.code} lens={lens} />
          {board && (
            <>
              {" or "}
              <BoardPaper project={project} />
            </>
          )}
        </>
      }
    >
      {board && <BoardWords project={project} />}
      {lens === "outline" && <ArrangeWords project={project} />}
    </ScopeSentence>
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
function ExportLink({ code, lens }: { code: string; lens: string }) {
  const [params] = useSearchParams();
  const [view] = useView();
  const columns = view.columns?.map((one) => one.key);
  const query = writeScope(new URLSearchParams(), readScope(params));
  const shown = lens === "outline" && columns ? ["number", "outline", "title", ...columns] : CSV_COLUMNS[lens];
  for (const column of new Set(shown)) query.append("column", column);
  const tints = tintQuery(readView(params));
  if (tints) query.set("view", tints);
  return <AsTable address={(kind) => withDraft(`/api/projects/${code}/tasks.${kind}?${query}`)} />;
}
