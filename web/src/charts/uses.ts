import { siteClock } from '@loka/core/time';
import type { EChartsCoreOption } from 'echarts/core';
import type { Sheet } from '../theme/tokens.js';
import { chartBase } from './base.js';

/** One layer of the stack: what several uses took, part by part, Wh. */
export interface UseLayer {
  name: string;
  colour: string;
  /** Nobody meters it: hatched. */
  hatched: boolean;
  values: (number | null)[];
}

const DAY = 86_400_000;

/** How the axis of a period names its parts. */
export function partFormat(borders: readonly number[]): string {
  const [first = 0, second = 0] = borders;
  const length = second - first;
  if (length > 20 * DAY) return 'LLL yyyy';
  if (length > 2 * 3_600_000) return 'd LLL';
  return (borders.at(-1) ?? 0) - first > 26 * 3_600_000 ? 'd LLL HH:mm' : 'HH:mm';
}

/**
 * Uses over time, stacked, each part of the calendar a bar; the compared period as an outline of its sums.
 * @param beside sums of the parts of the compared period, in the order of the parts; null without one
 */
export function usesOption(
  borders: readonly number[],
  layers: readonly UseLayer[],
  beside: { name: string; sums: readonly (number | null)[] } | null,
  zone: string,
  sheet: Sheet,
): EChartsCoreOption {
  const base = chartBase(sheet);
  const format = partFormat(borders);
  const parts = borders.slice(0, -1);
  const kilo = (v: number | null | undefined) => (v == null ? null : v / 1000);
  return {
    ...base,
    aria: { enabled: true, label: { enabled: false }, decal: { show: true, decals: [{ symbol: 'none' }] } },
    grid: { left: 46, right: 8, top: 24, bottom: 24 },
    tooltip: {
      ...base.tooltip,
      axisPointer: { type: 'shadow' },
      valueFormatter: (v: number | null) => (v == null ? 'not known' : `${v.toFixed(2)} kWh`),
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
      ...layers.map(({ name, colour, hatched, values }) => ({
        type: 'bar',
        name,
        stack: 'uses',
        barCategoryGap: '18%',
        itemStyle: {
          color: colour,
          borderColor: sheet.ink2,
          borderWidth: hatched || colour === sheet.sheet ? 0.6 : 0,
          ...(hatched
            ? {
                decal: {
                  symbol: 'rect',
                  color: sheet.ink2,
                  dashArrayX: [1, 0],
                  dashArrayY: [1.4, 4],
                  rotation: -Math.PI / 4,
                },
                color: sheet.paper,
              }
            : {}),
        },
        data: values.map(kilo),
      })),
      ...(beside
        ? [
            {
              type: 'line',
              name: beside.name,
              step: 'middle',
              showSymbol: false,
              lineStyle: { color: sheet.ink, width: 1.2 },
              itemStyle: { color: sheet.ink },
              data: parts.map((_, i) => kilo(beside.sums[i])),
            },
          ]
        : []),
    ],
  };
}
