/** A portfolio as a list: one line for each item, those of a part together. */
import { useVirtualizer } from "@tanstack/react-virtual";
import { useCallback, useMemo, useRef } from "react";
import { usePeople } from "../data/hooks";
import { Health } from "../parts/health";
import { Tile } from "../parts/tile";
import { useAddress } from "../parts/use-address";
import type { ViewProps } from "./cards";
import { Expected, HoldsUp, ItemMarks } from "./item";
import { ItemName } from "./item-name";
import type { Item } from "./portfolio";

const LINE = 34;
const COLUMNS = "minmax(260px,1fr) 130px 56px 110px 90px 190px minmax(180px,0.8fr) 64px";

type By = "health" | "percent" | "expected" | "owner" | "state";

const HEADS: [string, By?][] = [
  ["Item"],
  ["State", "state"],
  ["Owner", "owner"],
  ["Health", "health"],
  ["Done", "percent"],
  ["Expected", "expected"],
  ["Hinges on"],
  ["Marks"],
];

/** How troubled comes first. */
const TROUBLE: Item["health"][] = ["slipping", "strained", "steady", "not_judged"];
const CLASSES: Item["state_class"][] = ["queued", "active", "finished", "dropped"];

function rankBy(by: By, names: (id: string | null) => string): (item: Item) => string | number {
  return {
    health: (one: Item) => TROUBLE.indexOf(one.health),
    percent: (one: Item) => one.percent,
    expected: (one: Item) => one.expected ?? one.finish ?? "~", // without a date: behind all others
    owner: (one: Item) => names(one.owner_id),
    state: (one: Item) => `${CLASSES.indexOf(one.state_class)} ${one.state}`,
  }[by];
}

/** The order of the list: as the portfolio has it, or by a head that was pressed, a second time the other way about. */
function useOrder(given: Item[], names: (id: string | null) => string) {
  const [params, set] = useAddress();
  const [asked = "", way] = (params.get("sort") ?? "").split(" ");
  const sort = HEADS.find(([, by]) => by === asked)?.[1];
  const down = way === "down";
  const sortBy = (by: By) => set({ sort: by !== sort ? by : down ? null : `${by} down` });
  const items = useMemo(() => {
    if (!sort) return given;
    const rank = rankBy(sort, names);
    const sign = down ? -1 : 1;
    return [...given].sort((a, b) => (rank(a) < rank(b) ? -sign : rank(a) > rank(b) ? sign : 0));
  }, [given, sort, down, names]);
  return { items, sort, down, sortBy };
}

export function ItemList({ project, answer, items: given, canEdit, opened, open }: ViewProps) {
  const scroller = useRef<HTMLDivElement>(null);
  const { byId } = usePeople();
  const names = useCallback((id: string | null) => byId.get(id ?? "")?.name ?? "~", [byId]);
  const { items, sort, down, sortBy } = useOrder(given, names);
  const parts = new Map(answer.parts.map((one) => [one.code, one]));
  const lines = useVirtualizer({
    count: items.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => LINE,
    overscan: 12,
  });
  return (
    <div ref={scroller} className="min-w-0 flex-1 overflow-auto" role="region" aria-label="Items" tabIndex={0}>
      <div role="table" aria-label="Items of the portfolio" aria-rowcount={items.length + 1} className="min-w-[1080px]">
        {/* biome-ignore lint/a11y/useFocusableInteractive: a head is read */}
        <div
          role="row"
          className="sticky top-0 z-10 grid h-[30px] items-center border-b border-rule-2 bg-paper text-[11.5px] text-ink-2"
          style={{ gridTemplateColumns: COLUMNS }}
        >
          {HEADS.map(([head, by]) => (
            // biome-ignore lint/a11y/useFocusableInteractive: a head is read
            <span
              key={head}
              role="columnheader"
              className="px-2"
              aria-sort={by && by === sort ? (down ? "descending" : "ascending") : undefined}
            >
              {by ? (
                <button type="button" className="hover:text-ink hover:underline" onClick={() => sortBy(by)}>
                  {head}
                  {by === sort && (down ? " ▾" : " ▴")}
                </button>
              ) : (
                head
              )}
            </span>
          ))}
        </div>
        <div role="rowgroup" className="relative" style={{ height: lines.getTotalSize() }}>
          {lines.getVirtualItems().map(({ index, start }) => {
            const item = items[index];
            if (!item) return null;
            const part = parts.get(item.code) ?? null;
            return (
              // biome-ignore lint/a11y/useFocusableInteractive: what is in it takes the focus
              <div
                key={item.task_id}
                role="row"
                aria-rowindex={index + 2}
                className={`absolute right-0 left-0 grid h-[34px] items-center border-b border-rule hover:bg-paper ${opened === item.task_id ? "bg-rose-soft" : ""}`}
                style={{ transform: `translateY(${start}px)`, gridTemplateColumns: COLUMNS }}
              >
                <span role="cell" className="flex min-w-0 items-center gap-2 px-2">
                  <ItemName item={item} open={open} />
                </span>
                <span role="cell" className="truncate px-2 text-ink-2" title={item.state}>
                  {item.state}
                </span>
                <span role="cell" className="px-2">
                  <Tile person={byId.get(item.owner_id ?? "")} size={20} />
                </span>
                <span role="cell" className="px-2">
                  <Health value={item.health} />
                </span>
                <span role="cell" className="px-2">
                  {item.percent} %
                </span>
                <span role="cell" className="truncate px-2">
                  <Expected item={item} brief />
                </span>
                <span role="cell" className="min-w-0 px-2">
                  <HoldsUp item={item} open={open} named={false} />
                </span>
                <span role="cell" className="px-2">
                  <ItemMarks {...{ item, part, project, canEdit }} />
                </span>
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
}
