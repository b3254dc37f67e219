/** Links between bars: the vein heavy and black, the others hairlines. Only those with an end in sight are drawn. */
import { memo, useMemo } from "react";
import type { OutlineRow } from "../../data/rows";
import type { Axis } from "./axis";
import { type LinkType, linkPath, placeOf, ROW } from "./geometry";

export interface Edge {
  from: number;
  to: number;
  fromId: string;
  toId: string;
  type: LinkType;
  critical: boolean;
}

/** All links between rows that are to be seen, by the index of their rows. */
export function useEdges(rows: OutlineRow[]): Edge[] {
  return useMemo(() => {
    const index = new Map(rows.map((one, at) => [one.row.id, at]));
    const edges: Edge[] = [];
    rows.forEach(({ row }, to) => {
      for (const link of row.waits_for) {
        const from = index.get(link.from_id);
        const other = from === undefined ? undefined : rows[from]?.row;
        if (from === undefined || !other) continue;
        edges.push({ from, to, fromId: link.from_id, toId: row.id, type: link.type, critical: decides(other, row) });
      }
    });
    return edges;
  }, [rows]);
}

const decides = (from: OutlineRow["row"], to: OutlineRow["row"]) =>
  to.critical && (from.critical || (from.slack !== null && from.slack <= 0));

export const Links = memo(function Links({
  edges,
  rows,
  axis,
  first,
  last,
  chosen,
}: {
  edges: Edge[];
  rows: OutlineRow[];
  axis: Axis;
  first: number;
  last: number;
  chosen: string | null;
}) {
  const seen = edges.filter(
    (edge) => (edge.from >= first && edge.from <= last) || (edge.to >= first && edge.to <= last),
  );
  return (
    <>
      {seen.map((edge) => {
        const a = rows[edge.from]?.row;
        const b = rows[edge.to]?.row;
        const from = a && placeOf(a, axis);
        const to = b && placeOf(b, axis);
        if (!from || !to) return null;
        const y = (index: number) => index * ROW + ROW / 2;
        const { d, head } = linkPath(edge.type, from, y(edge.from), to, y(edge.to));
        const key = `${edge.fromId} ${edge.toId} ${edge.type}`;
        const colour = key === chosen ? "var(--color-rose)" : edge.critical ? "var(--color-ink)" : "var(--color-ink-3)";
        return (
          <g key={key} fill="none" stroke={colour} strokeWidth={key === chosen || edge.critical ? 2 : 1}>
            <path d={d} />
            <path d={head} />
            <path
              d={d}
              data-link={key}
              stroke="transparent"
              strokeWidth="9"
              className="pointer-events-auto cursor-pointer"
            >
              <title>{`“${b.title}” waits for “${a.title}”. Click to change the link`}</title>
            </path>
          </g>
        );
      })}
    </>
  );
});
