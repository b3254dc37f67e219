import { usePeople, useTeams } from "../../data/hooks";
import { Field, Tick } from "../../parts/basics";
import { PeopleChips } from "../../parts/people-chips";
import { FieldList } from "../../views/field-list";
import { ALL_PROJECTS, readView, type Sheet, standsAt, useSheets } from "../../views/view";
import { Word } from "../../views/word";
import type { Options, Panel } from "./dashboards";
import { ChoiceWord, FieldWord, NumberWord, nameOf, type Parts } from "./word-choices";

const SHAPES: [Options["shape"], string][] = [
  ["bars", "bars"],
  ["stacked", "stacked bars"],
  ["line", "a line"],
  ["area", "an area"],
  ["scatter", "a scatter"],
];
const MEASURES: [Options["measure"], string][] = [
  ["count", "the number"],
  ["sum", "the sum"],
  ["mean", "the mean"],
];
const PERIODS: Options["period"][] = ["day", "week", "month", "quarter"];

/** What a kind of panel shows, as words that open. */
export function Words({ kind, ...parts }: Parts & { kind: Panel["kind"] }) {
  const { options, change } = parts;
  switch (kind) {
    case "tasks":
      return (
        <>
          Show tasks with <ColumnsWord {...parts} />, ordered by{" "}
          <FieldWord
            label="Order"
            value={options.sort || "finish"}
            set={(sort) => change({ sort })}
            {...parts}
            also={
              <Tick checked={options.down} onChange={(down) => change({ down })}>
                the highest first
              </Tick>
            }
          />
          {options.down && ", the highest first"}, coloured by <TintsWord {...parts} />
        </>
      );
    case "milestones":
      return (
        <>
          Show milestones of the last and the next{" "}
          <NumberWord label="Days" value={options.days} most={366} set={(days) => change({ days })} /> days
        </>
      );
    case "figure":
      return <FigureWords {...parts} />;
    case "chart":
      return <ChartWords {...parts} />;
    case "people":
      return <PeopleWords {...parts} />;
    case "load":
      return (
        <>
          Show how full people are over{" "}
          <NumberWord label="Weeks" value={options.weeks} most={26} set={(weeks) => change({ weeks })} /> weeks from
          this one
        </>
      );
    case "goals":
      return (
        <>
          Show{" "}
          <Word
            label="Which goals"
            chooser={
              <>
                <Tick checked={!options.mine} onChange={() => change({ mine: false })}>
                  all goals that the reader sees
                </Tick>
                <Tick checked={options.mine} onChange={() => change({ mine: true })}>
                  goals that the reader owns or follows
                </Tick>
              </>
            }
          >
            {options.mine ? "goals that the reader owns or follows" : "all goals that the reader sees"}
          </Word>
        </>
      );
    case "progress":
      return <>Show how far the work is, and how far it should be by its dates</>;
    case "projects":
      return <>Show how far projects are, how they stand and when they finish</>;
    case "cost":
      return <>Show what was spent, and what it will have cost, to readers who may see cost</>;
    default:
      return <>Show the newest status report of each project</>;
  }
}

function ChartWords(parts: Parts) {
  const { options, change } = parts;
  const scatter = options.shape === "scatter";
  return (
    <>
      Show{" "}
      <ChoiceWord
        label="Shape"
        choices={SHAPES}
        value={options.shape}
        set={(shape) => change({ shape, ...(shape === "scatter" && { over_time: false }) })}
      />{" "}
      of{" "}
      {scatter ? (
        <>
          <FieldWord label="Number up" only="number" value={options.of} set={(of) => change({ of })} {...parts} />{" "}
          against{" "}
          <FieldWord
            label="Number across"
            only="number"
            value={options.against}
            set={(against) => change({ against })}
            {...parts}
          />
        </>
      ) : (
        <>
          <MeasureWords {...parts} /> by <ByWord at={0} {...parts} />
          {options.by[0] && !options.over_time && (
            <>
              {" "}
              and <ByWord at={1} {...parts} />
            </>
          )}
          {(options.over_time || isDate(parts, options.by[0]) || isDate(parts, options.by[1])) && (
            <>
              {" "}
              for each{" "}
              <ChoiceWord
                label="Period"
                choices={PERIODS.map((one) => [one, one])}
                value={options.period}
                set={(period) => change({ period })}
              />
            </>
          )}
          ,{" "}
          <ChoiceWord
            label="When"
            choices={[
              ["now", "as it is now"],
              ["then", "as it was then"],
            ]}
            value={options.over_time ? "then" : "now"}
            set={(when) =>
              change(when === "then" ? { over_time: true, by: options.by.slice(0, 1) } : { over_time: false })
            }
          />
          {options.over_time && (
            <>
              {" "}
              at the end of the last{" "}
              <NumberWord label="Periods" value={options.last} least={2} most={60} set={(last) => change({ last })} />
            </>
          )}
        </>
      )}
    </>
  );
}

const isDate = ({ catalogue }: Parts, key: string | undefined) =>
  catalogue.columns.find((one) => one.key === key)?.type === "date";

/** The number, or the sum or mean of a field. */
function MeasureWords(parts: Parts) {
  const { options, change } = parts;
  return (
    <>
      <ChoiceWord label="Measure" choices={MEASURES} value={options.measure} set={(measure) => change({ measure })} />{" "}
      of{" "}
      {options.measure === "count" ? (
        "tasks"
      ) : (
        <FieldWord label="Number" only="number" value={options.of} set={(of) => change({ of })} {...parts} />
      )}
    </>
  );
}

function FigureWords(parts: Parts) {
  const { options, change } = parts;
  return (
    <>
      Show <MeasureWords {...parts} />,{" "}
      <Word
        label="Target"
        chooser={
          <div className="w-56 p-1.5">
            <Field label="Target">
              <input
                className="input w-full"
                inputMode="decimal"
                placeholder="none"
                defaultValue={options.target ?? ""}
                onChange={(event) => {
                  const text = event.target.value.trim().replace(",", ".");
                  if (text === "" || /^-?\d{1,14}(\.\d{1,4})?$/.test(text)) change({ target: text || null });
                }}
              />
            </Field>
            <Tick checked={options.better === "up"} onChange={() => change({ better: "up" })}>
              met by as much or more
            </Tick>
            <Tick checked={options.better === "down"} onChange={() => change({ better: "down" })}>
              met by as much or less
            </Tick>
          </div>
        }
      >
        {options.target === null
          ? "without a target"
          : `with the target ${options.better === "up" ? "at least" : "at most"} ${options.target}`}
      </Word>
      ,{" "}
      <ChoiceWord
        label="Trend"
        choices={[
          ["no", "of today alone"],
          ["yes", "with what it was in the weeks before"],
        ]}
        value={options.trend ? "yes" : "no"}
        set={(trend) => change({ trend: trend === "yes" })}
      />
    </>
  );
}

/** The tints of a list: those of a kept report. */
function TintsWord({ options, change }: Parts) {
  const { data: sheets = [] } = useSheets(ALL_PROJECTS.code);
  const coloured = sheets.filter((one) => standsAt(one, "all_work") && tintsOf(one).length);
  const ids = (tints: { id: string }[]) => tints.map((one) => one.id).join();
  return (
    <Word
      label="Tints"
      chooser={
        <div className="w-64">
          <Tick checked={!options.tints.length} onChange={() => change({ tints: [] })}>
            nothing
          </Tick>
          {coloured.map((one) => (
            <Tick
              key={one.id}
              checked={ids(tintsOf(one)) === ids(options.tints)}
              onChange={() => change({ tints: tintsOf(one) as Options["tints"] })}
            >
              as in {one.name}
            </Tick>
          ))}
          {!coloured.length && (
            <p className="px-2 text-[12px] text-ink-2">Colours are those of a kept report that has tints.</p>
          )}
        </div>
      }
    >
      {options.tints.length ? options.tints.map((one) => one.name).join(", ") : "nothing"}
    </Word>
  );
}

const tintsOf = (sheet: Sheet) =>
  (readView(new URLSearchParams(String((sheet.view as { query?: string }).query ?? ""))).tints ?? []).slice(0, 10);

function PeopleWords({ options, change }: Parts) {
  const teams = useTeams();
  const { byId } = usePeople();
  const team = teams.find((one) => one.id === options.team_id);
  return (
    <>
      Show side by side{" "}
      <Word
        label="Team"
        chooser={
          <>
            <Tick checked={options.mine} onChange={(mine) => change({ mine })}>
              whoever reads, alone
            </Tick>
            <Tick
              checked={!options.mine && options.team_id === null}
              onChange={() => change({ team_id: null, mine: false })}
            >
              {options.people.length ? "those who are named" : "whoever has open work"}
            </Tick>
            {teams.map((one) => (
              <Tick
                key={one.id}
                checked={one.id === options.team_id}
                onChange={(on) => change({ team_id: on ? one.id : null, mine: false })}
              >
                {one.name}
              </Tick>
            ))}
          </>
        }
      >
        {options.mine
          ? "whoever reads, alone"
          : (team?.name ?? (options.people.length ? "those who are named" : "whoever has open work"))}
      </Word>
      <span className="ml-2 inline-flex flex-wrap items-center gap-1.5 text-[13px]">
        <PeopleChips
          people={options.people.filter((one) => byId.has(one))}
          set={(people) => change({ people })}
          without={(name) => `Without ${name}`}
          add="A person to show"
          more="+ a person"
        />
      </span>
    </>
  );
}

/** By what a chart groups. */
function ByWord({ at, options, change, catalogue }: Parts & { at: 0 | 1 }) {
  const key = options.by[at];
  const groups = catalogue.columns.filter(
    (one) => one.type !== "text" && one.type !== "number" && (at === 0 || one.key !== options.by[0]),
  );
  const optional = at === 1 || options.over_time;
  const set = (one: string | null) => {
    const by = [...options.by];
    if (one) by[at] = one;
    else by.splice(at, 1);
    change({ by });
  };
  return (
    <Word
      label={at ? "Second grouping" : "Grouping"}
      chooser={
        <>
          {optional && (
            <Tick checked={!key} onChange={() => set(null)}>
              nothing else
            </Tick>
          )}
          <FieldList
            catalogue={{ ...catalogue, columns: groups }}
            onChoose={(column) => set(column.key)}
            height="max-h-56"
          />
        </>
      }
    >
      {nameOf(catalogue, key) ?? (optional ? "nothing else" : "a field …")}
    </Word>
  );
}

/** The columns beside the titles of a list. */
function ColumnsWord({ options, change, catalogue }: Parts) {
  const names = options.columns.map((one) => nameOf(catalogue, one) ?? "a field that is gone");
  return (
    <Word
      label="Columns"
      chooser={
        <div className="w-60">
          {options.columns.map((key) => (
            <Tick key={key} checked onChange={() => change({ columns: options.columns.filter((one) => one !== key) })}>
              {nameOf(catalogue, key) ?? "a field that is gone"}
            </Tick>
          ))}
          {options.columns.length < 6 && (
            <FieldList
              catalogue={catalogue}
              without={["title", ...options.columns]}
              onChoose={(column) => change({ columns: [...options.columns, column.key] })}
              height="max-h-56"
            />
          )}
        </div>
      }
    >
      {names.length ? names.join(", ") : "when they are due"}
    </Word>
  );
}
