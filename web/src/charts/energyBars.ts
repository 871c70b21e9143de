import type { EChartsCoreOption } from 'echarts/core';
import type { FlowColours } from '../theme/flows.js';
import type { Sheet } from '../theme/tokens.js';
import { calendarBars, kilo, type BesideOutline } from './calendarBars.js';

/** Energy of a place part by part: what came in upwards, what went out downwards; the compared period as an outline of the net. */
export function energyBarsOption(
  columns: { borders: number[]; import: (number | null)[]; export: (number | null)[] },
  beside: BesideOutline | null,
  zone: string,
  sheet: Sheet,
  flows: FlowColours,
): EChartsCoreOption {
  const bar = { type: 'bar', stack: 'energy', barCategoryGap: '20%' };
  const bars = [
    { ...bar, name: 'in', itemStyle: { color: sheet.accent }, data: columns.import.map(kilo) },
    ...(columns.export.some((v) => (v ?? 0) > 0)
      ? [
          {
            ...bar,
            name: 'out',
            itemStyle: { color: flows.roof },
            data: columns.export.map((v) => (v === null ? null : -v / 1000)),
          },
        ]
      : []),
  ];
  return calendarBars(columns.borders, bars, beside, zone, sheet, (v) => `${Math.abs(v).toFixed(3)} kWh`);
}
