import fc from 'fast-check';
import { printDuration, typedDuration, typedQuantity } from './typed.js';

it.each([
  ['2.5', 2500],
  ['2,5 s', 2500],
  ['90 min', 5_400_000],
  ['1 h 30 min', 5_400_000],
  ['500 ms', 500],
  ['0', 0],
  ['1m', 60_000],
])('a duration typed as %s', (text, ms) => expect(typedDuration(text)).toBe(ms));

it.each(['a while', '5 days', '5 s and more', 's', '1.2.3'])('%s is no duration', (text) =>
  expect(typedDuration(text)).toBeNaN(),
);
it('nothing typed is nothing', () => {
  expect(typedDuration('  ')).toBeNull();
  expect(typedQuantity('', 'W')).toBeNull();
});

it('what is printed is taken back', () =>
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 86_400_000 }), (ms) => typedDuration(printDuration(ms)) === ms),
  ));

it.each([
  ['1.5 kW', 'W', 1500],
  ['1,5kW', 'W', 1500],
  ['1 500', 'W', 1500],
  ['−20 mA', 'A', -0.02],
  ['3 MWh', 'Wh', 3e6],
  ['207', 'V', 207],
  ['207 V', 'V', 207],
  ['80 %', '%', 80],
  ['21.5 °C', '°C', 21.5],
  ['0,95', '', 0.95],
])('%s of %s', (text, unit, value) => expect(typedQuantity(text, unit)).toBeCloseTo(value, 9));

it.each([
  ['1.5 kV', 'W'],
  ['many', 'W'],
  ['1.5 kW', ''],
  ['5 xW', 'W'],
  ['1.5.2', 'W'],
])('%s is none of %s', (text, unit) => expect(typedQuantity(text, unit)).toBeNaN());
