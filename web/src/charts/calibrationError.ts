import { limitsOf, type AccuracyClass } from '@loka/core/calibration';
import type { EChartsCoreOption } from 'echarts/core';
import type { Sheet } from '../theme/tokens.js';
import { chartBase } from './base.js';

/** A point of a calibration with its errors, percent of the reference; null at zero. */
export interface Judged {
  label: string;
  reference: number;
  asFound: number | null;
  asLeft: number | null;
  /** Expanded uncertainty of the errors, in the unit of the reference; missing or null where it is not known. */
  uncertainty?: number | null | undefined;
}

/** Error in percent against load, as found (hollow) and as left, on a logarithmic axis up to the rated current. */
export function errorOption(
  points: readonly Judged[],
  unit: string,
  { rated, accuracy }: { rated: number | null; accuracy: AccuracyClass | null },
  sheet: Sheet,
): EChartsCoreOption {
  const base = chartBase(sheet);
  const { xAxis: x, yAxis: y } = base;
  const loaded = points.filter((p) => p.asFound !== null);
  const spanOf = (p: Judged) => (100 * (p.uncertainty ?? 0)) / Math.abs(p.reference);
  const most =
    Math.max(
      1,
      ...loaded.flatMap((p) => [
        Math.abs(p.asFound as number),
        Math.abs(p.asLeft ?? 0) + Math.min(5, spanOf(p)),
      ]),
    ) * 1.25;
  const dots = (pick: (p: Judged) => number | null, style: object) => ({
    type: 'scatter',
    symbolSize: 11,
    data: loaded.filter((p) => pick(p) !== null).map((p) => [Math.abs(p.reference), pick(p)]),
    itemStyle: style,
  });
  const highest = Math.max(...loaded.map((p) => Math.abs(p.reference)), unit === 'A' ? (rated ?? 10) : 1);
  // Three lines or fewer on either side.
  const every = Math.max(1, Math.ceil(most / 3));
  const top = every * Math.ceil(most / every);
  const lowest = highest / 1000 > 0.1 ? Math.pow(10, Math.floor(Math.log10(highest / 1000))) : 0.1;
  const limits = rated === null || accuracy === null ? [] : limitsOf(accuracy);
  const shades = limits.map(([from, percent], i) => [
    { coord: [Math.max(lowest, from * (rated as number)), -percent] },
    { coord: [Math.min(highest * 1.05, (limits[i + 1]?.[0] ?? Infinity) * (rated as number)), percent] },
  ]);
  return {
    ...base,
    grid: { left: 52, right: 20, top: 14, bottom: 38 },
    tooltip: {
      ...base.tooltip,
      trigger: 'item',
      valueFormatter: (v: number[]) => `${v[1]?.toFixed(2)} %`,
    },
    xAxis: {
      ...x,
      type: 'log',
      min: lowest,
      max: highest * 1.05,
      name: `load, ${unit}`,
      nameLocation: 'middle',
      nameGap: 22,
      nameTextStyle: { color: sheet.ink2 },
      axisLabel: { ...x.axisLabel, formatter: (v: number) => String(Number(v.toPrecision(3))) },
      axisLine: { onZero: false, lineStyle: { color: sheet.ink } },
    },
    yAxis: {
      ...y,
      type: 'value',
      min: -top,
      max: top,
      interval: every,
      axisLabel: {
        ...y.axisLabel,
        formatter: (v: number) => `${v > 0 ? '+' : v < 0 ? '−' : ''}${Math.abs(v)}%`,
      },
    },
    series: [
      {
        ...dots((p) => p.asFound, { color: 'transparent', borderColor: sheet.danger, borderWidth: 2 }),
        markLine: {
          silent: true,
          symbol: 'none',
          label: { show: false },
          lineStyle: { color: sheet.ink, type: 'solid', width: 1.2 },
          data: [{ yAxis: 0 }],
        },
      },
      {
        ...dots((p) => p.asLeft, { color: sheet.accent }),
        markArea: { silent: true, itemStyle: { color: sheet.accentSoft }, data: shades },
      },
      // How far the error may be off: a line on either side of it.
      ...loaded.flatMap((p) =>
        p.asLeft === null || spanOf(p) === 0
          ? []
          : [
              {
                type: 'line',
                silent: true,
                symbol: ['none', 'none'],
                showSymbol: false,
                lineStyle: { color: sheet.accent, width: 1.4 },
                data: [
                  [Math.abs(p.reference), p.asLeft - spanOf(p)],
                  [Math.abs(p.reference), p.asLeft + spanOf(p)],
                ],
              },
            ],
      ),
    ],
  };
}
