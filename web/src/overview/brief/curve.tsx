/** Done against plan: two curves over the days of the plan. */
import { format } from "date-fns";
import { LineChart } from "echarts/charts";
import { AriaComponent, GridComponent, MarkLineComponent, TooltipComponent } from "echarts/components";
import { init, use } from "echarts/core";
import { SVGRenderer } from "echarts/renderers";
import { useEffect, useRef } from "react";
import type { Schemas } from "../../data/api";
import { useMe } from "../../data/hooks";

use([LineChart, GridComponent, TooltipComponent, MarkLineComponent, AriaComponent, SVGRenderer]);

const colour = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(`--color-${name}`).trim();

export default function Curve({ points }: { points: Schemas["PointOut"][] }) {
  const box = useRef<HTMLDivElement>(null);
  const { now } = useMe();
  useEffect(() => {
    if (!box.current) return;
    const chart = init(box.current, undefined, { renderer: "svg" });
    const text = { color: colour("ink-3"), fontFamily: "Commissioner Variable", fontSize: 11 };
    const today = format(now, "yyyy-MM-dd");
    const done = points.filter((point) => point.done !== null).at(-1);
    chart.setOption({
      animation: false,
      aria: {
        enabled: true,
        label: {
          description: `Done against plan: ${done?.done?.toFixed(0) ?? 0} % done, ${done?.planned.toFixed(0) ?? 0} % planned by today.`,
        },
      },
      grid: { left: 40, right: 60, top: 18, bottom: 24 },
      tooltip: {
        trigger: "axis",
        valueFormatter: (value: unknown) => (typeof value === "number" ? `${value.toFixed(0)} %` : "–"),
      },
      xAxis: {
        type: "time",
        axisLabel: { ...text, hideOverlap: true, formatter: (at: number) => format(at, "d MMM") },
        axisLine: { lineStyle: { color: colour("rule-2") } },
        axisTick: { show: false },
      },
      yAxis: {
        type: "value",
        min: 0,
        max: 100,
        interval: 50,
        axisLabel: { ...text, formatter: "{value} %" },
        splitLine: { lineStyle: { color: colour("rule") } },
      },
      series: [
        {
          name: "planned",
          type: "line",
          showSymbol: false,
          data: points.map((point) => [point.day, point.planned]),
          lineStyle: { color: colour("ink-3"), width: 1.6, type: [5, 4] },
          itemStyle: { color: colour("ink-3") },
          endLabel: { show: true, formatter: "planned", ...text },
        },
        {
          name: "done",
          type: "line",
          showSymbol: false,
          data: points.filter((point) => point.done !== null).map((point) => [point.day, point.done]),
          lineStyle: { color: colour("ink"), width: 2.4 },
          itemStyle: { color: colour("ink") },
          endLabel: { show: true, formatter: "done", ...text, color: colour("ink"), fontWeight: 600 },
          markLine: {
            symbol: "none",
            silent: true,
            lineStyle: { color: colour("rose"), type: "solid", width: 1.4 },
            label: {
              formatter: "today",
              color: colour("rose"),
              fontFamily: "Commissioner Variable",
              fontWeight: 600,
              fontSize: 11,
            },
            data: [{ xAxis: today }],
          },
        },
      ],
    });
    const watch = new ResizeObserver(() => chart.resize());
    watch.observe(box.current);
    return () => {
      watch.disconnect();
      chart.dispose();
    };
  }, [points, now]);
  const last = points.filter((point) => point.done !== null).at(-1);
  return (
    <figure>
      <div ref={box} className="h-[200px] w-full" />
      <figcaption className="text-[12px] text-ink-2">
        By today {last?.planned.toFixed(0) ?? 0} % of the work was planned to be done; {last?.done?.toFixed(0) ?? 0} %
        is. Weighted as percent done is.
      </figcaption>
    </figure>
  );
}
