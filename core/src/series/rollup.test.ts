import fc from 'fast-check';
import { breakAtGaps } from './gaps.js';
import { isBad, isGood, QUALITY, qualityInWords } from './quality.js';
import { mergeRollups, rollUp } from './rollup.js';
import { holdAt, type Sample } from './sample.js';

const good = (t: number, v: number): Sample => ({ t, v, q: QUALITY.good });
const bad = (t: number): Sample => ({ t, v: null, q: QUALITY.timeout });
const hold = () => 2500;

describe('rollup arithmetic, by hand', () => {
  it('weights the mean by time', () => {
    // 100 W for 1 s, 300 W for 2 s (until the end): mean 700/3
    expect(rollUp([good(0, 100), good(1000, 300)], 0, 3000, hold)).toEqual({
      t: 0,
      min: 100,
      max: 300,
      mean: 700 / 3,
      count: 2,
      covered: 3000,
      last: 300,
    });
  });
  it('takes in what the sample before reaches over', () => {
    expect(rollUp([good(-500, 10), good(500, 20)], 0, 1000, hold)).toMatchObject({
      mean: 15,
      min: 10,
      max: 20,
      count: 1,
      covered: 1000,
    });
  });
  it('lets a sample speak only for its hold: the rest is a gap', () => {
    expect(rollUp([good(0, 10)], 0, 10_000, hold)).toMatchObject({ mean: 10, covered: 2500 });
  });
  it('ends at a bad sample', () => {
    expect(rollUp([good(0, 10), bad(400)], 0, 1000, hold)).toMatchObject({ covered: 400, last: 10 });
  });
  it('is nothing, not zero, where nothing is known', () => {
    expect(rollUp([bad(0)], 0, 1000, hold)).toBeNull();
    expect(rollUp([], 0, 1000, hold)).toBeNull();
  });
});

it('merging the parts gives the whole', () => {
  const readings = fc.uniqueArray(
    fc.record({ t: fc.integer({ min: 0, max: 59_999 }), v: fc.double({ min: -1e5, max: 1e5, noNaN: true }) }),
    { selector: (r) => r.t, minLength: 1, maxLength: 80 },
  );
  fc.assert(
    fc.property(readings, (list) => {
      const samples = list.sort((a, b) => a.t - b.t).map(({ t, v }) => good(t, v));
      const whole = rollUp(samples, 0, 60_000, hold)!;
      const parts = Array.from({ length: 6 }, (_, i) =>
        rollUp(samples, i * 10_000, (i + 1) * 10_000, hold),
      ).filter((p) => p !== null);
      const merged = mergeRollups(parts, 0)!;
      expect(merged.covered).toBe(whole.covered);
      expect(merged.count).toBe(whole.count);
      expect(Math.abs(merged.mean - whole.mean)).toBeLessThan(1e-6);
      expect(merged.min).toBe(whole.min);
      expect(merged.max).toBe(whole.max);
    }),
  );
});

it('breaks a line where readings are missing and where they are bad', () => {
  const line = breakAtGaps([good(0, 1), good(1000, 2), good(9000, 3), bad(10_000), good(11_000, 4)], hold);
  expect(line.v).toEqual([1, 2, null, 3, null, 4]);
  expect(line.t[2]).toBe(3500);
});
it('uses the interval that held at the time', () => {
  const intervals = [
    { validFrom: 0, intervalMs: 60_000 },
    { validFrom: 1000, intervalMs: 1000 },
  ];
  expect([holdAt(intervals, -5), holdAt(intervals, 999), holdAt(intervals, 1000)]).toEqual([
    150_000, 150_000, 2500,
  ]);
});
it('quality after IEC 62541: severity in the two top bits', () => {
  expect(isGood(QUALITY.good)).toBe(true);
  expect(isBad(QUALITY.exception + 2)).toBe(true);
  expect(QUALITY.implausible >> 6).toBe(1);
  expect(qualityInWords(QUALITY.exception + 2)).toBe('bad: exception 2');
});
