import type { EChartsCoreOption } from 'echarts/core';
import type { Sheet } from '../theme/tokens.js';
import { calendarBars, kilo, type BesideOutline } from './calendarBars.js';

/** One layer of the stack: what several uses took, part by part, Wh. */
export interface UseLayer {
  name: string;
  colour: string;
  /** Nobody meters it: hatched. */
  hatched: boolean;
  values: (number | null)[];
}

const HATCH = { symbol: 'rect', dashArrayX: [1, 0], dashArrayY: [1.4, 4], rotation: -Math.PI / 4 };

/**
 * Uses over time, stacked, each part of the calendar a bar; a part of which something was not known stands on a ground of
 * its own.
 * @param certain part by part
 */
export function usesOption(
  borders: readonly number[],
  layers: readonly UseLayer[],
  certain: readonly boolean[],
  beside: BesideOutline | null,
  zone: string,
  sheet: Sheet,
): EChartsCoreOption {
  const bars = layers.map(({ name, colour, hatched, values }) => ({
    type: 'bar',
    name,
    stack: 'uses',
    barCategoryGap: '18%',
    itemStyle: {
      color: hatched ? sheet.paper : colour,
      borderColor: sheet.ink2,
      borderWidth: hatched || colour === sheet.sheet ? 0.6 : 0,
      ...(hatched ? { decal: { ...HATCH, color: sheet.ink2 } } : {}),
    },
    data: values.map(kilo),
  }));
  const option = calendarBars(borders, bars, beside, zone, sheet, (v) => `${v.toFixed(2)} kWh`);
  return {
    ...option,
    xAxis: {
      ...(option['xAxis'] as object),
      splitArea: {
        show: certain.includes(false),
        interval: 0,
        areaStyle: { color: certain.map((known) => (known ? 'transparent' : `${sheet.strongRule}88`)) },
      },
    },
    aria: { enabled: true, label: { enabled: false }, decal: { show: true, decals: [{ symbol: 'none' }] } },
  };
}
