/**
 * The keyboard grid that outline, schedule and lists share: rows that are virtual, a cell that has the focus, cells that
 * are edited in place, rows that are chosen. A lens says what its rows and cells are and what only it does; it draws them
 * itself, each row with `data-row` and each cell with `data-cell`, the cell at `grid.at` with a tab index of 0.
 */
import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useMemo, useRef, useState } from "react";
import { between, spotAfter, writes } from "./keys";

export interface At {
  id: string;
  cell: string;
}

/** How a cell was left: where to go from it. */
export type Left = "stay" | "down" | "next" | "back";

/** How a cell is come to: with the rows up to it chosen, or with its row chosen besides. */
export type Come = "range" | "more";

export interface GridSpec {
  /** the element that scrolls */
  scroller: React.RefObject<HTMLDivElement | null>;
  /** the rows that can be gone to, from the top */
  ids: string[];
  /** the cells of each row, from the left; Enter opens the first */
  cells: string[];
  /** where rows stand among all lines, when heads of groups stand between them */
  lines?: { count: number; of: (id: string) => number };
  /** heights in pixels */
  rowHeight: number;
  headHeight: number;
  /** what covers the lower edge, in pixels */
  footHeight?: number;
  /** how a cell is edited: by typing, by choosing, or not */
  edits?: (id: string, cell: string) => "typed" | "chosen" | null;
  open: (id: string) => void;
  /** rows can be chosen, and chosen ones changed together */
  chooses?: boolean;
  /** how a row with others under it stands, and the row that it is under */
  tree?: {
    folds: (id: string) => "open" | "folded" | null;
    fold: (id: string) => void;
    parent: (id: string) => string | null;
  };
  /** below the last row something takes the focus */
  past?: () => void;
  /** keys of this lens alone; true where the key was its own */
  onKey?: (event: React.KeyboardEvent, at: At, index: number) => boolean;
}

const NONE: ReadonlySet<string> = new Set<string>();
const isChoice = (target: EventTarget) =>
  (target as HTMLElement).closest("[data-radix-popper-content-wrapper], form") !== null;

/** How a click on a cell comes to it. */
export const comeBy = (event: Pick<React.MouseEvent, "shiftKey" | "ctrlKey" | "metaKey">): Come | undefined =>
  event.shiftKey ? "range" : event.ctrlKey || event.metaKey ? "more" : undefined;

export type Grid = ReturnType<typeof useGrid>;

export function useGrid(spec: GridSpec) {
  const { scroller } = spec;
  const [at, setAt] = useState<At | null>(null);
  /** null where nothing is edited; else the text that it began with, empty for the value itself */
  const [editing, setEditing] = useState<string | null>(null);
  const [refused, setRefused] = useState<string>();
  const [chosen, setChosen] = useState(NONE);
  const anchor = useRef<string | null>(null);
  // the cell that is to have the focus once it is drawn: an effect of an earlier drawing must not take it for its own
  const wanted = useRef<At | null>(null);
  const virtual = useVirtualizer({
    count: spec.lines?.count ?? spec.ids.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => spec.rowHeight,
    overscan: 10,
    scrollMargin: spec.headHeight,
    scrollPaddingStart: spec.headHeight + 2,
    scrollPaddingEnd: spec.footHeight ?? 12,
    // the first paint must not be empty where the browser has not measured yet
    initialRect: { width: 1200, height: 700 },
  });

  // what the handlers need is kept beside them, so that rows need not be drawn again when it changes
  const live = useRef({ spec, at, editing, chosen });
  live.current = { spec, at, editing, chosen };

  const act = useMemo(() => {
    const lineOf = (id: string) => live.current.spec.lines?.of(id) ?? live.current.spec.ids.indexOf(id);
    function go(id: string, cell: string) {
      wanted.current = { id, cell };
      setAt({ id, cell });
      const line = lineOf(id);
      if (line >= 0) virtual.scrollToIndex(line, { align: "auto" });
    }
    return {
      go,
      /** As `go`, after an answer has come: not where somebody went on to something else. */
      regain: (id: string, cell: string) => {
        const active = document.activeElement;
        if (!active || active === document.body || scroller.current?.contains(active)) go(id, cell);
      },
      /** Come to a cell, as a click with Shift or Ctrl does. */
      focus: (id: string, cell: string, how?: Come) => {
        const { spec, chosen, at } = live.current;
        if (how === "range" && anchor.current) setChosen(between(spec.ids, anchor.current, id));
        else {
          const more = new Set(chosen);
          if (!more.delete(id)) more.add(id);
          if (!chosen.size && at && at.id !== id) more.add(at.id);
          setChosen(how === "more" ? more : NONE);
          anchor.current = id;
        }
        go(id, cell);
      },
      /** Edit a cell, with its value or with what was typed. */
      edit: (id: string, cell: string, text = "") => {
        wanted.current = null;
        setAt({ id, cell });
        setEditing(text);
      },
      /** What was typed was refused: it comes back to its cell with the reason. */
      refuse: (id: string, cell: string, text: string, why: string) => {
        setRefused(why);
        setAt({ id, cell });
        setEditing(text);
      },
      end: (id: string, cell: string, how: Left) => {
        setEditing(null);
        setRefused(undefined);
        const { ids, cells, past } = live.current.spec;
        const index = ids.indexOf(id);
        const step = how === "next" ? 1 : how === "back" ? -1 : 0;
        if (how === "down" && index === ids.length - 1 && past) past();
        else if (how === "down") go(ids[index + 1] ?? id, cell);
        else go(id, cells[cells.indexOf(cell) + step] ?? cell);
      },
      /** The row with all that are chosen, where it is one of them. */
      withChosen: (id: string) => (live.current.chosen.has(id) ? [...live.current.chosen] : [id]),
      /** What a command is for: the chosen rows, else the one with the focus. */
      targets: () => {
        const { chosen, at } = live.current;
        return chosen.size ? [...chosen] : at ? [at.id] : [];
      },
      choose: (ids: Iterable<string>) => setChosen(new Set(ids)),
      isEditing: () => live.current.editing !== null,
      at: () => live.current.at,
    };
  }, [virtual, scroller]);

  useEffect(() => {
    if (!at || wanted.current?.id !== at.id || wanted.current.cell !== at.cell || editing !== null) return;
    const cell = scroller.current?.querySelector<HTMLElement>(`[data-row="${at.id}"] [data-cell="${at.cell}"]`);
    if (!cell) return;
    cell.focus({ preventScroll: true });
    wanted.current = null;
  });

  function onKeyDown(event: React.KeyboardEvent) {
    if (!at || editing !== null || isChoice(event.target)) return;
    const { ids, cells } = spec;
    const index = ids.indexOf(at.id);
    if (index < 0) return;
    const how = spec.edits?.(at.id, at.cell) ?? null;
    const isTitle = at.cell === cells[0];
    const done = (_?: unknown) => event.preventDefault();
    if (spec.onKey?.(event, at, index)) return done();
    if (foldsBy(event, at)) return done();
    if (event.key === "ArrowDown" && index === ids.length - 1 && spec.past && !event.shiftKey) return done(spec.past());
    const page = Math.max(1, Math.floor((scroller.current?.clientHeight ?? 400) / spec.rowHeight) - 1);
    const spot = { row: index, cell: cells.indexOf(at.cell) };
    const next = spotAfter(event, spot, { rows: ids.length, cells: cells.length, page });
    if (next) return done(walk(event, at, index, next));
    if (event.key === "Escape") return act.choose([]);
    if (spec.chooses && event.key === " " && !event.ctrlKey) return done(act.focus(at.id, at.cell, "more"));
    if (spec.chooses && event.key === "a" && (event.ctrlKey || event.metaKey)) return done(act.choose(ids));
    if (event.key === "Enter" && !event.ctrlKey && !event.metaKey)
      return done(isTitle || event.altKey || !how ? spec.open(at.id) : act.edit(at.id, at.cell));
    if (event.key === "F2" && how) return done(act.edit(at.id, at.cell));
    if (how === "typed" && writes(event)) done(act.edit(at.id, at.cell, event.key));
  }

  /** From the first cell an arrow folds and unfolds what is under a row, then goes to the row above it. */
  function foldsBy(event: React.KeyboardEvent, { id, cell }: At): boolean {
    const { tree, cells } = spec;
    if (!tree || cell !== cells[0] || event.altKey) return false;
    const folds = tree.folds(id);
    const parent = tree.parent(id);
    if (event.key === "ArrowRight" && folds === "folded") tree.fold(id);
    else if (event.key === "ArrowLeft" && folds === "open") tree.fold(id);
    else if (event.key === "ArrowLeft" && parent && spec.ids.includes(parent)) act.go(parent, cell);
    else return false;
    return true;
  }

  function walk(event: React.KeyboardEvent, from: At, index: number, to: { row: number; cell: number }) {
    const id = spec.ids[to.row] ?? from.id;
    const cell = spec.cells[to.cell] ?? from.cell;
    if (spec.chooses && to.row !== index) {
      if (event.shiftKey) setChosen(between(spec.ids, anchor.current ?? from.id, id));
      else {
        setChosen(NONE);
        anchor.current = id;
      }
    }
    act.go(id, cell);
  }

  const items = virtual.getVirtualItems();
  const line = at ? (spec.lines?.of(at.id) ?? spec.ids.indexOf(at.id)) : -1;
  const isDrawn = line >= (items[0]?.index ?? 0) && line <= (items.at(-1)?.index ?? -1);
  /** What the element that scrolls takes: its keys, and the focus while no cell of the grid can have it. */
  const pane = {
    ref: scroller,
    tabIndex: isDrawn ? -1 : 0,
    onKeyDown,
    onFocus: (event: React.FocusEvent) => {
      if (event.target !== event.currentTarget || isDrawn) return;
      const id = at && spec.ids.includes(at.id) ? at.id : spec.ids[0];
      if (id) act.go(id, (at?.id === id && at.cell) || (spec.cells[0] ?? ""));
    },
  };
  return { pane, scroller, virtual, items, at, editing, refused, chosen, act };
}
