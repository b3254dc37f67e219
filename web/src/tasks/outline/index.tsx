/** The outline: the tree of tasks as a grid, edited in place with pointer and keyboard. */
import { Suspense, useMemo, useRef, useState } from "react";
import { may, useMe } from "../../data/hooks";
import { Empty } from "../../parts/basics";
import { count } from "../../parts/format";
import { useGrid } from "../../parts/grid/use-grid";
import { later } from "../../parts/later";
import { useWidth } from "../../parts/use-width";
import { useMayEnter } from "../../time/time";
import { useTied } from "../../views/tied";
import { useCatalogue, useView } from "../../views/view";
import { treeOf, useFolds } from "../folds";
import type { LensProps } from "../lens";
import { useRowActions } from "../row-actions";
import type { OutlineRow } from "../rows";
import { AddLine } from "./add-line";
import { arranged } from "./arranged";
import type { BulkKind } from "./bulk";
import { WordsContext } from "./cell";
import { columnsFor, columnsOf, isFixed, isRoomy } from "./columns";
import { FootRow, GroupHead } from "./groups";
import { HeadRow } from "./head-row";
import { OutlineRowView } from "./row";
import { shapingOf } from "./shaping";
import { HEAD, INDENT, ROW } from "./sizes";
import { useClipboard } from "./use-clipboard";
import { useDragRows } from "./use-drag-rows";

const Bulk = later(() => import("./bulk").then((module) => module.Bulk));
const CopyTasks = later(() => import("../copy").then((module) => module.default));

const toAddLine = () => document.querySelector<HTMLInputElement>("[data-add-line]")?.focus();

export default function Outline(props: LensProps) {
  const { project, outline, inside, changes, opened, openTask, answer, tints } = props;
  const { now } = useMe();
  const canEdit = may(project, "edit");
  const [bulk, setBulk] = useState<BulkKind | null>(null);
  const [copying, setCopying] = useState<string[] | null>(null);
  const folds = useFolds(project.code);
  const { folded, fold } = folds;
  const mayEnter = useMayEnter(project);
  const [view] = useView();
  const catalogue = useCatalogue(project.code).data;
  useTied(project); // held for the cells that are changed through it
  const items = useMemo(() => arranged(outline, inside, folded, view, answer), [outline, inside, folded, view, answer]);
  const rows = useMemo(() => items.flatMap((item) => (item.head ? [] : [item.one])), [items]);
  const ids = useMemo(() => rows.map((one) => one.row.id), [rows]);
  const byId = useMemo(() => new Map(rows.map((one) => [one.row.id, one])), [rows]);
  const asOutlined = !view.groups?.length && !view.sorts?.length;
  const withLinks = useMemo(() => outline.some(({ row }) => row.waits_for.length > 0), [outline]);
  const scroller = useRef<HTMLDivElement>(null);
  const width = useWidth(scroller, document.documentElement.clientWidth);
  const columns = useMemo(
    () => (view.columns && catalogue ? columnsOf(view.columns, catalogue, project) : columnsFor(width - 40, withLinks)),
    [width, withLinks, view.columns, catalogue, project],
  );

  const grid = useGrid({
    scroller,
    ids,
    cells: columns.map((one) => one.id),
    lines: {
      count: items.length,
      of: (id) => items.findIndex((item) => !item.head && item.one.row.id === id),
    },
    rowHeight: ROW,
    headHeight: HEAD,
    footHeight: 34,
    chooses: true,
    open: openTask,
    edits: (id, cell) => {
      const column = columns.find((one) => one.id === cell);
      const one = byId.get(id);
      if (!canEdit || !column || !one || isFixed(one.row, column, project)) return null;
      return column.typed ? "typed" : "chosen";
    },
    tree: treeOf(byId, folds),
    past: canEdit ? toAddLine : undefined,
    onKey: (event, at) => shaping.onKey(event, at),
  });
  const { at, editing, refused, chosen, act } = grid;
  const shaping = shapingOf(act, { rows, folded, changes, canEdit, asOutlined });
  const actions = useRowActions(project.code, act, changes, fold, openTask);
  const clipboard = useClipboard(grid, props, rows, columns, answer?.words, canEdit);
  const drag = useDragRows(grid, rows, changes, asOutlined);
  const wide = columns.reduce((sum, one) => sum + one.width, 340);
  const roomy = isRoomy(view.columns ? Math.max(width, wide) : width, columns);
  const empty = !outline.length;
  return (
    <WordsContext value={answer?.words ?? NO_WORDS}>
      <div className="flex min-w-0 flex-1 flex-col">
        <div {...grid.pane} {...clipboard} className="min-h-0 flex-1 overflow-auto">
          <div
            role="treegrid"
            aria-label="Outline"
            aria-multiselectable="true"
            aria-rowcount={rows.length + 1}
            style={view.columns && wide > width ? { width: wide } : undefined}
          >
            <HeadRow
              columns={columns}
              catalogue={catalogue}
              selection={{
                project,
                changes,
                count: chosen.size,
                ids: act.targets,
                canEdit,
                remove: shaping.remove,
                clear: () => act.choose([]),
                open: setBulk,
                copy: () => setCopying(topmost(act.targets(), outline)),
              }}
            />
            <div style={{ height: grid.virtual.getTotalSize(), position: "relative" }}>
              {grid.items.map((item) => {
                const shown = items[item.index];
                if (!shown) return null;
                const { head, one } = shown;
                const isAt = at?.id === one?.row.id;
                return (
                  <div
                    key={head ? `head ${head.path.join(" ")} ${shown.outer}` : one.row.id}
                    className="absolute top-0 left-0 w-full focus-within:z-10"
                    style={{ transform: `translateY(${item.start - HEAD}px)` }}
                  >
                    {head ? (
                      <GroupHead group={head} outer={shown.outer} columns={columns} />
                    ) : (
                      <OutlineRowView
                        mayEnter={mayEnter(one.row)}
                        row={one.row}
                        index={item.index}
                        depth={one.depth}
                        number={one.number}
                        dim={one.dim}
                        folded={folded.has(one.row.id)}
                        hasBelow={one.hasBelow}
                        columns={columns}
                        project={project}
                        active={isAt ? (at?.cell ?? null) : null}
                        editing={isAt ? editing : null}
                        refused={isAt ? refused : undefined}
                        selected={chosen.has(one.row.id)}
                        opened={opened === one.row.id}
                        roomy={roomy}
                        take={drag.take}
                        canEdit={canEdit}
                        now={now}
                        actions={actions}
                        tints={tints?.get(one.row.id)}
                      />
                    )}
                  </div>
                );
              })}
              {drag.drop && (
                <div
                  className="pointer-events-none absolute right-0 h-[3px] bg-rose"
                  style={{ top: drag.drop.index * ROW - 1, left: 22 + drag.drop.depth * INDENT }}
                />
              )}
            </div>
          </div>
          <Nothing empty={empty} filtered={!rows.length} canEdit={canEdit} />
          {answer && Object.keys(answer.feet).length > 0 && <FootRow feet={answer.feet} columns={columns} />}
          {canEdit && (
            <AddLine
              code={project.code}
              changes={changes}
              first={empty}
              onAdded={() => {
                const node = scroller.current;
                requestAnimationFrame(() => node?.scrollTo({ top: node.scrollHeight }));
              }}
              onLeave={() => {
                const last = ids.at(-1);
                if (last) act.go(last, "title");
              }}
            />
          )}
        </div>
        {copying && (
          <Suspense fallback={null}>
            <CopyTasks
              ids={copying}
              project={project}
              changes={changes}
              close={(moved) => {
                setCopying(null);
                if (moved) act.choose([]);
              }}
            />
          </Suspense>
        )}
        {bulk && (
          <Suspense fallback={null}>
            <Bulk
              kind={bulk}
              rows={outline.filter((one) => chosen.has(one.row.id)).map((one) => one.row)}
              project={project}
              changes={changes}
              close={() => setBulk(null)}
            />
          </Suspense>
        )}
        {drag.dragged && (
          <div
            className="pointer-events-none fixed z-30 w-max border border-ink bg-sheet px-2 py-1 font-semibold"
            style={{ left: drag.dragged.x + 12, top: drag.dragged.y - 14 }}
          >
            {count(drag.dragged.count, "task")}: {byId.get(drag.dragged.id)?.row.title}
          </div>
        )}
      </div>
    </WordsContext>
  );
}

const NO_WORDS = {};

/** What stands where no row does. */
function Nothing({ empty, filtered, canEdit }: { empty: boolean; filtered: boolean; canEdit: boolean }) {
  if (!empty)
    return filtered ? (
      <p className="p-6 text-ink-2">The sentence above leaves no task. Take a clause out of it.</p>
    ) : null;
  return (
    <Empty title="Write down what has to be done">
      {canEdit ? (
        <p>
          Type the first task below and press Enter, again and again. Paste a list and every line becomes a task;
          indentation becomes nesting. Alt with the arrow keys indents and moves.
        </p>
      ) : (
        <p>Nothing has been written down in this project yet.</p>
      )}
    </Empty>
  );
}

/** Chosen tasks without those that stand below another chosen one: they come along. */
function topmost(ids: string[], outline: OutlineRow[]): string[] {
  const chosen = new Set(ids);
  const parents = new Map(outline.map(({ row }) => [row.id, row.parent_id]));
  return ids.filter((id) => {
    for (let at = parents.get(id); at; at = parents.get(at)) if (chosen.has(at)) return false;
    return true;
  });
}
