/** The outline: the tree of tasks as a grid, edited in place with pointer and keyboard. */
import {
  DndContext,
  type DragEndEvent,
  type DragMoveEvent,
  DragOverlay,
  PointerSensor,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { useVirtualizer } from "@tanstack/react-virtual";
import { lazy, Suspense, useCallback, useEffect, useMemo, useRef, useState } from "react";
import { sentence, type TaskRow } from "../../data/api";
import { may, mayShape, useMe, usePeople } from "../../data/hooks";
import { note } from "../../data/notes";
import { Button, Empty, Menu, MenuItem, MenuLine } from "../../parts/basics";
import { count } from "../../parts/format";
import { useWidth } from "../../parts/use-width";
import { useCatalogue, useView } from "../../views/view";
import type { LensProps } from "../lens";
import type { OutlineRow } from "../rows";
import { AddLine } from "./add-line";
import { arranged } from "./arranged";
import { Bulk, type BulkKind } from "./bulk";
import { WordsContext } from "./cell";
import { copyCells, pasteCells } from "./cells";
import { ColumnsButton, Head } from "./column-choice";
import { type Column, type ColumnId, columnsFor, columnsOf, isFixed } from "./columns";
import { type Drop, dropAt, type Pointer } from "./dropping";
import { FootRow, GroupHead } from "./groups";
import { OutlineRowView, type RowActions } from "./row";

const CopyTasks = lazy(() => import("../copy"));
const ROW = 29;
const HEAD = 30;

interface At {
  id: string;
  column: ColumnId;
}

export default function Outline(props: LensProps) {
  const { project, outline, inside, changes, opened, openTask, answer, tints } = props;
  const { now } = useMe();
  const canEdit = may(project, "edit");
  const canShape = may(project, "edit");
  const people = usePeople();
  const [many, setMany] = useState<BulkKind | null>(null);
  const [copying, setCopying] = useState<string[] | null>(null);
  const scroller = useRef<HTMLDivElement>(null);
  const width = useWidth(scroller, 1200);
  const [folded, setFolded] = useState<Set<string>>(() => readFolds(project.code));
  const [at, setAt] = useState<At | null>(null);
  const [editing, setEditing] = useState<string | null>(null);
  const [refused, setRefused] = useState<string>();
  const [selected, setSelected] = useState<Set<string>>(new Set());
  const [anchor, setAnchor] = useState<string | null>(null);
  const [drop, setDrop] = useState<Drop | null>(null);
  const [dragged, setDragged] = useState<string | null>(null);
  const wantsFocus = useRef(false);

  useEffect(
    () => sessionStorage.setItem(`rhodonite.folds.${project.code}`, JSON.stringify([...folded])),
    [folded, project.code],
  );

  const [view, changeView] = useView();
  const catalogue = useCatalogue(project.code).data;
  const items = useMemo(() => arranged(outline, inside, folded, view, answer), [outline, inside, folded, view, answer]);
  const rows = useMemo(() => items.flatMap((item) => (item.head ? [] : [item.one])), [items]);
  /** true where rows stand as in the outline, so that they can be moved */
  const asOutlined = !view.groups?.length && !view.sorts?.length;
  const withLinks = useMemo(() => outline.some(({ row }) => row.waits_for.length > 0), [outline]);
  const columns = useMemo(
    () => (view.columns && catalogue ? columnsOf(view.columns, catalogue, project) : columnsFor(width - 40, withLinks)),
    [width, withLinks, view.columns, catalogue, project],
  );
  const wide = columns.reduce((sum, one) => sum + one.width, 340);
  const virtual = useVirtualizer({
    count: items.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 12,
    scrollMargin: HEAD,
    scrollPaddingStart: HEAD,
    scrollPaddingEnd: 34,
  });

  // what the handlers need is kept beside them, so that rows need not be drawn again when it changes
  const live = useRef({ rows, items, columns, at, selected, anchor, editing, canEdit });
  live.current = { rows, items, columns, at, selected, anchor, editing, canEdit };

  const go = useCallback(
    (id: string, column: ColumnId) => {
      wantsFocus.current = true;
      setAt({ id, column });
      const index = live.current.items.findIndex((item) => !item.head && item.one.row.id === id);
      if (index >= 0) virtual.scrollToIndex(index, { align: "auto" });
    },
    [virtual],
  );

  useEffect(() => {
    if (!wantsFocus.current || !at || editing !== null) return;
    const cell = scroller.current?.querySelector<HTMLElement>(`[data-row="${at.id}"] [data-cell="${at.column}"]`);
    if (cell) {
      cell.focus({ preventScroll: true });
      wantsFocus.current = false;
    }
  });

  const actions = useMemo<RowActions>(() => {
    const chosen = (id: string) => {
      const now = live.current.selected;
      return now.has(id) ? [...now] : [id];
    };
    return {
      focus: (id, column, how) => {
        const state = live.current;
        if (how === "range" && state.anchor) setSelected(rangeOf(state.rows, state.anchor, id));
        else if (how === "more") {
          const next = new Set(state.selected);
          if (next.has(id)) next.delete(id);
          else next.add(id);
          if (!state.selected.size && state.at && state.at.id !== id) next.add(state.at.id);
          setSelected(next);
          setAnchor(id);
        } else {
          setSelected(new Set());
          setAnchor(id);
        }
        go(id, column);
      },
      beginEdit: (id, column) => {
        wantsFocus.current = false;
        setAt({ id, column });
        setEditing("");
      },
      endEdit: (id, column, how) => {
        setEditing(null);
        setRefused(undefined);
        const state = live.current;
        const index = state.rows.findIndex((one) => one.row.id === id);
        const place = state.columns.findIndex((one) => one.id === column);
        if (how === "down") {
          const below = state.rows[index + 1];
          if (below) go(below.row.id, column);
          else document.querySelector<HTMLInputElement>("[data-add-line]")?.focus();
        } else if (how === "next" || how === "back") {
          go(
            id,
            state.columns[Math.max(0, Math.min(state.columns.length - 1, place + (how === "next" ? 1 : -1)))]?.id ??
              column,
          );
        } else go(id, column);
      },
      save: async (row: TaskRow, column: Column, value: unknown, shown?: Partial<TaskRow>) => {
        const ids = column.id === "title" ? [row.id] : chosen(row.id);
        const what = ids.length > 1 ? `${column.head} of ${ids.length} tasks` : `${column.head} of “${row.title}”`;
        const edits = ids.map((id) => ({ id, fields: { [column.field]: value }, shown }));
        try {
          await changes.edit(what, edits);
        } catch (error) {
          const why = sentence(error);
          // what was typed comes back to its cell with the reason, unless another cell is being typed in by now
          if (!column.typed || live.current.editing !== null) {
            note(column.typed ? `${why} You typed “${value}” for “${row.title}”.` : why, "wrong");
          } else {
            setRefused(why);
            setAt({ id: row.id, column: column.id });
            setEditing(String(value));
          }
        }
      },
      fold: (id) =>
        setFolded((now) => {
          const next = new Set(now);
          if (!next.delete(id)) next.add(id);
          return next;
        }),
      open: (row) => openTask(row.id),
    };
  }, [changes, go, openTask]);

  const targets = () => (selected.size ? [...selected] : at ? [at.id] : []);

  async function addBelow(id: string) {
    const one = rows.find((row) => row.row.id === id);
    if (!one) return;
    const open = one.hasBelow && !folded.has(id);
    const [made] = await changes.add([
      { title: "New task", parent_id: open ? id : one.row.parent_id, after_id: open ? null : id },
    ]);
    if (made) {
      setAt({ id: made, column: "title" });
      setEditing("");
    }
  }

  async function remove() {
    const ids = targets();
    if (!ids.length) return;
    const index = rows.findIndex((one) => one.row.id === ids[0]);
    const next = rows.slice(index).find((one) => !ids.includes(one.row.id)) ?? rows[index - 1];
    setSelected(new Set());
    await changes.remove(ids);
    if (next) go(next.row.id, "title");
  }

  function key(event: React.KeyboardEvent) {
    if (!at || editing !== null || (event.target as HTMLElement).closest("[data-radix-popper-content-wrapper]")) return;
    const index = rows.findIndex((one) => one.row.id === at.id);
    const here = rows[index];
    if (!here) return;
    const place = columns.findIndex((one) => one.id === at.column);
    const column = columns[place];
    const to = (row: number, cell: number) => {
      const target = rows[Math.max(0, Math.min(rows.length - 1, row))];
      const next = columns[Math.max(0, Math.min(columns.length - 1, cell))];
      if (!target || !next) return;
      if (event.shiftKey && row !== index) setSelected(rangeOf(rows, anchor ?? at.id, target.row.id));
      else if (row !== index) {
        setSelected(new Set());
        setAnchor(target.row.id);
      }
      go(target.row.id, next.id);
    };
    const alt = { ArrowLeft: "outdent", ArrowRight: "indent", ArrowUp: "up", ArrowDown: "down" }[event.key] as
      | "up"
      | undefined;
    const page = Math.max(1, Math.floor((scroller.current?.clientHeight ?? 400) / ROW) - 1);
    const handled = (_?: unknown) => event.preventDefault();
    if (event.altKey && alt && canShape && !asOutlined) {
      handled();
      note("Tasks move where they stand as in the outline: take the groups and the order out of the sentence first.");
    } else if (event.altKey && alt && canShape) {
      handled();
      changes.step(targets(), alt).then(() => live.current.at?.id === at.id && go(at.id, at.column));
    } else if (event.key === "ArrowDown") {
      handled();
      if (index === rows.length - 1 && canShape && !event.shiftKey)
        document.querySelector<HTMLInputElement>("[data-add-line]")?.focus();
      else to(index + 1, place);
    } else if (event.key === "ArrowUp") handled(to(index - 1, place));
    else if (event.key === "PageDown") handled(to(index + page, place));
    else if (event.key === "PageUp") handled(to(index - page, place));
    else if (event.key === "Home" && event.ctrlKey) handled(to(0, place));
    else if (event.key === "End" && event.ctrlKey) handled(to(rows.length - 1, place));
    else if (event.key === "Home") handled(to(index, 0));
    else if (event.key === "End") handled(to(index, columns.length - 1));
    else if (event.key === "ArrowRight") {
      handled();
      if (place === 0 && here.hasBelow && folded.has(at.id)) actions.fold(at.id);
      else to(index, place + 1);
    } else if (event.key === "ArrowLeft") {
      handled();
      if (place === 0 && here.hasBelow && !folded.has(at.id)) actions.fold(at.id);
      else if (place === 0 && here.row.parent_id) go(here.row.parent_id, "title");
      else to(index, place - 1);
    } else if (event.key === "Tab" && !event.altKey) {
      const next = place + (event.shiftKey ? -1 : 1);
      if (next >= 0 && next < columns.length) handled(go(at.id, columns[next]?.id ?? "title"));
    } else if (event.key === "Escape") setSelected(new Set());
    else if (event.key === " " && !event.ctrlKey) {
      handled();
      actions.focus(at.id, at.column, "more");
    } else if (event.key === "a" && (event.ctrlKey || event.metaKey)) {
      handled();
      setSelected(new Set(rows.map((one) => one.row.id)));
    } else if (event.key === "Enter" && (event.altKey || (at.column === "title" && !event.ctrlKey && !event.metaKey)))
      handled(openTask(at.id));
    else if (!canEdit) {
      if (event.key === "Enter") handled(openTask(at.id));
    } else if (canShape && event.key === "Enter" && (event.ctrlKey || event.metaKey)) handled(addBelow(at.id));
    else if (canShape && event.key === "Insert") handled(addBelow(at.id));
    else if (canShape && event.key === "Delete") handled(remove());
    else if ((event.key === "Enter" || event.key === "F2") && column && !isFixed(here.row, column, project))
      handled(setEditing(""));
    else if (
      event.key.length === 1 &&
      !event.ctrlKey &&
      !event.metaKey &&
      !event.altKey &&
      column?.typed &&
      !isFixed(here.row, column, project)
    ) {
      handled();
      setEditing(event.key);
    }
  }

  function paste(event: React.ClipboardEvent) {
    if (!at || editing !== null || !canEdit || (event.target as HTMLElement).tagName === "INPUT") return;
    const index = rows.findIndex((one) => one.row.id === at.id);
    const here = rows[index];
    const text = event.clipboardData.getData("text/plain");
    if (!here || !text.trim()) return;
    event.preventDefault();
    // at a title lines become tasks; at any other cell a block fills the cells from there on
    if (at.column === "title") {
      if (canShape) changes.paste(text, here.row.parent_id, here.row.id);
      return;
    }
    const below = rows.slice(index).map((one) => one.row);
    const right = columns.slice(columns.findIndex((one) => one.id === at.column));
    const edits = pasteCells(text, below, right, project, people);
    if (typeof edits === "string") note(edits, "wrong");
    else if (edits.length) changes.editOrTell(`Pasted into ${count(edits.length, "task")}`, edits);
  }

  function copy(event: React.ClipboardEvent) {
    if (!at || editing !== null || (event.target as HTMLElement).tagName === "INPUT") return;
    const ids = new Set(targets());
    const chosen = rows.filter((one) => ids.has(one.row.id)).map((one) => one.row);
    event.preventDefault();
    const one = columns.find((column) => column.id === at.column);
    const cells = copyCells(chosen, selected.size || !one ? columns : [one], project, people, now, answer?.words);
    const heads = columns.map((column) => column.head).join("\t");
    const text = selected.size ? `${heads}\n${cells}` : cells;
    event.clipboardData.setData("text/plain", text);
    note(selected.size ? `Copied ${count(chosen.length, "task")} with their cells` : "Copied the cell");
  }

  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }));
  function dragMove(event: DragMoveEvent) {
    const box = scroller.current;
    const moving = new Set(draggedIds(String(event.active.id), selected));
    setDrop(box && dropAt(pointerOf(event, box), rows, moving));
  }
  async function dragEnd(event: DragEndEvent) {
    const ids = draggedIds(String(event.active.id), selected);
    const to = asOutlined ? drop : null;
    setDrop(null);
    setDragged(null);
    if (to) await changes.move(ids, to.parent_id, to.after_id);
  }

  const empty = !outline.length;
  return (
    <WordsContext value={answer?.words ?? NO_WORDS}>
      <div className="flex min-w-0 flex-1 flex-col">
        <DndContext
          sensors={sensors}
          onDragStart={(event) => setDragged(String(event.active.id))}
          onDragMove={dragMove}
          onDragEnd={dragEnd}
          onDragCancel={() => {
            setDrop(null);
            setDragged(null);
          }}
        >
          {/* biome-ignore lint/a11y/noStaticElementInteractions: the grid within takes the focus, and its keys come here */}
          <div
            ref={scroller}
            className="min-h-0 flex-1 overflow-auto"
            tabIndex={at ? -1 : 0}
            onFocus={(event) => {
              if (event.target === event.currentTarget && !at && rows[0]) go(rows[0].row.id, "title");
            }}
            onKeyDown={key}
            onPaste={paste}
            onCopy={copy}
          >
            <div
              role="treegrid"
              aria-label="Outline"
              aria-multiselectable="true"
              aria-rowcount={rows.length + 1}
              style={view.columns && wide > width ? { width: wide } : undefined}
            >
              <div
                role="row"
                tabIndex={-1}
                aria-rowindex={1}
                className="sticky top-0 z-10 flex h-[30px] items-center border-b border-rule-2 bg-sheet pl-1 text-[11.5px] text-ink-3"
              >
                {columns.map((column) => (
                  <span
                    role="columnheader"
                    tabIndex={-1}
                    key={column.id}
                    aria-label={column.id === "title" ? undefined : column.head}
                    className={`px-1.5 ${column.id === "title" ? "flex-1 pl-[22px]" : "flex-none"} ${column.right ? "text-right" : ""}`}
                    style={column.id === "title" ? undefined : { width: column.width }}
                  >
                    {column.id === "title" && selected.size > 1 ? (
                      <SelectionBar
                        count={selected.size}
                        changes={changes}
                        ids={targets}
                        remove={remove}
                        clear={() => setSelected(new Set())}
                        open={setMany}
                        copy={() => setCopying(topmost(targets(), outline))}
                        canEdit={canEdit}
                        canCopy={mayShape(project)}
                      />
                    ) : column.id === "title" ? (
                      column.head
                    ) : (
                      <Head column={column} columns={columns} change={changeView} />
                    )}
                  </span>
                ))}
                <span
                  role="columnheader"
                  tabIndex={-1}
                  aria-label="Choose columns"
                  className="w-9 flex-none text-center"
                >
                  {catalogue && (
                    <ColumnsButton
                      columns={columns}
                      chosen={Boolean(view.columns)}
                      catalogue={catalogue}
                      change={changeView}
                    />
                  )}
                </span>
              </div>
              <div style={{ height: virtual.getTotalSize(), position: "relative" }}>
                {virtual.getVirtualItems().map((item) => {
                  const shown = items[item.index];
                  if (!shown) return null;
                  if (shown.head)
                    return (
                      <div
                        key={`head ${shown.head.path.join(" ")} ${shown.outer}`}
                        className="absolute top-0 left-0 w-full"
                        style={{ transform: `translateY(${item.start - HEAD}px)` }}
                      >
                        <GroupHead group={shown.head} outer={shown.outer} columns={columns} />
                      </div>
                    );
                  const { one } = shown;
                  const isAt = at?.id === one.row.id;
                  return (
                    <div
                      key={one.row.id}
                      className="absolute top-0 left-0 w-full"
                      style={{ transform: `translateY(${item.start - HEAD}px)` }}
                    >
                      <OutlineRowView
                        row={one.row}
                        index={item.index}
                        depth={one.depth}
                        number={one.number}
                        dim={one.dim}
                        folded={folded.has(one.row.id)}
                        hasBelow={one.hasBelow}
                        columns={columns}
                        project={project}
                        active={isAt ? at.column : null}
                        editing={isAt ? editing : null}
                        refused={isAt ? refused : undefined}
                        selected={selected.has(one.row.id)}
                        opened={opened === one.row.id}
                        canEdit={canEdit}
                        now={now}
                        actions={actions}
                        tints={tints?.get(one.row.id)}
                      />
                    </div>
                  );
                })}
                {drop && (
                  <div
                    className="pointer-events-none absolute right-0 h-[3px] bg-rose"
                    style={{ top: drop.index * ROW - 1, left: 22 + drop.depth * 16 }}
                  />
                )}
              </div>
            </div>
            {empty && (
              <Empty title="Write down what has to be done">
                {canShape ? (
                  <p>
                    Type the first task below and press Enter, again and again. Paste a list and every line becomes a
                    task; indentation becomes nesting. Alt with the arrow keys indents and moves.
                  </p>
                ) : (
                  <p>Nothing has been written down in this project yet.</p>
                )}
              </Empty>
            )}
            {!empty && !rows.length && (
              <p className="p-6 text-ink-2">The sentence above leaves no task. Take a clause out of it.</p>
            )}
            {answer && Object.keys(answer.feet).length > 0 && <FootRow feet={answer.feet} columns={columns} />}
            {canShape && (
              <AddLine
                code={project.code}
                changes={changes}
                first={empty}
                onAdded={() => {
                  const node = scroller.current;
                  requestAnimationFrame(() => node?.scrollTo({ top: node.scrollHeight }));
                }}
                onLeave={() => {
                  const last = rows.at(-1);
                  if (last) go(last.row.id, "title");
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
                  if (moved) setSelected(new Set());
                }}
              />
            </Suspense>
          )}
          {many && (
            <Bulk
              kind={many}
              rows={outline.filter((one) => selected.has(one.row.id)).map((one) => one.row)}
              project={project}
              changes={changes}
              close={() => setMany(null)}
            />
          )}
          <DragOverlay dropAnimation={null}>
            {dragged && (
              <div className="w-max border border-ink bg-sheet px-2 py-1 font-semibold">
                {count(draggedIds(dragged, selected).length, "task")}:{" "}
                {rows.find((one) => one.row.id === dragged)?.row.title}
              </div>
            )}
          </DragOverlay>
        </DndContext>
      </div>
    </WordsContext>
  );
}

const NO_WORDS = {};

function SelectionBar({
  count: number,
  changes,
  ids,
  remove,
  clear,
  open,
  copy,
  canEdit,
  canCopy,
}: {
  count: number;
  changes: LensProps["changes"];
  ids: () => string[];
  remove: () => void;
  clear: () => void;
  open: (kind: BulkKind) => void;
  copy: () => void;
  canEdit: boolean;
  canCopy: boolean;
}) {
  return (
    <span className="flex items-center gap-3 text-[12.5px] text-ink">
      <b className="font-semibold">{count(number, "task")} chosen</b>
      {canEdit && (
        <Menu
          trigger={
            <button type="button" className="font-semibold text-rose">
              Do with them
            </button>
          }
        >
          <MenuItem onSelect={() => open("fields")}>Change fields</MenuItem>
          <MenuItem onSelect={() => open("shift")}>Shift dates</MenuItem>
          <MenuItem onSelect={() => changes.linkInARow(ids())}>Link in a row</MenuItem>
          <MenuItem onSelect={() => open("replace")}>Find and replace in titles</MenuItem>
          <MenuLine />
          {canCopy && <MenuItem onSelect={copy}>Copy or move</MenuItem>}
          <MenuItem onSelect={() => changes.step(ids(), "indent")}>Indent</MenuItem>
          <MenuItem onSelect={() => changes.step(ids(), "outdent")}>Outdent</MenuItem>
          <MenuItem onSelect={() => changes.step(ids(), "up")}>Move up</MenuItem>
          <MenuItem onSelect={() => changes.step(ids(), "down")}>Move down</MenuItem>
          <MenuLine />
          <MenuItem onSelect={remove}>Delete</MenuItem>
        </Menu>
      )}
      <Button look="quiet" className="h-6 px-1.5 font-normal" onClick={clear}>
        clear
      </Button>
    </span>
  );
}

function readFolds(code: string): Set<string> {
  try {
    return new Set(JSON.parse(sessionStorage.getItem(`rhodonite.folds.${code}`) ?? "[]"));
  } catch {
    return new Set();
  }
}

function rangeOf(rows: OutlineRow[], from: string, to: string): Set<string> {
  const a = rows.findIndex((one) => one.row.id === from);
  const b = rows.findIndex((one) => one.row.id === to);
  if (a < 0 || b < 0) return new Set([to]);
  return new Set(rows.slice(Math.min(a, b), Math.max(a, b) + 1).map((one) => one.row.id));
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

const draggedIds = (id: string, selected: Set<string>) => (selected.has(id) ? [...selected] : [id]);

/** Where the pointer of a drag is, in rows and levels. */
function pointerOf(event: DragMoveEvent, box: HTMLDivElement): Pointer {
  const start = event.activatorEvent as PointerEvent;
  const rect = box.getBoundingClientRect();
  const y = start.clientY + event.delta.y - rect.top + box.scrollTop - HEAD;
  return { index: Math.round(y / ROW), level: Math.round((start.clientX + event.delta.x - rect.left - 30) / 16) };
}
