import { siteClock } from '@loka/core/time';
import type { EChartsCoreOption } from 'echarts/core';
import type { Sheet } from '../theme/tokens.js';
import { chartBase } from './base.js';

const DAY = 86_400_000;

/** How the axis of a period names its parts. */
export function partFormat(borders: readonly number[]): string {
  const [first = 0, second = 0] = borders;
  const length = second - first;
  if (length > 20 * DAY) return 'LLL yyyy';
  if (length > 2 * 3_600_000) return 'd LLL';
  return (borders.at(-1) ?? 0) - first > 26 * 3_600_000 ? 'd LLL HH:mm' : 'HH:mm';
}

/** Wh as it stands on an axis of kWh; null stays what is not known. */
export const kilo = (wh: number | null | undefined): number | null => (wh == null ? null : wh / 1000);

/** What is set beside a period: an outline of its sums, part by part, Wh. */
export interface BesideOutline {
  name: string;
  sums: readonly (number | null)[];
}

/** The line of a period that is set beside another. */
export const outline = (name: string, data: unknown[], sheet: Sheet): object => ({
  type: 'line',
  name,
  step: 'middle',
  showSymbol: false,
  lineStyle: { color: sheet.ink, width: 1.2 },
  itemStyle: { color: sheet.ink },
  data,
});

/**
 * Bars of energy by parts of the site's calendar, in kWh.
 * @param borders part i lies between borders i and i + 1
 * @param print a value of the tooltip that is known, kWh
 */
export function calendarBars(
  borders: readonly number[],
  bars: readonly object[],
  beside: BesideOutline | null,
  zone: string,
  sheet: Sheet,
  print: (kilowattHours: number) => string,
): EChartsCoreOption {
  const base = chartBase(sheet);
  const format = partFormat(borders);
  const parts = borders.slice(0, -1);
  return {
    ...base,
    grid: { left: 50, right: 8, top: 24, bottom: 25 },
    tooltip: {
      ...base.tooltip,
      axisPointer: { type: 'shadow' },
      valueFormatter: (v: number | null) => (v == null ? 'not known' : print(v)),
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
      ...bars,
      ...(beside
        ? [
            outline(
              beside.name,
              parts.map((_, i) => kilo(beside.sums[i])),
              sheet,
            ),
          ]
        : []),
    ],
  };
}
