import { useEffect, useMemo } from "react";
import { useSearchParams } from "react-router";
import { DESK_LENSES } from "../overview/desk/lenses";
import { Failed, Loading } from "../parts/basics";
import { AsTable, type TableKind } from "../parts/table-file";
import { useWide } from "../parts/use-wide";
import { OpenedTask, useOpened } from "../shell/opened-task";
import { SheetBar } from "../shell/sheet-bar";
import { TitleLine } from "../shell/title-line";
import { groupLines } from "../tasks/outline/arranged";
import { ColumnsButton } from "../tasks/outline/column-choice";
import { COLUMNS, type Column } from "../tasks/outline/columns";
import { AllWorkList, type Answer, type Line } from "./all-work-list";
import { ArrangeButton, ArrangeWords, ColouredBy } from "./arrange";
import { type Scope, useScope, writeScope } from "./scope";
import { ScopeSentence } from "./scope-sentence";
import { useSheetTabs } from "./sheets";
import {
  ALL_PROJECTS,
  type Catalogue,
  type ShownColumn,
  tintsOnly,
  useAcross,
  useCatalogue,
  useTints,
  useView,
  type View,
} from "./view";

const USUAL: ShownColumn[] = [
  { key: "project" },
  { key: "state" },
  { key: "owner" },
  { key: "start" },
  { key: "finish" },
  { key: "percent" },
];
const ON_A_PHONE: ShownColumn[] = [
  { key: "finish", width: 70 },
  { key: "owner", width: 100 },
];
const WIDTHS: Record<string, number> = { project: 190, owner: 130, helpers: 130 };

/** The columns that a view names, all of them read only. */
function columnsOf(view: View, catalogue: Catalogue | undefined): Column[] {
  const title = COLUMNS[0] as Column;
  return [
    title,
    ...(view.columns ?? []).flatMap((one): Column[] => {
      const known = catalogue?.columns.find((each) => each.key === one.key);
      if (!known || one.key === "title") return [];
      const right = known.type === "number" || known.type === "date";
      const width = one.width ?? WIDTHS[one.key] ?? (right ? 92 : 124);
      return [{ id: one.key, head: known.name, width, rank: 0, field: one.key, typed: false, right, foot: one.foot }];
    }),
  ];
}

/** Where the list lies as a table. */
function tableAddress(kind: TableKind, scope: Scope, view: View): string {
  const query = writeScope(new URLSearchParams(), scope);
  query.set("view", JSON.stringify({ ...view, ...tintsOnly(view) }));
  return `/api/tasks.${kind}?${query}`;
}

function linesOf(answer: Answer): Line[] {
  if (!answer.groups) return answer.rows.map((item) => ({ item }));
  const byId = new Map(answer.rows.map((item) => [item.row.id, item]));
  return groupLines(answer).flatMap((line): Line[] => {
    if (line.head) return [line];
    const item = byId.get(line.id);
    return item ? [{ item }] : [];
  });
}

export default function AllWork() {
  const [scope] = useScope();
  const [view, change] = useView();
  const [params] = useSearchParams();
  const catalogue = useCatalogue(ALL_PROJECTS.code);
  const wide = useWide();
  const wanted = useMemo(
    () => (view.columns?.length ? view : { ...view, columns: wide ? USUAL : ON_A_PHONE }),
    [view, wide],
  );
  const { data, error, refetch } = useAcross(scope, wanted);
  const tints = useTints(view, data);
  const { id: opened, open } = useOpened();
  useEffect(() => {
    document.title = "All work · Desk";
  }, []);
  const columns = useMemo(() => columnsOf(wanted, catalogue.data), [wanted, catalogue.data]);
  const tabs = useSheetTabs(ALL_PROJECTS, "all_work");
  const lines = useMemo(() => (data ? linesOf(data) : []), [data]);
  const order = lines.flatMap((line) => (line.head ? [] : [line.item]));
  const step = (by: 1 | -1) => {
    const next = order[order.findIndex((item) => item.row.id === opened) + by];
    if (next) open(next.row.id, next.code);
  };
  return (
    <>
      <TitleLine title="All work, over all projects" />
      <ScopeSentence
        project={ALL_PROJECTS}
        answer={data && { ...data, total: data.shown }}
        arrange={<ArrangeButton project={ALL_PROJECTS} />}
        end={
          <>
            <ColouredBy project={ALL_PROJECTS} counts={view.tints?.length ? data?.tint_counts : undefined} />
            {" · "}
            <AsTable address={(kind) => tableAddress(kind, scope, wanted)} />
          </>
        }
      >
        <ArrangeWords project={ALL_PROJECTS} />
      </ScopeSentence>
      <div className="relative flex min-h-0 flex-1 border-t border-rule bg-sheet">
        {error && !data ? (
          <Failed error={error} retry={refetch} />
        ) : !data || !catalogue.data ? (
          <Loading what="all work" rows={18} />
        ) : (
          <AllWorkList
            answer={data}
            lines={lines}
            columns={columns}
            tints={tints}
            opened={opened}
            open={open}
            chooser={
              <ColumnsButton
                columns={columns}
                chosen={Boolean(view.columns?.length)}
                catalogue={catalogue.data}
                change={change}
              />
            }
          />
        )}
        <OpenedTask step={step} />
      </div>
      <SheetBar sheets={DESK_LENSES} current={params.get("sheet") ? "" : "All work"} {...tabs} />
    </>
  );
}
