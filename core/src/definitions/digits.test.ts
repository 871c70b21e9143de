import fc from 'fast-check';
import { newPoint, valueOf } from '../registers/index.js';
import { newMessage } from '../messages/index.js';
import { knownDigits, stepOf } from './index.js';

const float = newPoint({ key: 'v', type: 'float32', quantity: 'voltage', unit: 'V' });
const kilo = newPoint({ key: 'p', type: 'float32', quantity: 'active-power', unit: 'kW' });
/** The two words of a float32, by the platform's own conversion. */
const words = (value: number): number[] => {
  const view = new DataView(new ArrayBuffer(4));
  view.setFloat32(0, value);
  return [view.getUint16(0), view.getUint16(2)];
};

it.each([
  [230.15, '230.15'],
  [49.98, '49.98'],
  [0.1, '0.1'],
  [-16777216, '-16777216'],
  [1.2e-38, '1.2e-38'],
])('a float32 of %d is told as it was meant', (meant, text) => {
  const value = valueOf(float, words(meant));
  expect(String(knownDigits(float, value))).toBe(text);
});
it('in another unit and with a factor as well: 1.234 kW are 1234 W', () => {
  expect(knownDigits(kilo, valueOf(kilo, words(1.234)))).toBe(1234);
  const scaled = { ...kilo, scaling: { kind: 'factor' as const, factor: 0.1, offset: 0 } };
  expect(knownDigits(scaled, valueOf(scaled, words(12.34)))).toBe(1234);
});
it('whatever up to six digits was put into a float32 comes out (IEEE 754: six decimal digits survive)', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: -999_999, max: 999_999 }),
      fc.integer({ min: 0, max: 5 }),
      (digits, point) => {
        const meant = Number(`${digits}e-${point}`);
        expect(knownDigits(float, valueOf(float, words(meant)))).toBe(meant);
      },
    ),
  );
});
it('and it is still the same float32', () => {
  fc.assert(
    fc.property(fc.float({ noNaN: true, noDefaultInfinity: true }), (value) => {
      expect(Math.fround(knownDigits(float, value))).toBe(value + 0);
    }),
  );
});
it('corrected, it has no more than nine; what arithmetic leaves behind goes', () => {
  expect(knownDigits(float, valueOf(float, words(230.15)) * 1.0034567)).toBe(230.945553); // Python's struct and %.9g
  expect(knownDigits(newPoint({ key: 'a', type: 'int16' }), 0.1 + 0.2)).toBe(0.3);
  expect(knownDigits(newMessage({ key: 'm', quantity: 'active-power', unit: 'kW' }), 83.10000000000001)).toBe(
    83.1,
  );
  // A number as it came in a payload, or in a float64, is told as it is.
  expect(knownDigits(newMessage({ key: 'm' }), 83.10000000000001)).toBe(83.10000000000001);
  expect(knownDigits(newPoint({ key: 'a', type: 'float64' }), -1 / 3)).toBe(-1 / 3);
});
it('the step of a float32 is that of its size: 23 204.5 kWh in steps of 1.95 Wh (2^-9 kWh)', () => {
  const counter = newPoint({ key: 'e', type: 'float32', quantity: 'energy-import', unit: 'kWh' });
  expect(stepOf(counter, 23_204_500)).toBeCloseTo(1000 / 512, 9);
  expect(stepOf(counter)).toBe(0);
});
