/** Who has more under way than the project allows one person. */
import { Pop } from "../parts/basics";
import type { Place } from "./board";
import { LimitHistory } from "./column-form";
import { useOverWords } from "./heads";

export function OverPeople({ places }: { places: Map<string, Place> }) {
  const overWords = useOverWords();
  const over = [...places.values()].filter((one) => one.kind === "person" && one.count > one.limit);
  if (!over.length) return null;
  return (
    <p className="flex flex-none flex-wrap gap-x-4 border-b border-rule bg-paper px-3 py-1.5 text-[12px]">
      <span className="text-ink-2">More under way than one person has:</span>
      {over.map((one) => (
        <Pop
          key={one.key}
          label={`How long ${one.name} was over`}
          className="w-[300px]"
          trigger={
            <button type="button" className="font-semibold text-ember hover:underline">
              {one.name} {one.count} of {one.limit}
              {overWords(one)}
            </button>
          }
        >
          <LimitHistory place={one} />
        </Pop>
      ))}
    </p>
  );
}
