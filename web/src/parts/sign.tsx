/** A sign: a small shape in a colour of the palette. Kinds, marks and tints have one, always with a word beside it. */
export const SHAPES = ["square", "circle", "triangle", "star", "flag", "drop", "cross", "ring"] as const;

const PATHS: Record<string, string> = {
  square: "M2.5 2.5h7v7h-7z",
  triangle: "M6 1.8l4.6 8.2H1.4z",
  star: "M6 1l1.5 3.3 3.6.4-2.7 2.4.8 3.6L6 8.9l-3.2 1.8.8-3.6L.9 4.7l3.6-.4z",
  flag: "M2.4 1.2h1v9.8h-1zM4 1.6h6L8.2 4.2 10 6.8H4z",
  drop: "M6 1c2 2.8 3.4 4.4 3.4 6.3a3.4 3.4 0 0 1-6.8 0C2.6 5.4 4 3.8 6 1z",
  cross: "M4.6 1.4h2.8v3.2h3.2v2.8H7.4v3.2H4.6V7.4H1.4V4.6h3.2z",
};

export function Sign({ shape, colour, size = 12 }: { shape: string; colour: string; size?: number }) {
  const fill = `var(--color-${colour})`;
  return (
    <svg width={size} height={size} viewBox="0 0 12 12" aria-hidden="true" className="flex-none">
      {shape === "circle" ? (
        <circle cx="6" cy="6" r="4.2" fill={fill} />
      ) : shape === "ring" ? (
        <circle cx="6" cy="6" r="3.7" fill="none" stroke={fill} strokeWidth="1.8" />
      ) : (
        <path d={PATHS[shape] ?? PATHS.square} fill={fill} />
      )}
    </svg>
  );
}

/** Choosing a shape and a colour. */
export function SignChooser({
  shape,
  colour,
  colours,
  onChange,
}: {
  shape: string;
  colour: string;
  colours: readonly string[];
  onChange: (next: { shape: string; colour: string }) => void;
}) {
  const cell = (on: boolean) =>
    `grid size-7 place-items-center border ${on ? "border-ink" : "border-transparent hover:bg-band"}`;
  return (
    <div className="w-max">
      <div role="radiogroup" aria-label="Shape" className="flex">
        {SHAPES.map((one) => (
          <button
            key={one}
            type="button"
            role="radio"
            aria-checked={one === shape}
            aria-label={one}
            title={one}
            className={cell(one === shape)}
            onClick={() => onChange({ shape: one, colour })}
          >
            <Sign shape={one} colour={colour} />
          </button>
        ))}
      </div>
      <div role="radiogroup" aria-label="Colour" className="mt-1 flex">
        {colours.map((one) => (
          <button
            key={one}
            type="button"
            role="radio"
            aria-checked={one === colour}
            aria-label={one}
            title={one}
            className={cell(one === colour)}
            onClick={() => onChange({ shape, colour: one })}
          >
            <Sign shape={shape} colour={one} />
          </button>
        ))}
      </div>
    </div>
  );
}
