import type { FastLookTrace } from '@loka/contract/fastLook';
import type { Ramp } from '@loka/core/fastLook';
import { quantityInfo } from '@loka/core/quantities';
import type { EChartsCoreOption } from 'echarts/core';
import type { Sheet } from '../theme/tokens.js';
import { chartBase } from './base.js';

/** Traces of a fast look over the seconds since it began; start, peak and settled value of the one that rose are marked. */
export function fastLookOption(
  traces: readonly FastLookTrace[],
  found: { trace: FastLookTrace; ramp: Ramp | null } | null,
  sheet: Sheet,
  colours: readonly string[],
): EChartsCoreOption {
  const base = chartBase(sheet);
  const unit = traces[0] ? quantityInfo(traces[0].quantity).unit : '';
  const ramp = found?.ramp ?? null;
  const line = { color: sheet.ink2, width: 1, type: 'dashed' as const };
  return {
    ...base,
    grid: { left: 52, right: 70, top: 14, bottom: 24 },
    tooltip: {
      ...base.tooltip,
      valueFormatter: (v: number | null) => (v == null ? '–' : `${v.toPrecision(4)} ${unit}`),
    },
    xAxis: {
      ...base.xAxis,
      type: 'value',
      min: 0,
      max: Math.max(1, ...traces.map((t) => (t.t.at(-1) ?? 0) / 1000)),
      splitLine: { show: false },
      axisLabel: { ...base.xAxis.axisLabel, formatter: (s: number) => `${Number(s.toFixed(1))} s` },
    },
    yAxis: {
      ...base.yAxis,
      type: 'value',
      splitNumber: 3,
      axisLabel: { ...base.yAxis.axisLabel, formatter: (v: number) => `${v} ${unit}` },
    },
    series: traces.map((trace, i) => ({
      type: 'line',
      name: trace.name,
      showSymbol: false,
      connectNulls: false,
      lineStyle: { width: 1.3, color: colours[i % colours.length] },
      itemStyle: { color: colours[i % colours.length] },
      data: trace.t.map((t, k) => [t / 1000, trace.v[k]]),
      ...(ramp && trace === found?.trace
        ? {
            markLine: {
              silent: true,
              symbol: 'none',
              animation: false,
              lineStyle: line,
              label: { color: sheet.ink2, fontFamily: 'Barlow Semi Condensed' },
              data: [
                { xAxis: ramp.startedAt / 1000, label: { formatter: 'began', position: 'end' } },
                { yAxis: ramp.peak, label: { formatter: 'peak', position: 'end' } },
                ...(ramp.settled === null
                  ? []
                  : [{ yAxis: ramp.settled, label: { formatter: 'settled', position: 'end' } }]),
              ],
            },
          }
        : {}),
    })),
  };
}
