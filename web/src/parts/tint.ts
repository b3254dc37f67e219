/** What a tint gives to what it covers. */
import type { Tint } from "../views/view";

/** By what is coloured (`row`, `cell:finish`, `slip`, `bar`) the tint. */
export type RowTints = Record<string, Tint>;

/** The ground that a tint gives. */
export const tintStyle = (tint: Tint | undefined): React.CSSProperties | undefined =>
  tint && { background: `color-mix(in srgb, var(--color-${tint.colour}) 17%, transparent)` };
