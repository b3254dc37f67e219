/** Links between bars: the vein heavy and black, the others hairlines. Only those with an end in sight are drawn. */
import { memo, useMemo } from "react";
import type { TaskRow } from "../../data/api";
import type { OutlineRow } from "../../tasks/rows";
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
  still,
  chosen,
}: {
  edges: Edge[];
  rows: OutlineRow[];
  axis: Axis;
  first: number;
  last: number;
  /** the scale is at rest: only then is there something to take hold of */
  still: boolean;
  chosen: string | null;
}) {
  const seen = edges.filter(
    (edge) => (edge.from >= first && edge.from <= last) || (edge.to >= first && edge.to <= last),
  );
  return (
    // drawn from the first row in sight, so that the browser need not hold a picture as high as all rows
    <g transform={`translate(0 ${-first * ROW})`}>
      {seen.map((edge) => {
        const key = `${edge.fromId} ${edge.toId} ${edge.type}`;
        return (
          <Line
            key={key}
            id={key}
            edge={edge}
            from={rows[edge.from]?.row}
            to={rows[edge.to]?.row}
            axis={axis}
            still={still}
            chosen={key === chosen}
          />
        );
      })}
    </g>
  );
});

const middle = (index: number) => index * ROW + ROW / 2;

const Line = memo(function Line({
  id,
  edge,
  from,
  to,
  axis,
  still,
  chosen,
}: {
  id: string;
  edge: Edge;
  from: TaskRow | undefined;
  to: TaskRow | undefined;
  axis: Axis;
  still: boolean;
  chosen: boolean;
}) {
  const a = from && placeOf(from, axis);
  const b = to && placeOf(to, axis);
  if (!a || !b) return null;
  const { d, head } = linkPath(edge.type, a, middle(edge.from), b, middle(edge.to));
  const colour = chosen ? "var(--color-rose)" : edge.critical ? "var(--color-ink)" : "var(--color-ink-3)";
  return (
    <g fill="none" stroke={colour} strokeWidth={chosen || edge.critical ? 2 : 1}>
      <path d={d + head} />
      {still && (
        <path d={d} data-link={id} stroke="transparent" strokeWidth="9" className="pointer-events-auto cursor-pointer">
          <title>{`“${to.title}” waits for “${from.title}”. Click to change the link`}</title>
        </path>
      )}
    </g>
  );
});
