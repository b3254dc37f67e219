/** What the board's part of the sentence says: rows by what, and how long finished work stays. */
import { useSearchParams } from "react-router";
import { Tick } from "../../parts/basics";
import { Word } from "../../shell/scope-sentence";

const ROWS = ["none", "owner", "parent", "kind", "priority"] as const;
const DAYS = [3, 7, 14, 30, 90];

export function readBoardChoice(params: URLSearchParams) {
  const rows = params.get("rows") ?? "none";
  const days = Number(params.get("days"));
  return { rows: (ROWS as readonly string[]).includes(rows) ? rows : "none", days: days > 0 ? days : 14 };
}

export function BoardWords() {
  const [params, setParams] = useSearchParams();
  const choice = readBoardChoice(params);
  const set = (name: string, value: string) =>
    setParams(
      (now) => {
        now.set(name, value);
        return now;
      },
      { replace: true },
    );
  return (
    <span>
      , in{" "}
      <Word
        label="Rows of the board"
        chooser={ROWS.map((one) => (
          <Tick key={one} checked={choice.rows === one} onChange={() => set("rows", one)}>
            {one === "none" ? "one row" : `rows by ${one}`}
          </Tick>
        ))}
      >
        {choice.rows === "none" ? "one row" : `rows by ${choice.rows}`}
      </Word>
      , finished in the{" "}
      <Word
        label="How long finished work is shown"
        chooser={DAYS.map((one) => (
          <Tick key={one} checked={choice.days === one} onChange={() => set("days", String(one))}>
            last {one} days
          </Tick>
        ))}
      >
        last {choice.days} days
      </Word>
    </span>
  );
}
