import type { Series } from '@loka/contract/readings';
import { printNumber } from '@loka/core/formats';
import { siteClock } from '@loka/core/time';
import type { EChartsCoreOption } from 'echarts/core';
import type { Sheet } from '../theme/tokens.js';
import { chartBase } from './base.js';
import { TREND_LEFT, TREND_RIGHT } from './lane.js';
import type { Tooltip } from './tooltip.js';

/** A point that is drawn. */
export interface Trended {
  id: number;
  name: string;
  /** Base unit. */
  unit: string;
}

/**
 * One strip a unit, one below the other, on a common time axis; the band is from the lowest to the highest value; what
 * it is set beside is dashed.
 * @param beside lines of another period, their instants moved alongside
 */
export function trendOption(
  series: readonly Series[],
  shown: readonly Trended[],
  span: { start: number; end: number },
  zone: string,
  sheet: Sheet,
  colours: readonly string[],
  draw: (tooltip: Tooltip) => HTMLElement | string,
  beside: readonly Series[] = [],
): EChartsCoreOption {
  const base = chartBase(sheet);
  const units = [...new Set(shown.map((p) => p.unit))];
  const share = 100 / units.length;
  const long = span.end - span.start > 2 * 86_400_000;
  const format = long ? 'd LLL' : 'HH:mm';
  const { xAxis: x, yAxis: y } = base;
  return {
    ...base,
    grid: units.map((_, i) => ({
      left: TREND_LEFT,
      right: TREND_RIGHT,
      top: `${i * share + 4}%`,
      height: `${share - 13}%`,
    })),
    axisPointer: { link: [{ xAxisIndex: 'all' }] },
    tooltip: {
      ...base.tooltip,
      formatter: (items: TooltipItem[]) => draw(tooltipOf(items, shown, zone)),
    },
    xAxis: units.map((_, i) => ({
      ...x,
      type: 'time',
      gridIndex: i,
      min: span.start,
      max: span.end,
      splitLine: { show: false },
      axisLabel: { ...x.axisLabel, hideOverlap: true, formatter: (t: number) => siteClock(zone, t, format) },
    })),
    yAxis: units.map((unit, i) => ({
      ...y,
      type: 'value',
      gridIndex: i,
      scale: unit === 'V' || unit === 'Hz',
      splitNumber: 3,
      axisLabel: { ...y.axisLabel, formatter: (v: number) => axisText(v, unit) },
    })),
    series: [
      ...besideLines(beside, shown, units, colours),
      ...series.flatMap((s) => {
        const point = shown.find((p) => p.id === s.pointId);
        if (!point) return [];
        const colour = colours[shown.indexOf(point) % colours.length];
        const axis = units.indexOf(point.unit);
        const common = {
          type: 'line',
          xAxisIndex: axis,
          yAxisIndex: axis,
          showSymbol: false,
          connectNulls: false,
          step: s.step === 0 ? 'end' : false,
        };
        const line = {
          ...common,
          name: String(point.id),
          lineStyle: { width: 1.3, color: colour },
          itemStyle: { color: colour },
          data: s.t.map((t, i) => [t + s.step / 2, s.mean[i]]),
        };
        if (s.step === 0) return [line];
        const edge = (values: (number | null)[]) => ({
          ...common,
          name: '',
          silent: true,
          tooltip: { show: false },
          lineStyle: { width: 0.6, color: colour, opacity: 0.35 },
          itemStyle: { color: colour },
          data: s.t.map((t, i) => [t + s.step / 2, values[i]]),
        });
        return [line, edge(s.min), edge(s.max)];
      }),
    ],
  };
}

/** The same points in another period, dashed behind the lines of this one. */
const besideLines = (
  beside: readonly Series[],
  shown: readonly Trended[],
  units: readonly string[],
  colours: readonly string[],
): object[] =>
  beside.flatMap((s) => {
    const point = shown.find((p) => p.id === s.pointId);
    if (!point) return [];
    const axis = units.indexOf(point.unit);
    return [
      {
        type: 'line',
        name: `beside ${point.id}`,
        xAxisIndex: axis,
        yAxisIndex: axis,
        showSymbol: false,
        connectNulls: false,
        step: s.step === 0 ? 'end' : false,
        lineStyle: {
          width: 1.1,
          type: [5, 3],
          color: colours[shown.indexOf(point) % colours.length],
          opacity: 0.75,
        },
        itemStyle: { color: colours[shown.indexOf(point) % colours.length] },
        data: s.t.map((t, i) => [t + s.step / 2, s.mean[i]]),
      },
    ];
  });

function axisText(value: number, unit: string): string {
  if (unit === 'W' || unit === 'Wh')
    return Math.abs(value) >= 1000 ? `${value / 1000} k${unit}` : `${value} ${unit}`;
  return `${value} ${unit}`.trim();
}

/** What ECharts hands to the formatter of a tooltip. */
export interface TooltipItem {
  seriesName: string;
  color: string;
  value: [number, number | null];
}

/** What a tooltip says: the instant, and the values there. */
export function tooltipOf(items: readonly TooltipItem[], shown: readonly Trended[], zone: string): Tooltip {
  return {
    head: items[0] ? siteClock(zone, items[0].value[0], 'ccc d LLL HH:mm:ss') : '',
    rows: items.flatMap(({ seriesName, color, value: [, value] }) => {
      if (seriesName === '' || value === null) return [];
      const point = shown.find((p) => String(p.id) === seriesName.replace('beside ', ''));
      const when = seriesName.startsWith('beside ') ? ' (beside)' : '';
      const { digits, unit } = printNumber(value, point?.unit ?? '');
      return [{ text: `${point?.name ?? ''}${when}  ${digits} ${unit}`, colour: color }];
    }),
  };
}
