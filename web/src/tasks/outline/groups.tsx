/** The heads of groups with their sums, and the foot of the outline. */

import { count } from "../../parts/format";
import type { ViewGroup } from "../../views/view";
import { type Column, keyOf } from "./columns";

function Feet({ feet, columns }: { feet: Record<string, string>; columns: Column[] }) {
  return (
    <>
      {columns.slice(1).map((column) => (
        <span
          key={column.id}
          className={`flex-none truncate px-1.5 text-[12px] ${column.right ? "text-right" : ""}`}
          style={{ width: column.width }}
          title={column.foot ? `${SAID[column.foot]} of ${column.head}` : undefined}
        >
          {feet[keyOf(column)] ?? ""}
        </span>
      ))}
      <span className="w-9 flex-none" />
    </>
  );
}

const SAID = { sum: "Sum", average: "Average", least: "Least", most: "Most", filled: "How many are filled" };

export function GroupHead({ group, outer, columns }: { group: ViewGroup; outer: boolean; columns: Column[] }) {
  return (
    // biome-ignore lint/a11y/useFocusableInteractive: heads are read, the rows under them take the focus
    <div
      role="row"
      aria-level={outer ? 1 : group.path.length}
      className={`flex h-[29px] items-center border-b border-rule-2 pl-1 ${outer ? "bg-band text-[13.5px]" : "bg-paper"}`}
    >
      <span
        role="rowheader"
        tabIndex={-1}
        className="min-w-0 flex-1 truncate font-semibold"
        style={{ paddingLeft: outer || group.path.length < 2 ? 18 : 34 }}
      >
        {outer ? group.names[0] : group.names.at(-1)}
        <span className="ml-2 text-[12px] font-normal text-ink-2">{count(group.tasks, "task")}</span>
      </span>
      <Feet feet={group.feet} columns={columns} />
    </div>
  );
}

export function FootRow({ feet, columns }: { feet: Record<string, string>; columns: Column[] }) {
  return (
    <div
      className="sticky bottom-0 z-10 flex h-[30px] items-center border-t border-ink bg-sheet pl-1 font-semibold"
      aria-label="Sums"
    >
      <span className="min-w-0 flex-1 pl-[22px] text-[12px] text-ink-2">of all that is shown</span>
      <Feet feet={feet} columns={columns} />
    </div>
  );
}
