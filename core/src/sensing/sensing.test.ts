import { PLAIN_SENSING, SensingError, sensingLine } from './sensing.js';

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
