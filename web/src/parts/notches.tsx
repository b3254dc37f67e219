/** Notches: a limit, one notch a place; beyond the limit in ember. */
export function Notches({ count, limit }: { count: number; limit: number }) {
  const shown = Math.min(Math.max(count, limit), 14);
  const places = Array.from({ length: shown }, (_, place) => place);
  return (
    <div
      className="mt-1.5 flex gap-[3px]"
      role="img"
      aria-label={`${count} of ${limit}${count > limit ? ", over the limit" : ""}`}
    >
      {places.map((place) => (
        <i
          key={place}
          className={`block h-[5px] w-[15px] ${place >= count ? "bg-rule-2" : place >= limit ? "bg-ember" : "bg-ink"}`}
        />
      ))}
    </div>
  );
}
