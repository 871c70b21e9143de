import { siteClock } from '@loka/core/time';
import type { EChartsCoreOption } from 'echarts/core';
import type { FlowColours } from '../theme/flows.js';
import type { Sheet } from '../theme/tokens.js';
import { chartBase } from './base.js';
import { partFormat } from './uses.js';

/** Energy of a place part by part: what came in upwards, what went out downwards; the compared period as an outline of the net. */
export function energyBarsOption(
  columns: { borders: number[]; import: (number | null)[]; export: (number | null)[] },
  beside: { name: string; net: readonly (number | null)[] } | null,
  zone: string,
  sheet: Sheet,
  flows: FlowColours,
): EChartsCoreOption {
  const base = chartBase(sheet);
  const format = partFormat(columns.borders);
  const parts = columns.borders.slice(0, -1);
  const kilo = (v: number | null | undefined) => (v == null ? null : v / 1000);
  const out = columns.export.some((v) => (v ?? 0) > 0);
  const bar = { type: 'bar', stack: 'energy', barCategoryGap: '20%' };
  return {
    ...base,
    grid: { left: 52, right: 8, top: 24, bottom: 26 },
    tooltip: {
      ...base.tooltip,
      axisPointer: { type: 'shadow' },
      valueFormatter: (v: number | null) => (v == null ? 'not known' : `${Math.abs(v).toFixed(3)} kWh`),
    },
    xAxis: {
      ...base.xAxis,
      type: 'category',
      data: parts.map((t) => siteClock(zone, t, format)),
      splitLine: { show: false },
      axisLabel: { ...base.xAxis.axisLabel, hideOverlap: true },
    },
    yAxis: {
      ...base.yAxis,
      type: 'value',
      name: 'kWh',
      nameTextStyle: { color: sheet.ink2, align: 'right' },
    },
    series: [
      { ...bar, name: 'in', itemStyle: { color: sheet.accent }, data: columns.import.map(kilo) },
      ...(out
        ? [
            {
              ...bar,
              name: 'out',
              itemStyle: { color: flows.roof },
              data: columns.export.map((v) => (v === null ? null : -v / 1000)),
            },
          ]
        : []),
      ...(beside
        ? [
            {
              type: 'line',
              name: beside.name,
              step: 'middle',
              showSymbol: false,
              lineStyle: { color: sheet.ink, width: 1.2 },
              itemStyle: { color: sheet.ink },
              data: parts.map((_, i) => kilo(beside.net[i])),
            },
          ]
        : []),
    ],
  };
}
