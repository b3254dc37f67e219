/** The code of an item's project, its state, and its title, which opens it. */
import { Facet } from "../parts/facet";
import type { ViewProps } from "./cards";
import type { Item } from "./portfolio";

export function ItemName({ item, open, narrow = "" }: { item: Item; open: ViewProps["open"]; narrow?: string }) {
  return (
    <>
      <span className={`w-12 flex-none truncate text-[11px] font-semibold tracking-[.08em] text-rose ${narrow}`}>
        {item.code}
      </span>
      <Facet row={item} size={15} />
      <button
        type="button"
        className="min-w-0 truncate text-left font-[550] hover:underline"
        title={`${item.code} ${item.title}`}
        onClick={() => open(item.task_id, item.code)}
      >
        {item.title}
      </button>
    </>
  );
}
