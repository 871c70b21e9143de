import { scale, ScalingError, unscale } from './scaling.js';

// Raw counts: trade (CHECKS.md).
it('0–9999 counts stand for 0–144 V', () => {
  const scaling = { kind: 'pairs', raw1: 0, value1: 0, raw2: 9999, value2: 144 } as const;
  expect(scale(scaling, 9999)).toBeCloseTo(144, 12);
  expect(scale(scaling, 0)).toBe(0);
});
it('0–9999 counts stand for 45–65 Hz: 5000 is 55.001 Hz', () => {
  expect(scale({ kind: 'pairs', raw1: 0, value1: 45, raw2: 9999, value2: 65 }, 5000)).toBeCloseTo(55.001, 3);
});
it('factor and offset, there and back', () => {
  const scaling = { kind: 'factor', factor: 0.1, offset: -40 } as const;
  expect(scale(scaling, 650)).toBeCloseTo(25, 12);
  expect(unscale(scaling, 25)).toBeCloseTo(650, 9);
});
it('refuses what makes no line', () => {
  expect(() => scale({ kind: 'pairs', raw1: 5, value1: 0, raw2: 5, value2: 1 }, 1)).toThrow(ScalingError);
  expect(() => scale({ kind: 'factor', factor: 0, offset: 0 }, 1)).toThrow(ScalingError);
});
it('4–20 mA stand for 0–100 A: the first pair need not be at nought', () => {
  const scaling = { kind: 'pairs', raw1: 4, value1: 0, raw2: 20, value2: 100 } as const;
  expect([4, 12, 20].map((mA) => scale(scaling, mA))).toEqual([0, 50, 100]);
  expect(unscale(scaling, 75)).toBeCloseTo(16, 12);
  // Neither raw nor value at nought, and falling.
  const falling = { kind: 'pairs', raw1: 10, value1: 7, raw2: 30, value2: -3 } as const;
  expect([10, 20, 30].map((raw) => scale(falling, raw))).toEqual([7, 2, -3]);
});
