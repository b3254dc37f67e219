/** What is understood of typed text, said below the field as it is typed. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Problem } from "../data/api";
import { useSettled } from "./use-settled";

const WAIT = 150;

export function Understood({
  text,
  hint,
  about,
  read,
}: {
  text: string;
  /** what can be typed, while nothing is */
  hint: string;
  /** what else it depends on, to keep it by */
  about: unknown[];
  /** asks what the text means: a line for each part of it */
  read: (text: string) => Promise<string[]>;
}) {
  const settled = useSettled(text, WAIT);
  const { data, error } = useQuery({
    queryKey: [...about, settled],
    enabled: settled.trim() !== "",
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: () => read(settled),
  });
  const wrong = error instanceof Problem ? error.sentence : null;
  return (
    <span
      role="status"
      className={`absolute top-[29px] left-0 z-30 w-max max-w-72 border bg-sheet px-2 py-1 text-left text-[12px] font-normal whitespace-normal text-ink ${wrong ? "border-ochre" : "border-rule-2"}`}
    >
      {settled.trim() === ""
        ? hint
        : (wrong ??
          data?.map((line) => (
            <span key={line} className="block">
              {line}
            </span>
          )))}
    </span>
  );
}
