/** What the board's part of the sentence says: rows by what, how long finished work stays, how large slips are. */
import { useMemo } from "react";
import type { Project } from "../data/api";
import { withDraft } from "../data/draft-here";
import { Tick } from "../parts/basics";
import { useAddress } from "../parts/use-address";
import { ownKey } from "../tasks/custom-fields";
import { FieldList } from "../views/field-list";
import { useScope, writeScope } from "../views/scope";
import { useCatalogue } from "../views/view";
import { Word } from "../views/word";
import type { Size } from "./slip";

const ROWS = ["none", "owner", "parent", "kind", "priority"] as const;
const DAYS = [3, 7, 14, 30, 90];
const SIZES: [Size, string][] = [
  ["small", "slips with their names"],
  ["usual", "usual slips"],
  ["large", "slips with fields"],
];
const ZOOMS = [50, 60, 70, 80, 90, 100, 110, 120];
const MOST_FIELDS = 8;

/** The project's own fields by which the board can have rows. */
const rowFields = (project: Project) =>
  project.fields.filter((one) => one.type === "choice" || one.type === "person" || one.type === "yes_no");

export interface BoardChoice {
  rows: string;
  days: number;
  size: Size;
  fields: string[];
  covers: boolean;
  zoom: number;
  /** what is folded: columns, lanes, boards of workflows */
  folded: Set<string>;
}

export function readBoardChoice(params: URLSearchParams, project: Project): BoardChoice {
  const usual = project.lanes.length ? "lanes" : "none";
  const rows = params.get("rows") ?? usual;
  const days = Number(params.get("days"));
  const known =
    (ROWS as readonly string[]).includes(rows) ||
    (rows === "lanes" && project.lanes.length > 0) ||
    rowFields(project).some((one) => ownKey(one) === rows);
  const size = params.get("slips");
  const zoom = Number(params.get("zoom"));
  const list = (name: string) => params.get(name)?.split(",").filter(Boolean) ?? [];
  return {
    rows: known ? rows : usual,
    days: days > 0 ? days : 14,
    size: size === "small" || size === "large" ? size : "usual",
    fields: list("fields").slice(0, MOST_FIELDS),
    covers: params.get("covers") === "yes",
    zoom: ZOOMS.includes(zoom) ? zoom : 100,
    folded: new Set(list("folded")),
  };
}

/** The choice in the address; what does not change stays the same. */
export function useBoardChoice(project: Project): [BoardChoice, (name: string, value: string) => void] {
  const [params, setAddress] = useAddress();
  const text = ["rows", "days", "slips", "fields", "covers", "zoom", "folded"].map((one) => params.get(one)).join("|");
  // biome-ignore lint/correctness/useExhaustiveDependencies: the text is what changes
  const choice = useMemo(() => readBoardChoice(params, project), [text, project]);
  const set = (name: string, value: string) => setAddress({ [name]: value });
  return [choice, set];
}

export function BoardWords({ project }: { project: Project }) {
  const [choice, set] = useBoardChoice(project);
  const rows: [string, string][] = [
    ...(project.lanes.length ? [["lanes", "lanes of its own"] as [string, string]] : []),
    ...ROWS.map((one): [string, string] => [one, one === "none" ? "one row" : `rows by ${one}`]),
    ...rowFields(project).map((one): [string, string] => [ownKey(one), `rows by ${one.name.toLowerCase()}`]),
  ];
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
      , as{" "}
      <Word label="How slips look" className="w-[290px]" chooser={<SlipChooser {...{ project, choice, set }} />}>
        {SIZES.find(([one]) => one === choice.size)?.[1]}
      </Word>
      {choice.zoom !== 100 && ` at ${choice.zoom} %`}
    </span>
  );
}

/** The board within the sentence as a document for paper, with the rows that it has here. */
export function BoardPaper({ project }: { project: Project }) {
  const [choice] = useBoardChoice(project);
  const [scope] = useScope();
  const query = writeScope(new URLSearchParams(), scope);
  query.set("rows", choice.rows);
  query.set("days", String(choice.days));
  return (
    <a
      className="underline decoration-rule-2 hover:text-ink"
      href={withDraft(`/api/projects/${project.code}/board.pdf?${query}`)}
      download
    >
      PDF
    </a>
  );
}

/** For leads: shows what changes the columns, the lanes and the backlog. */
export function ArrangeBoard() {
  const [params, setAddress] = useAddress();
  const on = params.get("arranging") === "yes";
  return (
    <button
      type="button"
      aria-pressed={on}
      className="font-[550] text-rose hover:underline"
      onClick={() => setAddress({ arranging: on ? null : "yes" })}
    >
      {on ? "done arranging" : "+ arrange the board"}
    </button>
  );
}

function SlipChooser({
  project,
  choice,
  set,
}: {
  project: Project;
  choice: BoardChoice;
  set: (name: string, value: string) => void;
}) {
  const catalogue = useCatalogue(project.code).data;
  const names = new Map(catalogue?.columns.map((one) => [one.key, one.name]));
  return (
    <>
      {SIZES.map(([one, words]) => (
        <Tick key={one} checked={choice.size === one} onChange={() => set("slips", one === "usual" ? "" : one)}>
          {words}
        </Tick>
      ))}
      <div className="my-1 h-px bg-rule" />
      <Tick checked={choice.covers} onChange={(on) => set("covers", on ? "yes" : "")}>
        with the first picture attached
      </Tick>
      <div className="my-1 h-px bg-rule" />
      <label className="flex items-center gap-2 px-2 py-1">
        <span className="flex-none">Size of the board</span>
        <input
          type="range"
          className="min-w-0 flex-1 accent-rose"
          min={50}
          max={120}
          step={10}
          value={choice.zoom}
          onChange={(event) => set("zoom", event.target.value === "100" ? "" : event.target.value)}
        />
        <span className="w-11 flex-none text-right">{choice.zoom} %</span>
      </label>
      {choice.size === "large" && (
        <>
          <div className="my-1 h-px bg-rule" />
          <p className="px-2 pt-1 text-[12px] text-ink-2">Fields on each slip, {MOST_FIELDS} at most</p>
          {choice.fields.map((key) => (
            <Tick
              key={key}
              checked
              onChange={() => set("fields", choice.fields.filter((one) => one !== key).join(","))}
            >
              {names.get(key) ?? "a field that is gone"}
            </Tick>
          ))}
          {catalogue && choice.fields.length < MOST_FIELDS && (
            <FieldList
              catalogue={catalogue}
              without={["title", ...choice.fields]}
              height="max-h-40"
              onChoose={(column) => set("fields", [...choice.fields, column.key].join(","))}
            />
          )}
        </>
      )}
    </>
  );
}
