/** What the board's part of the sentence says: rows by what, and how long finished work stays. */
import { useSearchParams } from "react-router";
import type { Project } from "../../data/api";
import { Tick } from "../../parts/basics";
import { Word } from "../../views/word";
import { ownKey } from "../custom-fields";

const ROWS = ["none", "owner", "parent", "kind", "priority"] as const;
const DAYS = [3, 7, 14, 30, 90];

/** The project's own fields by which the board can have rows. */
const rowFields = (project: Project) =>
  project.fields.filter((one) => one.type === "choice" || one.type === "person" || one.type === "yes_no");

export function readBoardChoice(params: URLSearchParams, project: Project) {
  const rows = params.get("rows") ?? "none";
  const days = Number(params.get("days"));
  const known = (ROWS as readonly string[]).includes(rows) || rowFields(project).some((one) => ownKey(one) === rows);
  return { rows: known ? rows : "none", days: days > 0 ? days : 14 };
}

export function BoardWords({ project }: { project: Project }) {
  const [params, setParams] = useSearchParams();
  const choice = readBoardChoice(params, project);
  const rows: [string, string][] = [
    ...ROWS.map((one): [string, string] => [one, one === "none" ? "one row" : `rows by ${one}`]),
    ...rowFields(project).map((one): [string, string] => [ownKey(one), `rows by ${one.name.toLowerCase()}`]),
  ];
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
        chooser={rows.map(([one, words]) => (
          <Tick key={one} checked={choice.rows === one} onChange={() => set("rows", one)}>
            {words}
          </Tick>
        ))}
      >
        {rows.find(([one]) => one === choice.rows)?.[1]}
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
