import fc from 'fast-check';
import { breakAtGaps } from './gaps.js';
import { decodePage, encodePage, PageError } from './page.js';
import { exceptionQuality, isBad, isGood, QUALITY, qualityInWords } from './quality.js';
import { rollUp } from './rollup.js';
import { coarsen, correctSlots, meanAt, QUARTER } from './slots.js';
import { judge } from './verdicts.js';
import { holdAt, isFresh, type Sample } from './sample.js';

const good = (t: number, v: number): Sample => ({ t, v, q: QUALITY.good });
const bad = (t: number): Sample => ({ t, v: null, q: QUALITY.timeout });
const hold = () => 2500;

/** One slot of [start, end). */
function one(samples: Sample[], start: number, end: number, until = Infinity) {
  const s = rollUp(samples, { start, step: end - start, length: 1, hold, until });
  return {
    min: s.min[0],
    max: s.max[0],
    mean: meanAt(s, 0),
    count: s.count[0],
    covered: s.covered[0],
    last: s.last[0],
  };
}

describe('rollup arithmetic, by hand', () => {
  it('weights the mean by time', () => {
    // 100 W for 1 s, 300 W for 2 s (until the end): mean 700/3
    const { mean, ...others } = one([good(0, 100), good(1000, 300)], 0, 3000);
    expect(mean).toBeCloseTo(700 / 3, 9);
    expect(others).toEqual({ min: 100, max: 300, count: 2, covered: 3000, last: 300 });
  });
  it('takes in what the sample before reaches over', () => {
    expect(one([good(-500, 10), good(500, 20)], 0, 1000)).toMatchObject({
      mean: 15,
      min: 10,
      max: 20,
      count: 1,
      covered: 1000,
    });
  });
  it('lets a sample speak only for its hold: the rest is a gap', () => {
    expect(one([good(0, 10)], 0, 10_000)).toMatchObject({ mean: 10, covered: 2500 });
  });
  it('computes nothing ahead of time: a sample that holds into the future counts up to now', () => {
    expect(one([good(0, 10)], 0, 10_000, 1200)).toMatchObject({ mean: 10, covered: 1200 });
  });
  it('ends at a bad sample, and at one that cannot be true', () => {
    expect(one([good(0, 10), bad(400)], 0, 1000)).toMatchObject({ covered: 400, last: 10 });
    const absurd = { t: 400, v: 1e9, q: QUALITY.implausible };
    expect(one([good(0, 10), absurd], 0, 1000)).toMatchObject({ covered: 400, max: 10, mean: 10, count: 1 });
  });
  it('is nothing, not zero, where nothing is known', () => {
    expect(one([bad(0)], 0, 1000)).toMatchObject({ covered: 0, count: 0, mean: NaN });
    expect(one([], 0, 1000)).toMatchObject({ covered: 0, mean: NaN });
  });
  it('keeps what is above and below zero apart', () => {
    const s = rollUp([good(0, 300), good(1000, -100)], {
      start: 0,
      step: 2000,
      length: 1,
      hold,
      until: Infinity,
    });
    expect([s.plus[0], s.minus[0], meanAt(s, 0)]).toEqual([150, 50, 100]);
  });
  it('the largest number that there is makes no infinity', () => {
    const s = rollUp([good(0, 1e308), good(30_000, 1e308)], {
      start: 0,
      step: 60_000,
      length: 1,
      hold: () => 60_000,
      until: Infinity,
    });
    expect(meanAt(s, 0)).toBeCloseTo(1e308, -300);
    expect(coarsen(s, QUARTER).plus[0]).toBe(s.plus[0]);
  });
  it('an interval that changes within a minute holds for the samples that were taken by it', () => {
    // Once a minute until 30 s, once a second from there on; nothing after 40 s.
    const samples = [good(0, 5), ...Array.from({ length: 11 }, (_, i) => good(30_000 + i * 1000, 7))];
    const s = rollUp(samples, {
      start: 0,
      step: 60_000,
      length: 1,
      hold: (t) => (t < 30_000 ? 150_000 : 2500),
      until: Infinity,
    });
    expect(s.covered[0]).toBe(42_500);
    expect(meanAt(s, 0)).toBeCloseTo((5 * 30 + 7 * 12.5) / 42.5, 9);
  });
});

const readings = fc.uniqueArray(
  fc.record({ t: fc.integer({ min: 0, max: 59_999 }), v: fc.double({ min: -1e5, max: 1e5, noNaN: true }) }),
  { selector: (r) => r.t, minLength: 1, maxLength: 80 },
);
/** Nought is nought: the least of −0 and 0 is either. */
const inOrder = (list: { t: number; v: number }[]) =>
  [...list].sort((a, b) => a.t - b.t).map(({ t, v }) => good(t, v + 0));

it('the longer slots out of the shorter ones are those of the whole', () => {
  fc.assert(
    fc.property(readings, (list) => {
      const samples = inOrder(list);
      const plan = { start: 0, hold, until: Infinity };
      const whole = rollUp(samples, { ...plan, step: 60_000, length: 1 });
      const merged = coarsen(rollUp(samples, { ...plan, step: 10_000, length: 6 }), 60_000);
      expect(merged.length).toBe(1);
      for (const column of ['covered', 'count', 'min', 'max', 'last'] as const)
        expect(merged[column][0]).toBe(whole[column][0]);
      expect(Math.abs(meanAt(merged, 0) - meanAt(whole, 0))).toBeLessThan(1e-6);
    }),
  );
});

it('a page gives its slots back, bit by bit', () => {
  fc.assert(
    fc.property(readings, (list) => {
      const slots = rollUp(inOrder(list), { start: 0, step: 1000, length: 60, hold, until: Infinity });
      const { flow, shape } = encodePage(slots);
      expect(decodePage(0, 1000, flow, shape)).toEqual(slots);
      const flowOnly = decodePage(0, 1000, flow, null);
      expect([flowOnly.plus, flowOnly.minus, flowOnly.covered]).toEqual([
        slots.plus,
        slots.minus,
        slots.covered,
      ]);
      expect(() => decodePage(0, 1000, flow.slice(0, 5), shape)).toThrow(PageError);
    }),
  );
});

it('correcting slots is rolling up what is corrected', () => {
  fc.assert(
    fc.property(
      readings,
      fc.constantFrom(-1.5, 0.9, 1.07),
      fc.constantFrom(0, 0, -40, 12_000),
      (list, gain, offset) => {
        const samples = inOrder(list);
        const plan = { start: 0, step: 5000, length: 12, hold, until: Infinity };
        const kept = correctSlots(rollUp(samples, plan), () => ({ gain, offset }));
        const expected = rollUp(
          samples.map((s) => ({ ...s, v: gain * (s.v as number) + offset })),
          plan,
        );
        expect(kept.covered).toEqual(expected.covered);
        for (let i = 0; i < 12; i++) {
          if (expected.covered[i] === 0) continue;
          expect(kept.min[i]).toBeCloseTo(expected.min[i] as number, 6);
          expect(kept.max[i]).toBeCloseTo(expected.max[i] as number, 6);
          expect(kept.last[i]).toBeCloseTo(expected.last[i] as number, 6);
          expect(meanAt(kept, i)).toBeCloseTo(meanAt(expected, i), 6);
          const oneSided = (expected.min[i] as number) >= 0 || (expected.max[i] as number) <= 0;
          if (offset === 0 || oneSided) expect(kept.plus[i]).toBeCloseTo(expected.plus[i] as number, 6);
          expect(kept.plus[i]).toBeGreaterThanOrEqual(0);
          expect(kept.minus[i]).toBeGreaterThanOrEqual(0);
        }
      },
    ),
  );
});

it('what a person says of readings goes before what Loka thinks of them; the latest word counts', () => {
  const absurd = { t: 50, v: 1e9, q: QUALITY.implausible };
  expect(judge(absurd, [])).toBe(absurd);
  expect(judge(absurd, [{ from: 0, to: 100, counts: true }]).q).toBe(QUALITY.uncertain);
  expect(judge(absurd, [{ from: 0, to: 50, counts: true }]).q).toBe(QUALITY.implausible);
  const said = [
    { from: 0, to: 100, counts: true },
    { from: 40, to: 60, counts: false },
  ];
  expect(judge(good(50, 3), said).q).toBe(QUALITY.struckOut);
  expect(judge(good(60, 3), said).q).toBe(QUALITY.good);
});

it('quality fits one byte, whatever a device answers', () => {
  fc.assert(
    fc.property(fc.oneof(fc.integer(), fc.double(), fc.constant(NaN)), (code) => {
      const q = exceptionQuality(code);
      expect(q).toBeGreaterThanOrEqual(0x90);
      expect(q).toBeLessThanOrEqual(0x9f);
    }),
  );
  expect(qualityInWords(exceptionQuality(200))).toBe('bad: exception');
  expect(qualityInWords(exceptionQuality(2))).toBe('bad: exception 2');
});

it('breaks a line where readings are missing and where they are bad', () => {
  const line = breakAtGaps([good(0, 1), good(1000, 2), good(9000, 3), bad(10_000), good(11_000, 4)], hold);
  expect(line.v).toEqual([1, 2, null, 3, null, 4]);
  expect(line.t[2]).toBe(3500);
});
it('what is shown speaks for its hold and a moment more', () => {
  expect([3500, 3501].map((age) => isFresh(10_000, 10_000 + age, 1000))).toEqual([true, false]);
  expect(isFresh(10_000, 9000, 1000)).toBe(true); // a clock that was set back makes nothing old
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
