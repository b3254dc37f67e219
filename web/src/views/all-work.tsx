/** All work: the tasks of all projects that one may see, as the sentence, groups, order and tints say; kept in sheets. */
import { useVirtualizer } from "@tanstack/react-virtual";
import { parseISO } from "date-fns";
import { lazy, Suspense, useEffect, useRef } from "react";
import { useSearchParams } from "react-router";
import type { Schemas } from "../data/api";
import { useMe, useProject } from "../data/hooks";
import { DESK_LENSES } from "../overview/desk/lenses";
import { Empty, Failed, Loading } from "../parts/basics";
import { Facet } from "../parts/facet";
import { count, sayDay } from "../parts/format";
import { Sign } from "../parts/sign";
import { TaskCounts } from "../parts/task-counts";
import { type RowTints, tintStyle } from "../parts/tint";
import { SheetBar } from "../shell/sheet-bar";
import { TitleLine } from "../shell/title-line";
import { groupLines } from "../tasks/outline/arranged";
import { ColumnsButton } from "../tasks/outline/column-choice";
import { COLUMNS, type Column, keyOf } from "../tasks/outline/columns";
import { FootRow, GroupHead } from "../tasks/outline/groups";
import { useChanges, useRows } from "../tasks/rows";
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
  type ViewGroup,
} from "./view";

const Folio = lazy(() => import("../shell/folio").then((module) => ({ default: module.Folio })));

type Item = Schemas["AcrossRowOut"];
type Answer = Schemas["AcrossOut"];

const ROW = 29;
const USUAL: ShownColumn[] = [
  { key: "project" },
  { key: "state" },
  { key: "owner" },
  { key: "start" },
  { key: "finish" },
  { key: "percent" },
];
const WIDTHS: Record<string, number> = { project: 190, owner: 130, helpers: 130 };

/** The columns that a view names, all of them read only. */
function columnsOf(view: View, catalogue: Catalogue): Column[] {
  const title = COLUMNS[0] as Column;
  return [
    title,
    ...(view.columns ?? []).flatMap((one): Column[] => {
      const known = catalogue.columns.find((each) => each.key === one.key);
      if (!known || one.key === "title") return [];
      const right = known.type === "number" || known.type === "date";
      const width = one.width ?? WIDTHS[one.key] ?? (right ? 92 : 124);
      return [{ id: one.key, head: known.name, width, rank: 0, field: one.key, typed: false, right, foot: one.foot }];
    }),
  ];
}

/** Where the list lies as CSV. */
function csvAddress(scope: Scope, view: View): string {
  const query = writeScope(new URLSearchParams(), scope);
  query.set("view", JSON.stringify({ ...view, ...tintsOnly(view) }));
  return `/api/tasks.csv?${query}`;
}

/** A line of the list: the head of a group, or a task. */
type Line = { head: ViewGroup; outer: boolean } | { head?: undefined; item: Item };

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
  const [params, setParams] = useSearchParams();
  const catalogue = useCatalogue(ALL_PROJECTS.code);
  const wanted = view.columns?.length ? view : { ...view, columns: USUAL };
  const { data, error, refetch } = useAcross(scope, wanted);
  const tints = useTints(view, data);
  const opened = params.get("open");
  const code = params.get("in");
  useEffect(() => {
    document.title = "All work · Desk";
  }, []);
  const open = (id: string | null, of: string | null = code) =>
    setParams(
      (now) => {
        for (const [name, value] of [
          ["open", id],
          ["in", id && of],
        ] as const) {
          if (value) now.set(name, value);
          else now.delete(name);
        }
        return now;
      },
      { replace: true },
    );
  const tabs = useSheetTabs(ALL_PROJECTS, "all_work");
  const lines = data ? linesOf(data) : [];
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
            <a className="underline decoration-rule-2 hover:text-ink" href={csvAddress(scope, wanted)} download>
              as CSV
            </a>
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
          <List
            answer={data}
            lines={lines}
            columns={columnsOf(wanted, catalogue.data)}
            tints={tints}
            opened={opened}
            open={open}
            chooser={(columns) => (
              <ColumnsButton
                columns={columns}
                chosen={Boolean(view.columns?.length)}
                catalogue={catalogue.data}
                change={change}
              />
            )}
          />
        )}
        {opened && code && (
          <Suspense fallback={null}>
            <Opened id={opened} code={code} open={open} step={step} />
          </Suspense>
        )}
      </div>
      <SheetBar sheets={DESK_LENSES} current={params.get("sheet") ? "" : "All work"} {...tabs} />
    </>
  );
}

/** The folio of a task in any project. */
function Opened({
  id,
  code,
  open,
  step,
}: {
  id: string;
  code: string;
  open: (id: string | null) => void;
  step: (by: 1 | -1) => void;
}) {
  const project = useProject(code);
  const rows = useRows(code);
  const changes = useChanges(code);
  if (!project.data || !rows.data) return null;
  return (
    <Folio
      id={id}
      project={project.data}
      changes={changes}
      openTask={(other) => open(other)}
      step={step}
      close={() => open(null)}
    />
  );
}

function List({
  answer,
  lines,
  columns,
  tints,
  opened,
  open,
  chooser,
}: {
  answer: Answer;
  lines: Line[];
  columns: Column[];
  tints: Map<string, RowTints> | undefined;
  opened: string | null;
  open: (id: string, code: string) => void;
  chooser: (columns: Column[]) => React.ReactNode;
}) {
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 12,
    // the first paint must not be empty where the browser has not measured yet
    initialRect: { width: 1200, height: 700 },
  });
  const wide = columns.slice(1).reduce((sum, one) => sum + one.width, 360);
  function keys(event: React.KeyboardEvent) {
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    const index = Number((event.target as HTMLElement).closest<HTMLElement>("[data-line]")?.dataset.line ?? Number.NaN);
    if (!by || Number.isNaN(index)) return;
    event.preventDefault();
    let next = index + by;
    while (lines[next]?.head) next += by;
    if (!lines[next]) return;
    virtual.scrollToIndex(next);
    requestAnimationFrame(() =>
      scroller.current?.querySelector<HTMLElement>(`[data-line="${next}"] button`)?.focus({ preventScroll: true }),
    );
  }
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the arrow keys walk from task to task
    <div ref={scroller} className="min-w-0 flex-1 overflow-auto" tabIndex={-1} onKeyDown={keys}>
      <div role="table" aria-label="Tasks" aria-rowcount={lines.length + 1} style={{ minWidth: wide }}>
        <div role="rowgroup" className="sticky top-0 z-10">
          {/* biome-ignore lint/a11y/useFocusableInteractive: heads are read, the tasks under them take the focus */}
          <div
            role="row"
            aria-rowindex={1}
            className="flex h-[27px] items-center border-b border-rule-2 bg-band pl-1 text-[12px] text-ink-2"
          >
            <span role="columnheader" tabIndex={-1} className="min-w-0 flex-1 pl-[22px]">
              Task
            </span>
            {columns.slice(1).map((column) => (
              <span
                key={column.id}
                role="columnheader"
                tabIndex={-1}
                className={`flex-none truncate px-1.5 ${column.right ? "text-right" : ""}`}
                style={{ width: column.width }}
              >
                {column.head}
              </span>
            ))}
            <span role="columnheader" tabIndex={-1} aria-label="Columns" className="w-9 flex-none">
              {chooser(columns)}
            </span>
          </div>
        </div>
        <div role="rowgroup" className="relative" style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map((at) => {
            const line = lines[at.index];
            if (!line) return null;
            return (
              <div
                key={line.head ? `head ${line.head.path.join(" ")} ${line.outer}` : line.item.row.id}
                role="presentation"
                data-line={at.index}
                className="absolute top-0 left-0 w-full"
                style={{ transform: `translateY(${at.start}px)` }}
              >
                {line.head ? (
                  <GroupHead plain group={line.head} outer={line.outer} columns={columns} />
                ) : (
                  <TaskLine
                    item={line.item}
                    index={at.index}
                    columns={columns}
                    words={answer.words}
                    tints={tints?.get(line.item.row.id)}
                    here={opened === line.item.row.id}
                    open={open}
                  />
                )}
              </div>
            );
          })}
        </div>
      </div>
      {!lines.length && (
        <Empty title="Nothing is left by the sentence above">
          <p>Take a clause out of it, or choose another word.</p>
        </Empty>
      )}
      {answer.shown > answer.rows.length && (
        <p className="px-6 py-3 text-ink-2">
          These are the first {answer.rows.length.toLocaleString("en")} of {count(answer.shown, "task")}. Narrow the
          sentence to come to the others; groups and sums count all.
        </p>
      )}
      {Object.keys(answer.feet).length > 0 && (
        <div className="sticky bottom-0 z-10" style={{ minWidth: wide }}>
          <FootRow feet={answer.feet} columns={columns} />
        </div>
      )}
    </div>
  );
}

function TaskLine({
  item,
  index,
  columns,
  words,
  tints,
  here,
  open,
}: {
  item: Item;
  index: number;
  columns: Column[];
  words: Answer["words"];
  tints: RowTints | undefined;
  here: boolean;
  open: (id: string, code: string) => void;
}) {
  const { now } = useMe();
  const { row, code } = item;
  const late = row.late_days > 0;
  return (
    // biome-ignore lint/a11y/useFocusableInteractive: the task's own button takes the focus
    <div
      role="row"
      aria-rowindex={index + 2}
      className={`flex h-[29px] items-center border-b border-rule/60 pl-1 ${here ? "bg-rose-soft/60 shadow-[inset_3px_0_0_var(--color-rose)]" : "hover:bg-paper"}`}
      style={here ? undefined : tintStyle(tints?.row)}
      title={tints?.row ? `Tint: ${tints.row.name}` : undefined}
    >
      <span role="cell" className="flex min-w-0 flex-1 items-center gap-1.5 pl-1">
        <Facet row={row} size={15} />
        {tints?.row && <Sign shape={tints.row.sign} colour={tints.row.colour} />}
        <button
          type="button"
          className="min-w-0 shrink-[0.2] truncate text-left hover:underline"
          onClick={() => open(row.id, code)}
        >
          {row.title}
        </button>
        <span className="flex min-w-0 items-center gap-2 overflow-hidden text-[11.5px] whitespace-nowrap text-ink-2">
          {row.held && !columns.some((one) => one.id === "held_by") && (
            <span className="hatched min-w-0 truncate px-1">held: {row.held}</span>
          )}
          <TaskCounts row={row} />
          <span>
            {code} {row.number}
          </span>
        </span>
      </span>
      {columns.slice(1).map((column) => {
        const key = keyOf(column);
        const tint = tints?.[`cell:${key}`];
        const said = words[key]?.[row.id] ?? "";
        return (
          <span
            key={column.id}
            role="cell"
            className={`flex-none truncate px-1.5 ${column.right ? "text-right" : ""} ${late && key === "finish" ? "font-semibold text-ember" : ""}`}
            style={{ width: column.width, ...tintStyle(tint) }}
            title={tint ? `Tint: ${tint.name}` : said}
          >
            {/^\d{4}-\d\d-\d\d$/.test(said) ? sayDay(parseISO(said).toISOString(), now) : said}
          </span>
        );
      })}
      <span className="w-9 flex-none" />
    </div>
  );
}
