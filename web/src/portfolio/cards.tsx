/** A portfolio as a board: columns are the states of its workflow, rows are its own items and then its parts. */
import { useVirtualizer } from "@tanstack/react-virtual";
import { Plus } from "lucide-react";
import { useCallback, useMemo, useRef, useState } from "react";
import { useSlipDrag } from "../board/drag";
import type { Project } from "../data/api";
import { count } from "../parts/format";
import { Sign } from "../parts/sign";
import { useWidth } from "../parts/use-width";
import { ItemSlip } from "./item";
import { PartHead } from "./part-head";
import { type Item, type Part, type PortfolioAnswer, useItemChanges } from "./portfolio";

const HEAD = 190;
const LEAST = 200;
/** About how high a row is, until it is measured. */
const ROW = 260;

export interface ViewProps {
  project: Project;
  answer: PortfolioAnswer;
  /** those that are shown */
  items: Item[];
  canEdit: boolean;
  manages: boolean;
  opened: string | null;
  open: (id: string, code: string) => void;
}

export function Cards({ project, answer, items, canEdit, manages, opened, open }: ViewProps) {
  const board = useRef<HTMLDivElement>(null);
  const width = useWidth(board, 1280, true);
  const changes = useItemChanges(project.code);
  const columns = answer.columns.filter(
    (one) => one.state_class !== "dropped" || items.some((item) => item.column === one.id),
  );
  const byId = new Map(items.map((one) => [one.task_id, one]));
  const lanes = project.lanes.filter((one) => one.workflow === null);
  const put = useCallback(
    (id: string, to: string) => {
      const item = byId.get(id);
      const { column, lane } = readCell(to);
      if (item && (item.column !== column || item.lane_id !== lane)) changes.move(item, column, laneField(item, lane));
    },
    [byId, changes],
  );
  useSlipDrag(board, { can: (id) => canEdit && byId.get(id)?.code === project.code, put }, true);
  const key = (item: Item) => (event: React.KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (!by || !event.altKey || !canEdit) return;
    event.preventDefault();
    const to = columns[columns.findIndex((one) => one.id === item.column) + by];
    if (to) put(item.task_id, cellOf(to.id, item.lane_id));
  };
  const column = Math.max(LEAST, Math.floor((width - HEAD) / Math.max(1, columns.length)));
  const inCell = useMemo(() => byCell(items, project.code), [items, project.code]);
  const own: Line[] = [...lanes, null].map((lane) => ({ part: null, lane }));
  const lines: Line[] = [...own, ...answer.parts.map((part) => ({ part, lane: null }))];
  const rows = useVirtualizer({
    count: lines.length,
    getScrollElement: () => board.current,
    estimateSize: () => ROW,
    getItemKey: (index) => lineKey(lines[index]),
    overscan: 2,
  });
  const shown = rows.getVirtualItems();
  const template = `${HEAD}px repeat(${columns.length}, ${column}px)`;
  return (
    <div ref={board} className="min-w-0 flex-1 overflow-auto" role="region" aria-label="Portfolio" tabIndex={0}>
      <div className="sticky top-0 z-20 grid w-max min-w-full" style={{ gridTemplateColumns: template }}>
        <div className="sticky left-0 z-10 border-r border-b border-r-rule border-b-rule-2 bg-paper" />
        {columns.map((one) => (
          <div key={one.id} className="border-r border-b border-r-rule border-b-rule-2 bg-paper px-2.5 py-2">
            <h2 className="text-[14px]">{one.name}</h2>
            <p className="text-[11.5px] text-ink-2">
              {count(items.filter((item) => item.column === one.id).length, "item")}
            </p>
          </div>
        ))}
      </div>
      <div
        className="w-max min-w-full"
        style={{
          paddingTop: shown[0]?.start ?? 0,
          paddingBottom: Math.max(0, rows.getTotalSize() - (shown.at(-1)?.end ?? 0)),
        }}
      >
        {shown.map(({ index, key: id }) => {
          const { part, lane } = lines[index] as Line;
          const here = (column: string) =>
            inCell.get(cellKey(part?.code ?? project.code, lane?.id ?? null, column)) ?? NONE;
          return (
            <div
              key={id}
              ref={rows.measureElement}
              data-index={index}
              className="grid"
              style={{ gridTemplateColumns: template }}
            >
              {part ? (
                <PartHead {...{ part, project, manages }} parts={answer.parts} columns={answer.columns} />
              ) : (
                <OwnHead
                  lane={lane}
                  many={lanes.length > 0}
                  held={items.filter((one) => one.code === project.code && one.lane_id === (lane?.id ?? null))}
                />
              )}
              {columns.map((one) => (
                <div
                  key={one.id}
                  data-cell={part ? undefined : cellOf(one.id, lane?.id ?? null)}
                  className="flex min-h-16 flex-col border-r border-b border-r-rule border-b-rule-2 bg-sheet p-2 data-[over]:bg-rose-soft"
                >
                  <Slips
                    label={`${one.name}, ${part?.name ?? lane?.name ?? "of the portfolio"}`}
                    items={here(one.id)}
                    slip={(item) => (
                      <ItemSlip
                        key={item.task_id}
                        {...{ item, part, project, items, canEdit, open }}
                        isOpen={opened === item.task_id}
                        onKey={part ? undefined : key(item)}
                      />
                    )}
                  />
                  {!part && canEdit && (
                    <AddItem
                      column={lane ? `${lane.name}, ${one.name}` : one.name}
                      add={(title) => changes.add(title, { state_id: one.id, ...(lane && { lane_id: lane.id }) })}
                    />
                  )}
                </div>
              ))}
            </div>
          );
        })}
      </div>
    </div>
  );
}

const NONE: Item[] = [];
/** How many slips a cell shows before one asks for more. */
const FIRST_SHOWN = 30;

function Slips({ label, items, slip }: { label: string; items: Item[]; slip: (item: Item) => React.ReactNode }) {
  const [most, setMost] = useState(FIRST_SHOWN);
  return (
    <>
      <div role="list" aria-label={label} className="flex-1">
        {items.slice(0, most).map(slip)}
      </div>
      {items.length > most && (
        <button
          type="button"
          className="min-h-6 text-left text-[12px] text-rose hover:underline"
          onClick={() => setMost(most + 100)}
        >
          {items.length - most} more
        </button>
      )}
    </>
  );
}

const cellKey = (code: string, lane: string | null, column: string | null) => `${code} ${lane} ${column}`;

/** Items by where they stand: of the portfolio's own by lane too. */
function byCell(items: Item[], own: string): Map<string, Item[]> {
  const found = new Map<string, Item[]>();
  for (const one of items) {
    const key = cellKey(one.code, one.code === own ? one.lane_id : null, one.column);
    const there = found.get(key);
    if (there) there.push(one);
    else found.set(key, [one]);
  }
  return found;
}

/** A row of the board: a lane of the portfolio's own, what no lane takes, or a part. */
interface Line {
  part: Part | null;
  lane: Lane | null;
}
type Lane = Project["lanes"][number];

const lineKey = (line: Line | undefined) => line?.part?.id ?? line?.lane?.id ?? "";

const cellOf = (column: string, lane: string | null) => `${column} ${lane ?? ""}`;

function readCell(cell: string) {
  const [column = "", lane] = cell.split(" ");
  return { column, lane: lane || null };
}

/** What puts an item into a lane, where it is not there already. */
const laneField = (item: Item, lane: string | null) => (item.lane_id === lane ? {} : { lane_id: lane });

function OwnHead({ lane, many, held }: { lane: Lane | null; many: boolean; held: Item[] }) {
  const open = held.filter((one) => one.state_class === "queued" || one.state_class === "active").length;
  const over = lane?.limit && open > lane.limit;
  return (
    <div className="sticky left-0 z-[5] border-r border-b border-r-rule border-b-rule-2 bg-paper p-2">
      <h3 className="flex items-center gap-1.5 font-sans text-[13px] font-semibold">
        {lane && <Sign shape={lane.shape} colour={lane.colour} size={11} />}
        {lane?.name ?? (many ? "Everything else" : "Of the portfolio")}
      </h3>
      <p className={`text-[11.5px] ${over ? "font-semibold text-ember" : "text-ink-2"}`}>
        {lane?.limit ? `${open} of ${lane.limit}` : count(held.length, "larger item")}
      </p>
    </div>
  );
}

function AddItem({ column, add }: { column: string; add: (title: string) => Promise<unknown> }) {
  const [text, setText] = useState<string | null>(null);
  if (text === null)
    return (
      <button
        type="button"
        aria-label={`Add a larger item to ${column}`}
        onClick={() => setText("")}
        className="cell-add flex min-h-6 items-center gap-1 text-[12px] text-ink-3 hover:text-rose"
      >
        <Plus size={13} aria-hidden="true" /> Add
      </button>
    );
  return (
    <input
      // biome-ignore lint/a11y/noAutofocus: it opens because somebody is about to type
      autoFocus
      className="input w-full"
      aria-label={`New larger item in ${column}`}
      placeholder="Write a larger item"
      maxLength={500}
      value={text}
      onChange={(event) => setText(event.target.value)}
      onBlur={() => !text && setText(null)}
      onKeyDown={(event) => {
        if (event.key === "Escape") setText(null);
        if (event.key === "Enter" && text.trim()) {
          const typed = text.trim();
          setText("");
          add(typed).catch(() => setText(typed));
        }
      }}
    />
  );
}
