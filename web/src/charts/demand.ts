import type { Series } from '@loka/contract/readings';
import { printInUnit } from '@loka/core/formats';
import { siteClock } from '@loka/core/time';
import type { EChartsCoreOption } from 'echarts/core';
import type { Sheet } from '../theme/tokens.js';
import { chartBase } from './base.js';
import { outline } from './calendarBars.js';

export const DEMAND_LINES = ['L1', 'L2', 'L3'] as const;
export type DemandLine = (typeof DEMAND_LINES)[number];
const COLOUR = { L1: 'l1', L2: 'l2', L3: 'l3' } as const;
const DAY = 86_400_000;

/** Quarter-hours are what demand is charged by (trade); a month of them would be too fine to see. Minutes. */
export const demandBlock = (ms: number): number => (ms > 20 * DAY ? 240 : ms > 3 * DAY ? 60 : 15);

/** The site's demand in blocks of equal length, stacked by phase; that of the compared period as an outline of the sums. */
export function demandOption(
  lines: readonly { line: DemandLine; series: Series | undefined }[],
  span: { start: number; end: number },
  zone: string,
  sheet: Sheet,
  beside: { name: string; blocks: readonly { t: number; watts: number }[] } | null = null,
): EChartsCoreOption {
  const base = chartBase(sheet);
  const format = span.end - span.start > 2 * DAY ? 'd LLL' : 'HH';
  return {
    ...base,
    grid: { left: 44, right: 8, top: 10, bottom: 22 },
    tooltip: {
      ...base.tooltip,
      valueFormatter: (v: number) => printInUnit(v, 'W'),
    },
    xAxis: {
      ...base.xAxis,
      type: 'time',
      min: span.start,
      max: span.end,
      splitLine: { show: false },
      axisLabel: { ...base.xAxis.axisLabel, formatter: (t: number) => siteClock(zone, t, format) },
    },
    yAxis: {
      ...base.yAxis,
      type: 'value',
      axisLabel: { ...base.yAxis.axisLabel, formatter: (v: number) => `${v / 1000} kW` },
    },
    series: [
      ...lines.map(({ line, series }) => ({
        type: 'bar',
        name: line,
        stack: 'demand',
        barCategoryGap: '12%',
        barMinWidth: 1,
        itemStyle: {
          color: sheet[COLOUR[line]],
          borderColor: sheet.outline,
          borderWidth: sheet.outline === 'transparent' ? 0 : 0.5,
        },
        data: series ? series.t.map((t, i) => [t + series.step / 2, series.mean[i]]) : [],
      })),
      ...(beside
        ? [
            outline(
              beside.name,
              beside.blocks.map(({ t, watts }) => [t, watts]),
              sheet,
            ),
          ]
        : []),
    ],
  };
}

/** Sums of the lines, block by block; a block in which a line is missing has no sum. */
export function demandBlocks(series: readonly Pick<Series, 't' | 'mean'>[]): { t: number; watts: number }[] {
  const sums = new Map<number, { watts: number; count: number }>();
  for (const one of series)
    one.t.forEach((t, i) => {
      const mean = one.mean[i];
      if (mean == null) return;
      const before = sums.get(t) ?? { watts: 0, count: 0 };
      sums.set(t, { watts: before.watts + mean, count: before.count + 1 });
    });
  return [...sums].filter(([, s]) => s.count === series.length).map(([t, s]) => ({ t, watts: s.watts }));
}
