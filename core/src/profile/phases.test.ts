import fc from 'fast-check';
import { emptySpans, phasesOf, type PowerSpans } from './index.js';

const MINUTE = 60_000;
const power = (watts: number[]): PowerSpans => {
  const spans = emptySpans(0, MINUTE, watts.length);
  spans.mean.set(watts);
  return spans;
};
const always = (watts: number, n = 20) => power(Array.from({ length: n }, () => watts));

it('the neutral by hand', () => {
  // One line alone: all of it comes back in the neutral. Three alike: nothing does.
  expect(phasesOf([always(2300), always(0), always(0)], [], 230)?.now).toMatchObject({
    neutralMean: 10,
    neutralP95: 10,
    busiest: 2300,
  });
  expect(phasesOf([always(700), always(700), always(700)], [], 230)?.now.neutralMean).toBe(0);
  // Two of 10 A a third of a turn apart leave 10 A.
  expect(phasesOf([always(2300), always(2300), always(0)], [], 230)?.now.neutralMean).toBeCloseTo(10, 9);
  // What one gives and another takes lie 60° apart: 10 A and 10 A make √3 of it.
  expect(phasesOf([always(2300), always(-2300), always(0)], [], 230)?.now.neutralMean).toBeCloseTo(
    10 * Math.sqrt(3),
    9,
  );
});

it('the neutral is the sum of three phasors, whatever they are', () =>
  fc.assert(
    fc.property(fc.tuple(...[0, 1, 2].map(() => fc.integer({ min: -20_000, max: 20_000 }))), (watts) => {
      const got = phasesOf(
        [always(watts[0] as number), always(watts[1] as number), always(watts[2] as number)],
        [],
        230,
      );
      const sum = (of: (a: number) => number) =>
        watts.reduce((s, w, k) => s + (w / 230) * of((-k * 2 * Math.PI) / 3), 0);
      expect(got?.now.neutralMean).toBeCloseTo(Math.hypot(sum(Math.cos), sum(Math.sin)), 6);
    }),
  ));

it('the best move evens the lines out', () => {
  // L1 carries two circuits of 1150 W, L2 one, L3 nothing.
  const circuits = [
    { line: 0, power: always(1150) },
    { line: 0, power: always(1150) },
    { line: 1, power: always(1150) },
  ];
  const got = phasesOf([always(2300), always(1150), always(0)], circuits, 230);
  // √(10² + 5² − 50) = 8.66 A now, nothing after one from L1 to L3.
  expect(got?.now.neutralMean).toBeCloseTo(8.66, 2);
  expect(got?.moves[0]).toMatchObject({ circuit: 0, from: 0, to: 2, neutralMean: 0, busiest: 1150 });
  expect(got?.moves[1]).toMatchObject({ circuit: 1, from: 0, to: 2 });
  expect(phasesOf([always(1150), always(1150), always(1150)], circuits.slice(1), 230)?.moves).toEqual([]);
});

it('figures of a line, with the instant of the highest', () => {
  const watts = Array.from({ length: 101 }, (_, i) => i * 10);
  const got = phasesOf([power(watts), always(0, 101), always(0, 101)], [], 230);
  // numpy.percentile(range(0, 1010, 10), 95) is 950.
  expect(got?.lines[0]).toEqual({ mean: 500, p95: 950, highest: { watts: 1000, at: 100 * MINUTE } });
});

it('only where all three are known, and nothing where they never are', () => {
  const gap = power([100, NaN, 300]);
  expect(phasesOf([gap, always(0, 3), always(0, 3)], [], 230)).toMatchObject({
    known: 2 * MINUTE,
    lines: [{ mean: 200 }, {}, {}],
  });
  expect(phasesOf([always(NaN, 3), always(0, 3), always(0, 3)], [], 230)).toBeNull();
});
