import type { Series } from '@loka/contract/readings';
import { LIGHT, SERIES } from '../theme/tokens.js';
import { errorOption } from './calibrationError.js';
import { demandBlock, demandBlocks, demandOption } from './demand.js';
import { withLive } from './liveTail.js';
import { tooltipOf, trendOption } from './trend.js';

const line = (t: number[], mean: (number | null)[], step = 0): Series => ({
  pointId: 7,
  step,
  t,
  mean,
  min: mean,
  max: mean,
  count: mean.map(() => 1),
  covered: mean.map(() => step),
});

describe('what comes in live goes on from what the store has', () => {
  const at = (s: Series) => s.t.map((t, i) => [t, s.mean[i]]);
  it('appends it, and does not repeat what the store has by now', () => {
    const live = [
      { t: 2000, v: 2 },
      { t: 3000, v: 3 },
    ];
    expect(at(withLive(line([1000, 2000], [1, 2]), live, 2500))).toEqual([
      [1000, 1],
      [2000, 2],
      [3000, 3],
    ]);
  });
  it('draws no line across a hole, between store and stream or within the stream', () => {
    const live = [
      { t: 60_000, v: 5 },
      { t: 61_000, v: 6 },
      { t: 90_000, v: 7 },
    ];
    expect(at(withLive(line([1000], [1]), live, 2500))).toEqual([
      [1000, 1],
      [3500, null],
      [60_000, 5],
      [61_000, 6],
      [63_500, null],
      [90_000, 7],
    ]);
  });
  it('a bad reading breaks the line once', () => {
    const live = [
      { t: 2000, v: null },
      { t: 9000, v: 4 },
    ];
    expect(at(withLive(line([1000], [1]), live, 2500))).toEqual([
      [1000, 1],
      [2000, null],
      [9000, 4],
    ]);
  });
  it('goes on from the end of the last block of rollups; hours of it leave no hole', () => {
    const hours = Array.from({ length: 4 * 3600 }, (_, i) => ({ t: 61_000 + i * 1000, v: i }));
    const series = withLive(line([0], [10], 60_000), hours, 2500);
    expect(series.t).toHaveLength(1 + hours.length);
    expect(series.mean).not.toContain(null);
    expect(series.count).toHaveLength(series.t.length);
  });
});

describe('options of charts', () => {
  const span = { start: 0, end: 3_600_000 };
  it('a trend has one strip a unit, a band only for rollups, and breaks at gaps', () => {
    const shown = [
      { id: 7, name: 'Power', unit: 'W' },
      { id: 8, name: 'Voltage', unit: 'V' },
    ];
    const series = [line([0, 60_000], [1, null], 60_000), { ...line([0], [230]), pointId: 8 }];
    const option = trendOption(series, shown, span, 'UTC', LIGHT, SERIES, () => '') as {
      grid: unknown[];
      series: { name: string; connectNulls: boolean; data: [number, number | null][]; step: unknown }[];
    };
    expect(option.grid).toHaveLength(2);
    expect(option.series.map((s) => s.name)).toEqual(['7', '', '', '8']);
    expect(option.series.every((s) => !s.connectNulls)).toBe(true);
    // A mean stands in the middle of what it is the mean of; a reading holds until the next.
    expect(option.series[0]?.data).toEqual([
      [30_000, 1],
      [90_000, null],
    ]);
    expect(option.series[3]?.step).toBe('end');
  });
  it('a tooltip names the values and leaves the band and the gaps out', () => {
    const items = [
      { seriesName: '7', color: 'red', value: [0, 1500] as [number, number] },
      { seriesName: '', color: 'red', value: [0, 1] as [number, number] },
      { seriesName: '8', color: 'blue', value: [0, null] as [number, null] },
    ];
    expect(tooltipOf(items, [{ id: 7, name: 'Power', unit: 'W' }], 'UTC')).toEqual({
      head: 'Thu 1 Jan 00:00:00',
      rows: [{ text: 'Power  1.50 kW', colour: 'red' }],
    });
  });
  it('demand is stacked by phase in its conductor’s colour; a block in which a phase is missing has no sum', () => {
    const option = demandOption([{ line: 'L2', series: line([0], [500], 900_000) }], span, 'UTC', LIGHT) as {
      series: { stack: string; itemStyle: { color: string }; data: unknown[] }[];
    };
    expect(option.series[0]).toMatchObject({
      stack: 'demand',
      itemStyle: { color: LIGHT.l2 },
      data: [[450_000, 500]],
    });
    expect(
      demandBlocks([
        { t: [0, 900_000], mean: [100, 200] },
        { t: [0, 900_000], mean: [50, null] },
      ]),
    ).toEqual([{ t: 0, watts: 150 }]);
    expect([1, 4, 30].map((days) => demandBlock(days * 86_400_000))).toEqual([15, 60, 240]);
  });
  it('an error drawing shows loaded points as found hollow and as left filled, around a line at nought', () => {
    const points = [
      { label: 'Zero', reference: 0, asFound: null, asLeft: null },
      { label: 'Load', reference: 5, asFound: -4.2, asLeft: 0.1 },
    ];
    const option = errorOption(points, 'A', { rated: 16, accuracy: null }, LIGHT) as unknown as {
      series: { data: unknown[] }[];
      yAxis: { min: number; max: number };
    };
    expect(option.series.map((s) => s.data)).toEqual([[[5, -4.2]], [[5, 0.1]]]);
    expect([option.yAxis.min, option.yAxis.max]).toEqual([-6, 6]);
  });
  it('an error drawing shades what a class allows, from its lowest current on, and shows how far an error may be off', () => {
    const points = [{ label: 'Load', reference: 5, asFound: -4.2, asLeft: 0.1, uncertainty: 0.05 }];
    const option = errorOption(points, 'A', { rated: 20, accuracy: '1' }, LIGHT) as unknown as {
      series: { data: unknown[]; markArea?: { data: { coord: number[] }[][] } }[];
    };
    // Class 1 of 20 A: 1.5 % from 1 A on, 1 % from 2 A on, to the end of the axis (5 % above the rated current).
    expect(option.series[1]?.markArea?.data.map((d) => d.map((e) => e.coord))).toEqual([
      [
        [1, -1.5],
        [2, 1.5],
      ],
      [
        [2, -1],
        [21, 1],
      ],
    ]);
    // 0.05 A of 5 A is 1 %.
    expect(option.series[2]?.data).toEqual([
      [5, 0.1 - 1],
      [5, 0.1 + 1],
    ]);
  });
});
