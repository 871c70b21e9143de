import type { Scale } from '../../shared/usualScale.js';
import { figureAt, instrumentInWords, isOutside, shareOf } from './instrument.js';

const VOLTS: Scale = { low: 200, high: 260, from: 207, to: 253, nominal: 230, outside: 'danger' };
const WATTS: Scale = {
  low: -12_000,
  high: 14_400,
  from: -12_000,
  to: 12_000,
  nominal: 12_000,
  outside: 'danger',
};

it.each([
  [VOLTS, 200, 0],
  [VOLTS, 230, 0.5],
  [VOLTS, 260, 1],
  [VOLTS, 400, 1],
  [VOLTS, -5, 0],
  [WATTS, 1200, 0.5],
])('on %j %d stands at %d', (scale, v, share) => expect(shareOf(scale, v)).toBeCloseTo(share, 9));

it.each([
  [207, false],
  [206.9, true],
  [253, false],
  [253.1, true],
  [null, false],
])('%p V is outside of 207 to 253 V: %s', (v, outside) => expect(isOutside(VOLTS, v)).toBe(outside));

it.each([
  [VOLTS, 220, '220'],
  [WATTS, -5000, '−5'],
  [WATTS, 2500, '2.5'],
  [{ ...VOLTS, low: 49, high: 51 }, 49.5, '49.5'],
])('a figure at a scale is short', (scale, v, text) => expect(figureAt(scale, v)).toBe(text));

it('says in words how it stands', () => {
  expect(instrumentInWords('Voltage L1', VOLTS, 231)).toBe('Voltage L1: in band');
  expect(instrumentInWords('Voltage L1', VOLTS, 260)).toBe('Voltage L1: outside its band');
  expect(instrumentInWords('Voltage L1', VOLTS, null)).toBe('Voltage L1: not known');
});
