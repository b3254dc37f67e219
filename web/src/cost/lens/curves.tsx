/** Planned, earned and spent over time. */
import { format } from "date-fns";
import { LineChart } from "echarts/charts";
import { AriaComponent, GridComponent, MarkLineComponent, TooltipComponent } from "echarts/components";
import { init, use } from "echarts/core";
import { SVGRenderer } from "echarts/renderers";
import { useEffect, useRef, useState } from "react";
import type { Schemas } from "../../data/api";
import { useMe } from "../../data/hooks";
import { sayDay } from "../../parts/format";
import { saySum } from "../cost";

use([LineChart, GridComponent, TooltipComponent, MarkLineComponent, AriaComponent, SVGRenderer]);

/** The curves meet today: their names stand above and below each other. */
const OFFSETS = { planned: [0, 0], earned: [0, 8], spent: [0, -8] };
type Point = Schemas["CurveOut"];
const colour = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(`--color-${name}`).trim();
const LINES = [
  ["planned", "ink-3", 1.6, [5, 4]],
  ["earned", "ink", 2.4, "solid"],
  ["spent", "rose", 2, [2, 3]],
] as const;

export default function Curves({ points, currency }: { points: Point[]; currency: string }) {
  const box = useRef<HTMLDivElement>(null);
  const { now } = useMe();
  const [table, setTable] = useState(false);
  useEffect(() => {
    if (!box.current || table) return;
    const chart = init(box.current, undefined, { renderer: "svg" });
    const text = { color: colour("ink-3"), fontFamily: "Commissioner Variable", fontSize: 11 };
    const today = points.filter((point) => point.spent !== null).at(-1);
    chart.setOption({
      animation: false,
      aria: {
        enabled: true,
        label: {
          description: `By today ${saySum(today?.planned)} ${currency} planned, ${saySum(today?.earned)} earned, ${saySum(today?.spent)} spent.`,
        },
      },
      grid: { left: 44, right: 52, top: 14, bottom: 22 },
      tooltip: {
        trigger: "axis",
        valueFormatter: (value: unknown) =>
          typeof value === "number" ? `${saySum(value.toFixed(2))} ${currency}` : "–",
      },
      xAxis: {
        type: "time",
        axisLabel: { ...text, hideOverlap: true, formatter: (at: number) => format(at, "d MMM") },
        axisLine: { lineStyle: { color: colour("rule-2") } },
        axisTick: { show: false },
      },
      yAxis: {
        type: "value",
        axisLabel: { ...text, formatter: (at: number) => (at >= 1000 ? `${at / 1000} k` : String(at)) },
        splitNumber: 3,
        splitLine: { lineStyle: { color: colour("rule") } },
      },
      series: LINES.map(([name, shade, width, type]) => ({
        name,
        type: "line",
        showSymbol: false,
        data: points.filter((point) => point[name] !== null).map((point) => [point.day, Number(point[name])]),
        lineStyle: { color: colour(shade), width, type },
        itemStyle: { color: colour(shade) },
        endLabel: {
          show: true,
          formatter: name,
          ...text,
          color: colour(shade),
          fontWeight: name === "earned" ? 600 : 400,
          offset: OFFSETS[name],
        },
        markLine:
          name === "earned"
            ? {
                symbol: "none",
                silent: true,
                lineStyle: { color: colour("rose"), type: "solid", width: 1.4 },
                label: { formatter: "today", color: colour("rose"), fontFamily: "Commissioner Variable", fontSize: 11 },
                data: [{ xAxis: format(now, "yyyy-MM-dd") }],
              }
            : undefined,
      })),
    });
    const watch = new ResizeObserver(() => chart.resize());
    watch.observe(box.current);
    return () => {
      watch.disconnect();
      chart.dispose();
    };
  }, [points, now, currency, table]);
  return (
    <figure>
      {table ? <CurveTable points={points} /> : <div ref={box} className="h-[190px] w-full" />}
      <figcaption className="text-[12px] text-ink-2">
        Planned from the agreed plan, earned by percent done, and what was really spent.{" "}
        <button type="button" className="text-rose hover:underline" onClick={() => setTable(!table)}>
          {table ? "as curves" : "as a table"}
        </button>
      </figcaption>
    </figure>
  );
}

function CurveTable({ points }: { points: Point[] }) {
  const { now } = useMe();
  return (
    <table className="w-full border-collapse">
      <thead>
        <tr className="h-7 border-b border-rule-2 text-[12px] text-ink-2">
          {["Day", "Planned", "Earned", "Spent"].map((head, index) => (
            <th key={head} scope="col" className={`font-semibold ${index ? "text-right" : "text-left"}`}>
              {head}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {points.map((one) => (
          <tr key={one.day} className="h-6 border-b border-rule text-[12.5px] tabular-nums">
            <th scope="row" className="text-left font-normal">
              {sayDay(one.day, now)}
            </th>
            <td className="text-right">{saySum(one.planned)}</td>
            <td className="text-right">{saySum(one.earned)}</td>
            <td className="text-right">{saySum(one.spent)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
