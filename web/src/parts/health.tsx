/** Health: always shape and word and colour. */
const LOOK: Record<string, { word: string; tone: string; shape: React.ReactNode }> = {
  steady: { word: "Steady", tone: "text-verdigris", shape: <circle cx="6" cy="6" r="5" /> },
  strained: { word: "Strained", tone: "text-ochre", shape: <path d="M6 .6l5.6 10.4H.4z" /> },
  slipping: { word: "Slipping", tone: "text-ember", shape: <path d="M0 0h12v2H0zM0 3h12L6 12z" /> },
  not_judged: {
    word: "Not judged",
    tone: "text-ink-3",
    shape: <circle cx="6" cy="6" r="4.4" fill="none" stroke="currentColor" strokeWidth="1.4" />,
  },
};

export function Health({ value, rule }: { value: string; rule?: string }) {
  const look = LOOK[value] ?? LOOK.not_judged;
  return (
    <span className={`inline-flex items-center gap-1.5 font-semibold whitespace-nowrap ${look?.tone}`} title={rule}>
      <svg width="11" height="12" viewBox="0 0 12 12" fill="currentColor" aria-hidden="true">
        {look?.shape}
      </svg>
      {look?.word}
    </span>
  );
}
