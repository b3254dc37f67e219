/** What panels show: tasks, a figure, things with how far they are. */
import { format, parseISO } from "date-fns";
import { Link } from "react-router";
import type { Schemas, TaskRow } from "../../data/api";
import { useMe } from "../../data/hooks";
import { Facet } from "../../parts/facet";
import { count, sayDay } from "../../parts/format";
import { Health } from "../../parts/health";
import { Sign } from "../../parts/sign";
import { tintStyle } from "../../parts/tint";
import { useOpened } from "../../shell/opened-task";
import { type Item, listAddress, type PanelKind } from "./dashboards";

type Scope = Schemas["PanelScope"] | null;

/** When a task is due, and whether it is late, held or done. */
export function Due({ item }: { item: Item }) {
  const { now } = useMe();
  if (item.state_class === "finished")
    return <span className="text-ink-2">{item.finish ? sayDay(item.finish, now) : "finished"}</span>;
  if (item.late_days > 0)
    return (
      <span className="font-semibold text-ember" title={item.finish ? `Finish ${sayDay(item.finish, now)}` : undefined}>
        {item.late_days} d late
      </span>
    );
  if (item.held)
    return (
      <span className="hatched px-1" title={`Held: ${item.held}`}>
        held
      </span>
    );
  return <span className="text-ink-2">{item.finish ? sayDay(item.finish, now) : "–"}</span>;
}

/** The title of a task, which opens it. */
export function TaskTitle({ item, code = true }: { item: Item; code?: boolean }) {
  const { open } = useOpened();
  return (
    <button
      type="button"
      className="flex w-full min-w-0 items-center gap-1.5 hover:underline"
      title={`${item.code} ${item.number} ${item.title}`}
      onClick={() => open(item.id, item.code)}
    >
      <Facet row={{ ...item, state_class: item.state_class as TaskRow["state_class"] }} size={14} />
      {item.tint && <Sign shape={item.tint.sign} colour={item.tint.colour} />}
      <span className="min-w-0 truncate">{item.title}</span>
      {code && <span className="flex-none text-[10.5px] font-semibold tracking-wider text-rose">{item.code}</span>}
    </button>
  );
}

const DAY = /^\d{4}-\d\d-\d\d$/;

export function TasksShown({
  answer,
  scope,
  milestones,
}: {
  answer: Schemas["PanelTasks"];
  scope: Scope;
  milestones: boolean;
}) {
  const { now } = useMe();
  if (!answer.items.length)
    return (
      <p className="pt-1 text-ink-2">
        {milestones ? "No milestone in this time." : "Nothing is left by the sentence."}
      </p>
    );
  const own = !answer.heads.length;
  const several = new Set(answer.items.map((item) => item.code)).size > 1;
  return (
    <table className="w-full table-fixed border-collapse">
      {!own && (
        <thead>
          <tr className="h-6 text-left text-[11.5px] text-ink-2 [&_th]:font-normal">
            <th scope="col">Title</th>
            {answer.heads.map((head) => (
              <th key={head} scope="col" className="w-[21%] truncate pl-2">
                {head}
              </th>
            ))}
          </tr>
        </thead>
      )}
      <tbody>
        {answer.items.map((item) => (
          <tr
            key={item.id}
            className="h-[27px] border-b border-rule"
            style={tintStyle(item.tint ?? undefined)}
            title={item.tint ? `Tint: ${item.tint.name}` : undefined}
          >
            <th scope="row" className="font-normal">
              <TaskTitle item={item} code={several} />
            </th>
            {own ? (
              <td className="w-[96px] text-right text-[12.5px] whitespace-nowrap">
                <Due item={item} />
              </td>
            ) : (
              item.words.map((words, index) => (
                <td key={answer.heads[index]} className="truncate pl-2 text-[12.5px]" title={words}>
                  {DAY.test(words) ? sayDay(parseISO(words).toISOString(), now) : words}
                </td>
              ))
            )}
          </tr>
        ))}
      </tbody>
      {answer.shown > answer.items.length && (
        <tfoot>
          <tr>
            <td colSpan={1 + Math.max(1, answer.heads.length)} className="py-1.5 text-[12px] text-ink-2">
              the first {answer.items.length} of{" "}
              {milestones ? (
                count(answer.shown, "milestone")
              ) : (
                <Link className="underline hover:text-ink" to={listAddress(scope)}>
                  {count(answer.shown, "task")}
                </Link>
              )}
            </td>
          </tr>
        </tfoot>
      )}
    </table>
  );
}

export function FigureShown({ answer, scope }: { answer: Schemas["PanelFigure"]; scope: Scope }) {
  const tone = answer.met === null ? "text-ink" : answer.met ? "text-verdigris" : "text-ember";
  return (
    <div className="flex h-full min-h-0 items-center gap-4">
      <div className="min-w-0">
        <Link
          to={listAddress(scope)}
          className={`block font-head text-[30px] leading-8 font-semibold hover:underline ${tone}`}
        >
          {answer.said}
        </Link>
        <span className="block truncate text-[12px] text-ink-2">
          {answer.of}
          {answer.target && (
            <>
              , {answer.better === "up" ? "at least" : "at most"} {answer.target} wanted:{" "}
              <b className={`font-semibold ${tone}`}>{answer.met ? "met" : "not met"}</b>
            </>
          )}
        </span>
        {answer.change && <span className="block truncate text-[12px] text-ink-2">{answer.change}</span>}
      </div>
      {answer.trend.length > 1 && <Trend points={answer.trend} />}
    </div>
  );
}

/** What a figure was in the weeks before, as a line that ends today. */
function Trend({ points }: { points: Schemas["TrendPoint"][] }) {
  const values = points.map((one) => Number(one.value));
  const [low, high] = [Math.min(...values), Math.max(...values)];
  const at = (value: number, index: number) => [
    4 + (index / (values.length - 1)) * 112,
    40 - ((value - low) / (high - low || 1)) * 34,
  ];
  const said = points.map((one) => `${one.day ? format(parseISO(one.day), "d MMM") : "now"} ${Number(one.value)}`);
  const [x = 0, y = 0] = at(values.at(-1) ?? 0, values.length - 1);
  return (
    <svg
      viewBox="0 0 120 46"
      className="h-[46px] min-w-0 flex-1"
      preserveAspectRatio="none"
      role="img"
      aria-label={said.join(", ")}
    >
      <title>{said.join(", ")}</title>
      <polyline
        points={values.map((value, index) => at(value, index).join(",")).join(" ")}
        fill="none"
        stroke="var(--color-ink)"
        strokeWidth="1.6"
        vectorEffect="non-scaling-stroke"
      />
      <circle cx={x} cy={y} r="2.6" fill="var(--color-rose)" />
    </svg>
  );
}

export function LinesShown({ answer, kind, scope }: { answer: Schemas["PanelLines"]; kind: PanelKind; scope: Scope }) {
  if (!answer.lines.length)
    return <p className="pt-1 text-ink-2">{NOTHING[kind] ?? "Nothing is left by the sentence."}</p>;
  const judged = answer.lines.some((line) => line.health);
  return (
    <ul>
      {answer.lines.map((line, index) => (
        <li
          // biome-ignore lint/suspicious/noArrayIndexKey: two goals may have one name
          key={`${line.to} ${line.name} ${index}`}
          className={`grid grid-cols-[minmax(0,1fr)_minmax(110px,30%)] items-center gap-x-3 border-b border-rule py-[5px] ${judged ? "@[420px]:grid-cols-[minmax(0,1fr)_minmax(110px,28%)_82px]" : ""}`}
        >
          <Link
            to={line.to || listAddress(scope, line.where)}
            className="flex min-w-0 items-baseline gap-2 hover:underline"
            title={line.name}
          >
            {line.code && (
              <span className="min-w-9 flex-none text-[11px] font-semibold tracking-wider text-rose">{line.code}</span>
            )}
            <span className={`min-w-0 truncate ${kind === "progress" && index === 0 ? "font-semibold" : ""}`}>
              {line.name}
            </span>
          </Link>
          <Bar percent={line.percent} expected={line.expected} over={kind === "load" && line.worry} name={line.name} />
          {judged && (
            <span className="text-[12px] whitespace-nowrap @max-[419px]:hidden">
              {line.health ? <Health value={line.health} /> : null}
            </span>
          )}
          <span
            className={`col-span-full truncate text-[12px] ${line.worry ? "font-semibold text-ember" : "text-ink-2"} ${line.code ? "pl-11" : ""}`}
          >
            {line.note}
          </span>
        </li>
      ))}
    </ul>
  );
}

const NOTHING: Partial<Record<PanelKind, string>> = {
  portfolio: "No portfolio with larger items that you see.",
  goals: "No open goal that you see.",
  reports: "Nothing has been reported yet.",
  load: "No hours are planned for anybody here.",
};

/** How far, and by a dotted stroke how far it should be by now. */
function Bar({
  percent,
  expected,
  over,
  name,
}: {
  percent: number | null;
  expected: number | null;
  over: boolean;
  name: string;
}) {
  if (percent === null) return <span />;
  const said = `${name}: ${percent} %${expected === null ? "" : `, ${expected} % expected by now`}`;
  return (
    <span className="flex items-center gap-2" role="img" aria-label={said} title={said}>
      <span className="relative h-[9px] min-w-[60px] flex-1 bg-band">
        <span
          className={`absolute inset-y-0 left-0 ${over ? "bg-ember" : "bg-ink"}`}
          style={{ width: `${Math.min(100, percent)}%` }}
        />
        {expected !== null && (
          <span
            className="absolute -inset-y-[3px] border-l-2 border-dotted border-rose"
            style={{ left: `${Math.min(100, expected)}%` }}
          />
        )}
      </span>
      <b className={`w-10 flex-none text-right text-[12px] font-semibold ${over ? "text-ember" : ""}`}>{percent} %</b>
    </span>
  );
}
