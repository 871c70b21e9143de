import fc from 'fast-check';
import { applyLine, bendAfter, isIdentity, lineOver, type Line } from './line.js';
import { chainLines } from './pieces.js';
import { rollUp } from './rollup.js';
import { correctSlots } from './slots.js';
import { MINUTE } from './spans.js';

/** From nothing to 5 A at a gain of 1.1, on to 10 A at one of 1.0, by hand. */
const BENT: Line = {
  gain: 1.05,
  offset: 0,
  knots: [
    { raw: 0.1, value: 0 },
    { raw: 5, value: 5.39 },
    { raw: 10, value: 10.39 },
  ],
};

it.each([
  [0.1, 0],
  [2.55, 2.695],
  [5, 5.39],
  [7, 7.39],
  // Beyond the ends as the pieces there go.
  [12, 12.39],
  [0, -0.11],
])('a bent line takes %d to %d', (raw, value) => expect(applyLine(BENT, raw)).toBeCloseTo(value, 12));

it('below its floor nothing flows, to either side', () => {
  const floor = { gain: 2, offset: 0, noLoad: 0.5 };
  expect([0.2, -0.2, 0.25, -0.25, 1].map((raw) => applyLine(floor, raw))).toEqual([0, 0, 0.5, -0.5, 2]);
  expect(isIdentity({ gain: 1, offset: 0, noLoad: 0.1 })).toBe(false);
  expect(isIdentity({ gain: 1, offset: 0, knots: null, noLoad: null })).toBe(true);
});

it('after a transducer that turns and scales, it is what both come to one after the other', () => {
  for (const first of [
    { gain: 20, offset: 0.3 },
    { gain: -20, offset: 0.3 },
  ]) {
    const knots = bendAfter(first, BENT);
    const [both] = chainLines([{ validFrom: 0, ...first }], [{ validFrom: 0, ...BENT, noLoad: 0.02 }]);
    expect([...(knots ?? [])].sort((a, b) => a.raw - b.raw)).toEqual(knots);
    for (const raw of [-0.6, -0.2, 0.001, 0.1, 0.3, 0.7])
      expect(applyLine(both as Line, raw)).toBeCloseTo(
        applyLine({ ...BENT, noLoad: 0.02 }, applyLine(first, raw)),
        9,
      );
  }
});

const samplesOf = (values: readonly number[]) => values.map((v, i) => ({ t: i * 5000, v, q: 0 }));
const slotOf = (values: readonly number[]) =>
  rollUp(samplesOf(values), { start: 0, step: MINUTE, length: 1, hold: () => MINUTE, until: MINUTE });
/** Each holds for five seconds, the last one until the minute ends. */
const meanOf = (values: readonly number[]) =>
  values.reduce((sum, v, i) => sum + v * (i < values.length - 1 ? 5 : 65 - 5 * values.length), 0) / 60;
const current = fc.double({ min: 0, max: 14, noNaN: true, noDefaultInfinity: true });

it('of a minute that only comes and goes, or stays on one piece, the mean is exact', () => {
  const exact = (values: number[]) => {
    const slots = correctSlots(slotOf(values), () => BENT);
    const mean = (slots.plus[0] as number) - (slots.minus[0] as number);
    expect(mean).toBeCloseTo(meanOf(values.map((v) => applyLine(BENT, v))), 9);
  };
  fc.assert(
    fc.property(current, current, fc.array(fc.boolean(), { minLength: 2, maxLength: 12 }), (off, on, when) =>
      exact(when.map((w) => (w ? on : off))),
    ),
  );
  const piece = fc.double({ min: 5, max: 10, noNaN: true });
  fc.assert(fc.property(fc.array(piece, { minLength: 1, maxLength: 12 }), exact));
});

it('else it is off by no more than the bend is high over what was read', () => {
  fc.assert(
    fc.property(fc.array(current, { minLength: 2, maxLength: 12 }), (values) => {
      const [least, most] = [Math.min(...values), Math.max(...values)];
      const slots = correctSlots(slotOf(values), () => BENT);
      const mean = (slots.plus[0] as number) - (slots.minus[0] as number);
      const straight = lineOver(BENT, least, most);
      const high = Math.max(
        ...[least, most, 5]
          .filter((v) => v >= least && v <= most)
          .map((v) => Math.abs(applyLine(BENT, v) - applyLine(straight, v))),
      );
      expect(Math.abs(mean - meanOf(values.map((v) => applyLine(BENT, v))))).toBeLessThanOrEqual(high + 1e-9);
      expect(slots.min[0]).toBeCloseTo(applyLine(BENT, least), 9);
      expect(slots.max[0]).toBeCloseTo(applyLine(BENT, most), 9);
    }),
  );
});
