/** The tile: a person as two letters on a square with a cut corner. A grey tile with ? is no owner. */
import type { Person } from "../data/api";

// each dark enough for white letters
const COLOURS = [
  "#7a4a8c",
  "#2f6f8f",
  "#8a5a2b",
  "#4b6b3c",
  "#a0455e",
  "#3d4f7d",
  "#6b5b1e",
  "#22736b",
  "#7d3f2f",
  "#58508d",
  "#376b4f",
  "#84406f",
];

export const initials = (name: string) => {
  const parts = name.split(/\s+/);
  return `${parts[0]?.[0] ?? ""}${parts.length > 1 ? (parts.at(-1)?.[0] ?? "") : ""}`.toUpperCase();
};

export function Tile({
  person,
  size = 24,
  label = true,
}: {
  person: Person | undefined;
  size?: number;
  label?: boolean;
}) {
  return (
    <span
      // the letters are drawn, not written: whoever reads the page hears the name
      data-letters={person ? initials(person.name) : "?"}
      className={`inline-grid flex-none place-items-center font-semibold after:content-[attr(data-letters)] ${size > 20 ? "cut-7" : "cut-5"}`}
      style={{
        width: size,
        height: size,
        fontSize: size * 0.44,
        lineHeight: 1,
        background: person ? COLOURS[person.colour % COLOURS.length] : "var(--color-rule-2)",
        color: person ? "#fff" : "var(--color-ink-2)",
      }}
      title={person?.name ?? "no owner"}
      role={label ? "img" : undefined}
      aria-label={label ? (person?.name ?? "no owner") : undefined}
      aria-hidden={label ? undefined : true}
    />
  );
}
