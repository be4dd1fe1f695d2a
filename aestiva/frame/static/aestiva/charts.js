// Plain charts: lines, bands and bars from the data beside each box.  The same numbers stand in the table under it.
import { init } from "../vendor/echarts/echarts.mjs";

const token = (name) => getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim();
const face = '"Atkinson Next", system-ui, sans-serif';

const series = (one) => {
  const colour = token(one.colour);
  if (one.kind === "band") {
    // a band is two stacked lines: the lower unseen, the difference filled
    return [
      {
        type: "line", name: one.name, stack: one.name, stackStrategy: "all", data: one.low, symbol: "none",
        lineStyle: { opacity: 0 }, itemStyle: { color: colour, opacity: 0.45 }, silent: true, tooltip: { show: false },
      },
      {
        type: "line", name: one.name, stack: one.name, stackStrategy: "all", data: one.width, symbol: "none",
        lineStyle: { opacity: 0 }, areaStyle: { color: colour, opacity: 0.28 }, silent: true, tooltip: { show: false },
      },
    ];
  }
  const line = {
    type: "line", name: one.name, data: one.values, symbol: one.dots ? one.dots : "none", symbolSize: 7, connectNulls: false,
    lineStyle: { color: colour, width: 2, type: one.dash ? "dashed" : "solid" }, itemStyle: { color: colour },
  };
  if (one.level !== undefined) {
    line.markLine = {
      silent: true, symbol: "none", label: { show: false }, lineStyle: { color: token("frost"), type: "dotted" },
      data: [{ yAxis: one.level }],
    };
  }
  return [line];
};

for (const box of document.querySelectorAll("[data-chart]")) {
  const data = JSON.parse(document.getElementById(box.dataset.chart).textContent);
  const chart = init(box, null, { renderer: "svg" });
  const draw = () => {
    const narrow = box.clientWidth < 500;
    chart.setOption({
      animation: false,
      textStyle: { fontFamily: face, color: token("ink"), fontSize: 13 },
      aria: { enabled: true, label: { description: data.says } },
      grid: { left: 44, right: 14, top: narrow ? 66 : 40, bottom: 34 },
      legend: { top: 4, left: 0, itemWidth: 22, textStyle: { fontFamily: face, color: token("ink") }, data: data.series.map((s) => s.name) },
      tooltip: { trigger: "axis", renderMode: "richText", valueFormatter: (v) => (v === null || v === undefined ? "–" : `${v}${data.unit}`) },
      xAxis: {
        type: "category", data: data.x, boundaryGap: false, axisTick: { show: false },
        axisLabel: { color: token("ink-2"), hideOverlap: true, interval: data.every ? (i) => i % data.every === 0 && (!narrow || (i / data.every) % 2 === 0) : "auto" },
        axisLine: { lineStyle: { color: token("soil") } },
      },
      yAxis: { type: "value", axisLabel: { color: token("ink-2"), formatter: `{value}°` }, splitLine: { lineStyle: { color: token("rule") } } },
      series: data.series.flatMap(series),
    });
  };
  draw();
  new ResizeObserver(() => { chart.resize(); draw(); }).observe(box);
}
