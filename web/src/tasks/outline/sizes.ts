/** Sizes of the outline, in pixels. */
export const ROW = 29;
export const HEAD = 30;
export const INDENT = 16;
