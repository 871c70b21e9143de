import fc from 'fast-check';
import { coincidenceOf, emptySpans, type PowerSpans } from './index.js';

const MINUTE = 60_000;
const QUARTER = 15 * MINUTE;
/** An hour by the minute. */
function hour(watts: (minute: number) => number): PowerSpans {
  const spans = emptySpans(0, MINUTE, 60);
  for (let i = 0; i < 60; i++) spans.mean[i] = watts(i);
  return spans;
}

// By hand.
it('two loads that never run at once, and two that always do', () => {
  const [a, b] = [hour((m) => (m < 15 ? 1000 : 0)), hour((m) => (m >= 30 && m < 45 ? 3000 : 0))];
  expect(coincidenceOf([a, b], QUARTER)).toEqual({
    loads: 2,
    together: { watts: 3000, at: 30 * MINUTE },
    apart: 4000,
    factor: 0.75,
  });
  expect(coincidenceOf([a, a], QUARTER)?.factor).toBe(1);
});

it('only where all are known, and nothing of one load or of none', () => {
  const a = hour((m) => (m < 15 ? 9000 : 1000));
  const b = hour((m) => (m < 15 ? NaN : 1000));
  expect(coincidenceOf([a, b], QUARTER)).toMatchObject({ together: { watts: 2000 }, apart: 2000 });
  expect(coincidenceOf([a], QUARTER)).toBeNull();
  expect(coincidenceOf([], QUARTER)).toBeNull();
  expect(coincidenceOf([a, hour(() => NaN)], QUARTER)).toBeNull();
  expect(coincidenceOf([hour(() => 0), hour(() => 0)], QUARTER)).toBeNull();
});

it('never above one, nor below the highest of one load alone, for what only takes', () => {
  fc.assert(
    fc.property(
      fc.array(fc.array(fc.integer({ min: 0, max: 5000 }), { minLength: 4, maxLength: 4 }), {
        minLength: 2,
        maxLength: 6,
      }),
      (all) => {
        const loads = all.map((quarters) => hour((m) => quarters[Math.floor(m / 15)] as number));
        const found = coincidenceOf(loads, QUARTER);
        const highest = all.map((q) => Math.max(...q));
        if (Math.max(...highest) === 0) return expect(found).toBeNull();
        expect(found?.factor).toBeLessThanOrEqual(1 + 1e-9);
        expect((found?.factor ?? 0) * highest.reduce((a, b) => a + b, 0)).toBeGreaterThanOrEqual(
          Math.max(...highest) - 1e-6,
        );
      },
    ),
  );
});
