/** What projects look like in the load: in the order in which they come, and what is not seen by name. */
export const COLOURS = [
  "var(--color-load)",
  "var(--color-violet)",
  "var(--color-slate)",
  "var(--color-moss)",
  "var(--color-rose-mid)",
  "var(--color-verdigris)",
  "var(--color-ochre)",
];
export const OTHER = "repeating-linear-gradient(45deg, var(--color-rule-2) 0 2px, var(--color-ink-3) 2px 3px)";
