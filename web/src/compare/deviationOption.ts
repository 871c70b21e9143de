import type { Series } from '@loka/contract/readings';
import { siteClock } from '@loka/core/time';
import type { EChartsCoreOption } from 'echarts/core';
import { chartBase } from '../charts/base.js';
import type { Trended } from '../charts/trend.js';
import type { Sheet } from '../theme/tokens.js';

/** Of a base below this share of its highest, a deviation in percent says little, and is left out. */
const LEAST = 0.05;

/** Deviation of each of some points from a base, percent of it, over time. */
export function deviationOption(
  series: readonly Series[],
  base: Series | undefined,
  shown: readonly Trended[],
  span: { start: number; end: number },
  zone: string,
  sheet: Sheet,
  colours: readonly string[],
): EChartsCoreOption {
  const { xAxis: x, yAxis: y, ...rest } = chartBase(sheet);
  const format = span.end - span.start > 2 * 86_400_000 ? 'd LLL' : 'HH:mm';
  const least = LEAST * Math.max(0, ...(base?.mean ?? []).map((v) => Math.abs(v ?? 0)));
  return {
    ...rest,
    grid: { left: 62, right: 12, top: 12, bottom: 24 },
    tooltip: { ...rest.tooltip, valueFormatter: (v: number) => `${Number(v).toFixed(2)} %` },
    xAxis: {
      ...x,
      type: 'time',
      min: span.start,
      max: span.end,
      splitLine: { show: false },
      axisLabel: { ...x.axisLabel, hideOverlap: true, formatter: (t: number) => siteClock(zone, t, format) },
    },
    yAxis: {
      ...y,
      type: 'value',
      splitNumber: 3,
      axisLabel: { ...y.axisLabel, formatter: (v: number) => `${v}%` },
    },
    series: shown.flatMap(({ id, name }, i) => {
      const own = series.find((s) => s.pointId === id);
      if (!own || !base) return [];
      const colour = colours[(i + 1) % colours.length];
      return {
        type: 'line',
        name,
        showSymbol: false,
        connectNulls: false,
        lineStyle: { width: 1.3, color: colour },
        itemStyle: { color: colour },
        data: own.t.map((t, k) => {
          const [a, b] = [base.mean[k], own.mean[k]];
          return [
            t + own.step / 2,
            a == null || b == null || Math.abs(a) <= least ? null : (100 * (b - a)) / Math.abs(a),
          ];
        }),
      };
    }),
  };
}
