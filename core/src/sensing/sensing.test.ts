import { isSensed, PLAIN_SENSING, SensingError, sensingLine } from './sensing.js';

const line = (more: Partial<typeof PLAIN_SENSING>) => sensingLine({ ...PLAIN_SENSING, ...more }).gain;

it('100 A : 50 mA with 22 Ω gives 1.1 V at 100 A (CHECKS, trade)', () => {
  expect(line({ ratio: 100 / 0.05, burden: 22 }) * 1.1).toBeCloseTo(100, 9);
});
it('two turns double the reading, so that half of it is the current (CHECKS, trade)', () => {
  expect(line({ turns: 2 }) * 20).toBe(10);
});
it('a meter set for 100 : 5 behind 200 : 5 wants twice what it reads; an arrow the wrong way turns the sign', () => {
  expect(line({ ratio: 2 }) * 30).toBe(60);
  expect(line({ reversed: true }) * 30).toBe(-30);
});
it.each([
  ['ratio', { ratio: 0 }],
  ['ratio', { ratio: NaN }],
  ['turns', { turns: 0 }],
  ['turns', { turns: 1.5 }],
  ['burden', { burden: -22 }],
] as const)('refuses a %s that cannot be', (field, more) => {
  expect(() => line(more)).toThrow(SensingError);
  try {
    line(more);
  } catch (error) {
    expect((error as SensingError).field).toBe(field);
  }
});

it('a clamp of 100 A with 0.333 V, a shunt of 50 A with 75 mV, a divider of 400 V to 1 V', () => {
  expect(line({ kind: 'voltage-clamp', ratio: 100 / 0.333 }) * 0.333).toBeCloseTo(100, 9);
  expect(line({ kind: 'shunt', ratio: 50 / 0.075 }) * 0.0375).toBeCloseTo(25, 9);
  expect(line({ kind: 'voltage-transformer', ratio: 400 }) * 0.58).toBeCloseTo(232, 9);
});
// By hand: 12 mA is the middle of 4–20 mA, so half of 50 A; 4 mA is nothing; 3 mA would be −3.125 A: a broken wire reads less still.
it.each([
  ['4-20', null, 0.012, 25],
  ['4-20', null, 0.004, 0],
  ['4-20', null, 0.02, 50],
  ['4-20', 250, 3, 25],
  ['0-20', null, 0.005, 12.5],
  ['±20', null, -0.01, -25],
] as const)('a Hall sensor of 50 A, %s mA, burden %s Ω: %s is %s A', (signal, burden, given, amperes) => {
  const { gain, offset } = sensingLine({ ...PLAIN_SENSING, kind: 'hall', ratio: 50, signal, burden });
  expect(gain * given + offset).toBeCloseTo(amperes, 9);
});
it('a Hall sensor whose device gives amperes needs no signal, with a ratio it does; voltage goes through a transformer of voltages only', () => {
  expect(() => line({ kind: 'hall', ratio: 50 })).toThrow(/choose which/);
  expect(line({ kind: 'hall', ratedCurrent: 200 }) * 31).toBe(31);
  expect(isSensed('voltage')).toBe(false);
  expect(isSensed('voltage', 'voltage-transformer')).toBe(true);
  expect(isSensed('current', 'voltage-transformer')).toBe(false);
});
