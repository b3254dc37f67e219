/** Charts of a panel, drawn by ECharts, and the same as a table for those who cannot see them. Every bar opens what it counts. */
import { BarChart, LineChart, ScatterChart as Scatter } from "echarts/charts";
import { AriaComponent, GridComponent, LegendComponent, TooltipComponent } from "echarts/components";
import { init, use } from "echarts/core";
import { SVGRenderer } from "echarts/renderers";
import { useEffect, useRef } from "react";
import { Link, useNavigate } from "react-router";
import type { Schemas } from "../../data/api";
import { count } from "../../parts/format";
import { useOpened } from "../../shell/opened-task";
import { type Chart, listAddress, type Options } from "./dashboards";

use([BarChart, LineChart, Scatter, GridComponent, TooltipComponent, LegendComponent, AriaComponent, SVGRenderer]);

/** From light to dark, so that series are told apart without their colour; beyond four a pattern helps. */
const SHADES = ["rule-2", "rose-mid", "rose", "ink", "slate", "ochre", "verdigris", "violet"];
const colour = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(`--color-${name}`).trim();
const BAR = 30;

type Scope = Schemas["PanelScope"] | null;

const say = (value: number | null, unit: string) =>
  value === null ? "–" : `${value.toLocaleString("en")} ${unit}`.trim();

/** Where the tasks of one value stand; none where clauses cannot ask for them. */
function addressOf(chart: Chart, scope: Scope, mark: number, series: number): string | null {
  const [one, other] = [chart.marks[mark], chart.series[series]];
  const several = chart.series.length > 1 || Boolean(chart.heads[1]);
  if (!one?.where.length || (several && !other?.where.length)) return null;
  return listAddress(scope, [...one.where, ...(other?.where ?? [])]);
}

interface Props {
  answer: Chart;
  scope: Scope;
  shape: Options["shape"];
  asTable: boolean;
}

export function ChartShown({ answer, scope, shape, asTable }: Props) {
  if (!answer.marks.length) return <p className="pt-1 text-ink-2">Nothing is left by the sentence.</p>;
  if (asTable) return <ChartTable chart={answer} scope={scope} />;
  return <Drawn chart={answer} scope={scope} shape={shape} />;
}

function Drawn({ chart, scope, shape }: { chart: Chart; scope: Scope; shape: Options["shape"] }) {
  const box = useRef<HTMLDivElement>(null);
  const navigate = useNavigate();
  const lines = shape === "line" || shape === "area";
  // names read best beside bars that lie; days go from left to right
  const lying = !lines && !chart.in_time;
  const several = chart.series.length > 1;
  useEffect(() => {
    if (!box.current) return;
    const drawn = init(box.current, undefined, { renderer: "svg" });
    const text = { color: colour("ink-2"), fontFamily: "Commissioner Variable", fontSize: 11.5 };
    const names = {
      type: "category" as const,
      data: chart.marks.map((one) => one.name),
      inverse: lying,
      boundaryGap: !lines,
      axisLabel: {
        ...text,
        hideOverlap: true,
        ...(lying && { width: Math.max(90, box.current.clientWidth * 0.3), overflow: "truncate" as const }),
      },
      axisLine: { lineStyle: { color: colour("rule-2") } },
      axisTick: { show: false },
    };
    const values = {
      type: "value" as const,
      minInterval: chart.unit ? undefined : 1,
      splitNumber: 3,
      axisLabel: { ...text, hideOverlap: true },
      splitLine: { lineStyle: { color: colour("rule") } },
    };
    const stacked = shape === "stacked" || shape === "area";
    const total = chart.marks.map((_, mark) => chart.values.reduce((sum, row) => sum + (row[mark] ?? 0), 0));
    drawn.setOption({
      animation: false,
      aria: {
        enabled: true,
        decal: { show: chart.series.length > 4 },
        label: { description: describe(chart) },
      },
      grid: { left: 6, right: lying ? 46 : 12, top: several ? 26 : 10, bottom: 6, containLabel: true },
      legend: several
        ? { type: "scroll", top: 0, left: 0, itemWidth: 10, itemHeight: 10, itemGap: 14, icon: "rect", textStyle: text }
        : undefined,
      tooltip: {
        trigger: lines ? "axis" : "item",
        valueFormatter: (value: unknown) => (typeof value === "number" ? say(value, chart.unit) : "–"),
        textStyle: { ...text, color: colour("ink") },
        backgroundColor: colour("sheet"),
        borderColor: colour("ink"),
      },
      xAxis: lying ? values : names,
      yAxis: lying ? names : values,
      series: chart.series.map((one, index) => {
        const shade = several ? (SHADES[index % SHADES.length] ?? "ink") : lines ? "rose" : "ink";
        const last = index === chart.series.length - 1;
        return {
          name: one.name,
          type: lines ? ("line" as const) : ("bar" as const),
          stack: stacked && several ? "all" : undefined,
          data: chart.values[index],
          barMaxWidth: 22,
          symbolSize: 5,
          showSymbol: chart.marks.length < 20,
          areaStyle: shape === "area" ? { color: colour(shade), opacity: several ? 0.85 : 0.25 } : undefined,
          lineStyle: { color: colour(shade), width: 1.8 },
          itemStyle: { color: colour(shade), ...(stacked && { borderColor: colour("sheet"), borderWidth: 1 }) },
          // a bar says how much it is; a stack, what all of it comes to
          label:
            lines || (stacked && several && !last) || (several && !stacked)
              ? undefined
              : {
                  show: true,
                  position: lying ? ("right" as const) : ("top" as const),
                  ...text,
                  formatter: ({ dataIndex }: { dataIndex: number }) => {
                    const value = stacked && several ? total[dataIndex] : chart.values[index]?.[dataIndex];
                    return value ? say(value, chart.unit) : "";
                  },
                },
        };
      }),
    });
    drawn.on("click", ({ dataIndex, seriesIndex }) => {
      const to = addressOf(chart, scope, dataIndex, seriesIndex ?? 0);
      if (to) navigate(to);
    });
    const watch = new ResizeObserver(() => drawn.resize());
    watch.observe(box.current);
    return () => {
      watch.disconnect();
      drawn.dispose();
    };
  }, [chart, scope, shape, lines, lying, several, navigate]);
  const least = lying ? chart.marks.length * (several && shape === "bars" ? BAR + 14 : BAR) + (several ? 50 : 34) : 120;
  return <div ref={box} className="h-full w-full" style={{ minHeight: least }} />;
}

/** A chart in a sentence, for those who hear it. */
function describe(chart: Chart): string {
  const parts = chart.marks.slice(0, 12).map((mark, at) => {
    const values = chart.series.map((one, index) => {
      const said = say(chart.values[index]?.[at] ?? null, chart.unit);
      return chart.series.length > 1 ? `${one.name} ${said}` : said;
    });
    return `${mark.name}: ${values.join(", ")}`;
  });
  return `${chart.heads[2]} by ${chart.heads[0]}${chart.heads[1] ? ` and ${chart.heads[1]}` : ""}. ${parts.join("; ")}.`;
}

function ChartTable({ chart, scope }: { chart: Chart; scope: Scope }) {
  const several = chart.series.length > 1 || Boolean(chart.heads[1]);
  return (
    <table className="w-full border-collapse text-[12.5px]">
      <caption className="sr-only">{describe(chart)}</caption>
      <thead>
        <tr className="h-7 border-b border-rule-2 text-[12px] text-ink-2 [&_th]:font-normal">
          <th scope="col" className="text-left">
            {chart.heads[0]}
          </th>
          {chart.series.map((one) => (
            <th key={one.key} scope="col" className="pl-2 text-right">
              {several ? one.name : chart.heads[2]}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {chart.marks.map((mark, at) => (
          <tr key={mark.key} className="h-[26px] border-b border-rule">
            <th scope="row" className="text-left font-normal">
              {mark.name}
            </th>
            {chart.series.map((one, index) => {
              const to = addressOf(chart, scope, at, index);
              const said = say(chart.values[index]?.[at] ?? null, chart.unit);
              return (
                <td key={one.key} className="pl-2 text-right tabular-nums">
                  {to && chart.tasks[index]?.[at] ? (
                    <Link className="hover:underline" to={to} title={count(chart.tasks[index]?.[at] ?? 0, "task")}>
                      {said}
                    </Link>
                  ) : (
                    said
                  )}
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

export function ScatterShown({ answer, asTable }: { answer: Schemas["PanelScatter"]; asTable: boolean }) {
  if (!answer.points.length) return <p className="pt-1 text-ink-2">No task of the sentence has both numbers.</p>;
  return asTable ? <ScatterTable answer={answer} /> : <Points answer={answer} />;
}

function Points({ answer }: { answer: Schemas["PanelScatter"] }) {
  const box = useRef<HTMLDivElement>(null);
  const { open } = useOpened();
  const opening = useRef(open);
  opening.current = open;
  useEffect(() => {
    if (!box.current) return;
    const drawn = init(box.current, undefined, { renderer: "svg" });
    const text = { color: colour("ink-2"), fontFamily: "Commissioner Variable", fontSize: 11.5 };
    const axis = (name: string | undefined) => ({
      type: "value" as const,
      name,
      nameLocation: "middle" as const,
      nameGap: 26,
      nameTextStyle: text,
      splitNumber: 4,
      axisLabel: text,
      splitLine: { lineStyle: { color: colour("rule") } },
    });
    drawn.setOption({
      animation: false,
      aria: {
        enabled: true,
        label: { description: `${count(answer.shown, "task")} by ${answer.heads[0]} and ${answer.heads[1]}.` },
      },
      grid: { left: 26, right: 16, top: 10, bottom: 26, containLabel: true },
      tooltip: {
        formatter: ({ dataIndex }: { dataIndex: number }) => {
          const one = answer.points[dataIndex];
          return one ? `${one.code} ${one.number}: ${one.across}, ${one.up}` : "";
        },
        textStyle: { ...text, color: colour("ink") },
        backgroundColor: colour("sheet"),
        borderColor: colour("ink"),
      },
      xAxis: axis(answer.heads[0]),
      yAxis: axis(answer.heads[1]),
      series: [
        {
          type: "scatter",
          symbol: "diamond",
          symbolSize: 10,
          itemStyle: { color: colour("rose"), opacity: 0.75 },
          data: answer.points.map((one) => [one.across, one.up]),
        },
      ],
    });
    drawn.on("click", ({ dataIndex }) => {
      const one = answer.points[dataIndex];
      if (one) opening.current(one.id, one.code);
    });
    const watch = new ResizeObserver(() => drawn.resize());
    watch.observe(box.current);
    return () => {
      watch.disconnect();
      drawn.dispose();
    };
  }, [answer]);
  return <div ref={box} className="h-full min-h-[150px] w-full" />;
}

function ScatterTable({ answer }: { answer: Schemas["PanelScatter"] }) {
  const { open } = useOpened();
  return (
    <table className="w-full border-collapse text-[12.5px]">
      <thead>
        <tr className="h-7 border-b border-rule-2 text-[12px] text-ink-2 [&_th]:font-normal">
          <th scope="col" className="text-left">
            Task
          </th>
          {answer.heads.map((head) => (
            <th key={head} scope="col" className="pl-2 text-right">
              {head}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {answer.points.map((one) => (
          <tr key={one.id} className="h-[26px] border-b border-rule">
            <th scope="row" className="text-left font-normal">
              <button type="button" className="hover:underline" onClick={() => open(one.id, one.code)}>
                {one.code} {one.number} {one.title}
              </button>
            </th>
            <td className="pl-2 text-right tabular-nums">{one.across.toLocaleString("en")}</td>
            <td className="pl-2 text-right tabular-nums">{one.up.toLocaleString("en")}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
