/** What a tint gives to what it covers. */
import type { Group } from "../data/clauses";

export interface Tint {
  id: string;
  name: string;
  where: Group;
  colour: string;
  sign: string;
  covers: ("row" | "cell" | "slip" | "bar")[];
  cell?: string;
}

/** By what is coloured (`row`, `cell:finish`, `slip`, `bar`) the tint. */
export type RowTints = Record<string, Tint>;

/** The ground that a tint gives. */
export const tintStyle = (tint: Pick<Tint, "colour"> | undefined): React.CSSProperties | undefined =>
  tint && { background: `color-mix(in srgb, var(--color-${tint.colour}) 17%, transparent)` };
