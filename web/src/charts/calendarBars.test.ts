import { FLOWS } from '../theme/flows.js';
import { LIGHT } from '../theme/tokens.js';
import { calendarBars, partFormat } from './calendarBars.js';
import { energyBarsOption } from './energyBars.js';
import { usesOption } from './uses.js';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const start = Date.parse('2026-10-25T00:00:00Z') - HOUR;
/** The hours of a Lisbon day of 25 hours: one of them happens twice. */
const hours = Array.from({ length: 26 }, (_, i) => start + i * HOUR);
type Option = {
  xAxis: { data: string[]; splitArea: { show: boolean; areaStyle: { color: string[] } } };
  series: { type: string; name: string; data: (number | null)[] }[];
};

it.each([
  [[0, HOUR], 'HH:mm'],
  [[0, DAY, 2 * DAY], 'd LLL'],
  [[0, 30 * DAY], 'LLL yyyy'],
  [Array.from({ length: 60 }, (_, i) => i * HOUR), 'd LLL HH:mm'],
])('the parts of %j are named by %s', (borders, format) => expect(partFormat(borders)).toBe(format));

it('each part has its bar in kWh by the site’s clock, also the hour that happens twice; what is not known has none', () => {
  const values = hours.slice(1).map((_, i) => (i === 3 ? null : 1000 * i));
  const option = usesOption(
    hours,
    [{ name: 'Cooking', colour: '#123456', hatched: false, values }],
    values.map((v) => v !== null),
    null,
    'Europe/Lisbon',
    LIGHT,
  ) as unknown as Option;
  expect(option.xAxis.data.filter((t) => t === '01:00')).toHaveLength(2);
  expect(option.series[0]?.data.slice(0, 5)).toEqual([0, 1, 2, null, 4]);
  expect(option.xAxis.splitArea.areaStyle.color.map((c) => c !== 'transparent')).toEqual(
    values.map((v) => v === null),
  );
});
it('what went out stands below the line, and what it is set beside is an outline', () => {
  const option = energyBarsOption(
    { borders: [0, HOUR, 2 * HOUR], import: [1000, null], export: [500, null] },
    { name: 'Wed 18 Nov', sums: [700, 800] },
    'UTC',
    LIGHT,
    FLOWS,
  ) as unknown as Option;
  expect(option.series.map((s) => [s.type, s.name, s.data])).toEqual([
    ['bar', 'in', [1, null]],
    ['bar', 'out', [-0.5, null]],
    ['line', 'Wed 18 Nov', [0.7, 0.8]],
  ]);
});
it('a compared period with fewer parts leaves the others open', () => {
  const { series } = calendarBars(
    [0, HOUR, 2 * HOUR],
    [],
    { name: 'b', sums: [500] },
    'UTC',
    LIGHT,
    String,
  ) as unknown as Option;
  expect(series[0]?.data).toEqual([0.5, null]);
});
