/** Costs: the tree of tasks with what it may cost, is planned to, has cost and will have cost; beside it earned value. */
import { useMemo, useRef } from "react";
import { useSearchParams } from "react-router";
import { client, type Project, sentence } from "../../data/api";
import { mayManage } from "../../data/hooks";
import { note } from "../../data/notes";
import { Button, Empty, Failed, Loading } from "../../parts/basics";
import { Facet } from "../../parts/facet";
import { comeBy, type Grid, useGrid } from "../../parts/grid/use-grid";
import { TextField } from "../../parts/text-field";
import { useWidth } from "../../parts/use-width";
import { treeOf, useFolds } from "../../tasks/folds";
import { type LensProps, visibleRows } from "../../tasks/lens";
import { CellInput } from "../../tasks/outline/cell";
import { Fold } from "../../tasks/outline/row";
import { useSaveProject } from "../../tasks/settings/save";
import { type CostRow, type Costs, isNothing, maySeeCosts, readSum, saySum, useCostActions, useCosts } from "../cost";
import { Below, Beside } from "./beside";

const ROW = 29;
const HEAD = 27;
const NUMBER = 98;

interface Column {
  id: "budget" | "planned" | "spent" | "to_come" | "at_completion" | "variance";
  head: string;
  help: string;
  /** the first to give way where there is little room */
  rank: number;
}

const COLUMNS: Column[] = [
  { id: "budget", head: "Budget", help: "What it may cost: set for the project and its deliverables", rank: 3 },
  { id: "planned", head: "Planned", help: "Hours at the rates of their days, material and fixed sums", rank: 2 },
  { id: "spent", head: "Spent", help: "Entries at the rates of their days, material used, sums spent", rank: 1 },
  { id: "to_come", head: "To come", help: "What is left of hours, material and sums", rank: 4 },
  { id: "at_completion", head: "At completion", help: "Spent and to come", rank: 0 },
  {
    id: "variance",
    head: "Variance",
    help: "The budget, or where there is none the agreed cost, less what it costs at completion",
    rank: 0,
  },
];

export default function CostsLens(props: LensProps) {
  const { project } = props;
  if (!project.costs) return <SwitchOn project={project} />;
  if (!maySeeCosts(project))
    return (
      <Empty title="What this project costs is for its leads">
        Rates and costs are read by leads of a project, managers and administrators. What you spend on a task you enter
        in its folio.
      </Empty>
    );
  return <CostTree {...props} />;
}

function SwitchOn({ project }: { project: Project }) {
  const save = useSaveProject(project);
  return (
    <Empty title="This project reckons no cost">
      <p>
        Then it shows what the hours, materials and fixed sums that are booked cost at the rates of people and
        resources, against budgets and what was agreed.
      </p>
      {mayManage(project) && (
        <Button
          className="mt-3"
          onClick={() =>
            save("Switched cost on", (headers) =>
              client.PATCH("/api/projects/{code}", {
                params: { path: { code: project.code } },
                body: { revision: project.revision, costs: true },
                headers,
              }),
            ).catch((error) => note(sentence(error), "wrong"))
          }
        >
          Reckon cost here
        </Button>
      )}
    </Empty>
  );
}

function CostTree({ project, outline, inside, opened, openTask }: LensProps) {
  const { data, error, refetch } = useCosts(project.code);
  const [params] = useSearchParams();
  const folds = useFolds(project.code);
  const { folded } = folds;
  const rows = useMemo(() => visibleRows(outline, inside, folded), [outline, inside, folded]);
  const ids = useMemo(() => rows.map(({ row }) => row.id), [rows]);
  const byId = useMemo(() => new Map(rows.map((one) => [one.row.id, one])), [rows]);
  const costs = useMemo(() => new Map(data?.rows.map((one) => [one.id, one])), [data]);
  const scroller = useRef<HTMLDivElement>(null);
  const width = useWidth(scroller, document.documentElement.clientWidth);
  const columns = useMemo(() => {
    const room = Math.max(2, Math.floor((width - 190) / NUMBER));
    const kept = new Set([...COLUMNS].sort((a, b) => a.rank - b.rank).slice(0, room));
    return COLUMNS.filter((one) => kept.has(one));
  }, [width]);
  const { budget } = useCostActions(project.code);
  const canEdit = mayManage(project) && !params.get("draft");
  const mayHave = (id: string) => {
    const one = byId.get(id);
    return Boolean(one && (one.row.is_summary || one.row.kind === "deliverable"));
  };
  const grid = useGrid({
    scroller,
    ids,
    cells: ["title", ...columns.map((one) => one.id)],
    rowHeight: ROW,
    headHeight: HEAD,
    footHeight: 36,
    open: openTask,
    edits: (id, cell) => (canEdit && cell === "budget" && mayHave(id) ? "typed" : null),
    tree: treeOf(byId, folds),
  });
  const { at, editing, act } = grid;
  async function save(id: string, text: string) {
    try {
      await budget(id, readSum(text));
    } catch (error) {
      act.refuse(id, "budget", text, sentence(error));
    }
  }
  if (error && !data) return <Failed error={error} retry={refetch} />;
  if (!data) return <Loading what="the costs" rows={16} />;
  const wide = columns.length * NUMBER + 190;
  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col">
        <Reading costs={data} />
        <div {...grid.pane} className="min-h-0 flex-1 overflow-auto border-t border-rule">
          <div role="treegrid" aria-label="Costs" aria-rowcount={rows.length + 2} style={{ minWidth: wide }}>
            <div
              role="row"
              tabIndex={-1}
              aria-rowindex={1}
              className="sticky top-0 z-10 flex h-[27px] items-center border-b border-rule-2 bg-band pl-1 text-[12px] text-ink-2"
            >
              <span role="columnheader" tabIndex={-1} className="min-w-0 flex-1 pl-[22px]">
                Task
              </span>
              {columns.map((column) => (
                <span
                  key={column.id}
                  role="columnheader"
                  tabIndex={-1}
                  title={column.help}
                  className="flex-none px-2 text-right"
                  style={{ width: NUMBER }}
                >
                  {column.head}
                </span>
              ))}
            </div>
            <div className="relative" style={{ height: grid.virtual.getTotalSize() }}>
              {grid.items.map((item) => {
                const one = rows[item.index];
                if (!one) return null;
                const isAt = at?.id === one.row.id;
                return (
                  <div
                    key={one.row.id}
                    className="absolute top-0 left-0 w-full focus-within:z-10"
                    style={{ transform: `translateY(${item.start - HEAD}px)` }}
                  >
                    <CostLine
                      one={one}
                      index={item.index}
                      cost={costs.get(one.row.id)}
                      columns={columns}
                      active={isAt ? at.cell : null}
                      editing={isAt ? editing : null}
                      refused={isAt ? grid.refused : undefined}
                      opened={opened === one.row.id}
                      folded={folded.has(one.row.id)}
                      fold={folds.fold}
                      mayEdit={canEdit && mayHave(one.row.id)}
                      act={act}
                      open={openTask}
                      save={save}
                    />
                  </div>
                );
              })}
            </div>
          </div>
          {data.in_bin && (
            <p className="flex h-[27px] items-center border-t border-rule px-[22px] text-[12px] text-ink-2">
              <span className="min-w-0 flex-1 truncate">On tasks in the bin, counted in the project</span>
              <span className="px-2 tabular-nums">{saySum(data.in_bin.spent)} spent</span>
            </p>
          )}
          <ProjectFoot
            {...{ project, columns, wide }}
            cost={data.project}
            canEdit={canEdit}
            save={(text) => budget(null, readSum(text))}
          />
        </div>
        <Below project={project} currency={data.currency} />
      </div>
      {!opened && <Beside project={project} currency={data.currency} />}
    </>
  );
}

/** How the project stands, in a sentence. */
function Reading({ costs }: { costs: Costs }) {
  const { project, currency } = costs;
  const over = project.worry === "over";
  return (
    <p className="px-3 py-2.5 text-[15px] text-ink-2 sm:px-[18px]">
      At completion it costs{" "}
      <b className="font-semibold text-ink">
        {saySum(project.at_completion)} {currency}
      </b>
      {project.budget !== null ? (
        <>
          {" "}
          of a budget of {saySum(project.budget)}:{" "}
          <b className={`font-semibold ${over ? "text-ember" : project.worry ? "text-ochre" : "text-ink"}`}>
            {over ? "▼ " : project.worry ? "▲ " : ""}
            {project.used} %{over ? `, ${saySum(project.variance).replace("−", "")} too much` : ""}
          </b>
        </>
      ) : project.agreed !== null ? (
        <>
          {" "}
          against {saySum(project.agreed)} agreed: a variance of {saySum(project.variance)}
        </>
      ) : (
        ", and no budget is set"
      )}
      . {saySum(project.spent)} is spent.
      {project.unpriced > 0 && (
        <span className="text-ochre">
          {" "}
          {(project.unpriced / 60).toLocaleString("en-GB", { maximumFractionDigits: 1 })} h of people without a rate are
          not among it.
        </span>
      )}
    </p>
  );
}

interface LineProps {
  one: ReturnType<typeof visibleRows>[number];
  index: number;
  cost: CostRow | undefined;
  columns: Column[];
  active: string | null;
  editing: string | null;
  refused: string | undefined;
  opened: boolean;
  folded: boolean;
  fold: (id: string) => void;
  mayEdit: boolean;
  act: Grid["act"];
  open: (id: string) => void;
  save: (id: string, text: string) => void;
}

function CostLine(props: LineProps) {
  const { one, index, cost, columns, active, editing, opened, folded, fold, mayEdit, act, open, save } = props;
  const { row, depth, number, dim } = one;
  return (
    <div
      role="row"
      tabIndex={-1}
      aria-level={depth + 1}
      aria-rowindex={index + 2}
      aria-expanded={one.hasBelow ? !folded : undefined}
      data-row={row.id}
      className={`flex h-[29px] items-center border-b border-rule/60 pl-1 ${opened ? "bg-rose-soft/60 shadow-[inset_3px_0_0_var(--color-rose)]" : "hover:bg-paper"} ${row.is_summary ? "font-semibold" : ""} ${dim ? "text-ink-3" : ""}`}
    >
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: the grid handles keys */}
      <span
        role="gridcell"
        tabIndex={active === "title" ? 0 : -1}
        data-cell="title"
        className="flex h-full min-w-0 flex-1 cursor-pointer items-center gap-1.5 outline-offset-[-2px]"
        style={{ paddingLeft: depth * 16 + 13 }}
        onClick={() => {
          act.focus(row.id, "title");
          open(row.id);
        }}
      >
        <Fold one={one} folded={folded} fold={fold} />
        <Facet row={row} />
        <span className="min-w-0 truncate" title={row.title}>
          <span className="mr-1.5 text-ink-3">{number}</span>
          {row.title}
        </span>
      </span>
      {columns.map((column) => {
        const said = saySum(cost?.[column.id]);
        const typing = column.id === "budget" && active === "budget" && editing !== null;
        return (
          // biome-ignore lint/a11y/useKeyWithClickEvents: the grid handles keys
          <span
            key={column.id}
            role="gridcell"
            tabIndex={active === column.id ? 0 : -1}
            data-cell={column.id}
            className={`flex h-full flex-none items-center justify-end px-2 text-[12.5px] tabular-nums outline-offset-[-2px] ${looks(column, cost)}`}
            style={{ width: NUMBER }}
            title={column.help}
            onClick={(event) => act.focus(row.id, column.id, comeBy(event))}
            onDoubleClick={() => column.id === "budget" && mayEdit && act.edit(row.id, "budget")}
          >
            {typing ? (
              <CellInput
                first={editing || said}
                shown={said}
                wrong={props.refused}
                label={`Budget of ${row.title}`}
                onSave={(text) => save(row.id, text)}
                onDone={(how) => act.end(row.id, "budget", how)}
              />
            ) : (
              <>
                {column.id === "variance" && <Sign cost={cost} />}
                {isNothing(cost?.[column.id]) && column.id !== "budget" && column.id !== "variance" ? (
                  <span className="text-ink-3">{cost ? "–" : ""}</span>
                ) : (
                  (isNothing(cost?.[column.id]) && said ? <span className="text-ink-3">{said}</span> : said) ||
                  (column.id === "budget" && mayEdit ? <span className="text-ink-3">set</span> : "")
                )}
              </>
            )}
          </span>
        );
      })}
    </div>
  );
}

const looks = (column: Column, cost: CostRow | undefined) =>
  column.id === "variance" && cost?.variance?.startsWith("-")
    ? "text-ember font-semibold"
    : column.id === "variance" && cost?.worry === "near"
      ? "text-ochre font-semibold"
      : column.id === "at_completion"
        ? "font-semibold"
        : "";

/** Shape and word for a budget that is passed, or nearly. */
function Sign({ cost }: { cost: CostRow | undefined }) {
  if (!cost?.worry) return null;
  const over = cost.worry === "over";
  return (
    <span
      className="mr-1"
      title={over ? "The budget is passed at completion" : `${cost.used} % of the budget is used at completion`}
    >
      <span aria-hidden="true">{over ? "▼" : "▲"}</span>
      <span className="sr-only">{over ? "over budget" : "nearly used up"}</span>
    </span>
  );
}

/** What the project costs, at the foot; its budget is typed there. */
function ProjectFoot({
  project,
  columns,
  wide,
  cost,
  canEdit,
  save,
}: {
  project: Project;
  columns: Column[];
  wide: number;
  cost: CostRow;
  canEdit: boolean;
  save: (text: string) => Promise<void>;
}) {
  return (
    <div
      className="sticky bottom-0 z-10 flex h-9 items-center border-t border-rule-2 bg-band pl-[22px] font-semibold"
      style={{ minWidth: wide }}
    >
      <span className="min-w-0 flex-1 truncate">{project.name}</span>
      {columns.map((column) => (
        <span
          key={column.id}
          className={`flex-none px-2 text-right text-[12.5px] tabular-nums ${looks(column, cost)}`}
          style={{ width: NUMBER }}
        >
          {column.id === "budget" ? (
            <TextField
              value={saySum(cost.budget)}
              label="Budget of the project"
              placeholder={canEdit ? "set" : ""}
              readOnly={!canEdit}
              className="w-full text-right font-semibold"
              onSave={save}
            />
          ) : (
            <>
              {column.id === "variance" && <Sign cost={cost} />}
              {saySum(cost[column.id])}
            </>
          )}
        </span>
      ))}
    </div>
  );
}
