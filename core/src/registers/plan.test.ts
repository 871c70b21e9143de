import fc from 'fast-check';
import { planReads, type PlanLimits } from './plan.js';
import type { Span } from './definition.js';

const same = (span: Span) => span;
const spans = (...starts: [number, number][]): Span[] =>
  starts.map(([start, count]) => ({ kind: 'holding', start, count }));

it('joins neighbours into one request', () => {
  expect(planReads(spans([2, 2], [0, 2], [4, 2]), same)).toMatchObject([{ start: 0, count: 6 }]);
});
it('never reads more than 125 words, nor splits a value (Modbus V1.1b3, 6.3)', () => {
  const plan = planReads(spans(...Array.from({ length: 100 }, (_, i): [number, number] => [i * 2, 2])), same);
  expect(plan.map((r) => r.count)).toEqual([124, 76]);
});
it('keeps the kinds apart', () => {
  expect(
    planReads<Span>(
      [
        { kind: 'coil', start: 0, count: 1 },
        { kind: 'input', start: 0, count: 1 },
      ],
      same,
    ),
  ).toHaveLength(2);
});

/** The fewest requests there can be, by trying every way to cut the sorted list. */
function bruteForce(list: Span[], limits: PlanLimits): number {
  const sorted = [...list].sort((a, b) => a.start - b.start);
  const best = new Array<number>(sorted.length + 1).fill(Infinity);
  best[0] = 0;
  for (let from = 0; from < sorted.length; from++)
    for (let to = from; to < sorted.length; to++) {
      const part = sorted.slice(from, to + 1);
      const start = part[0]!.start;
      const length = Math.max(...part.map((s) => s.start + s.count)) - start;
      const gaps = part
        .slice(1)
        .map((s, i) => s.start - Math.max(...part.slice(0, i + 1).map((p) => p.start + p.count)));
      if (length <= limits.maxWords && gaps.every((gap) => gap <= limits.maxGap))
        best[to + 1] = Math.min(best[to + 1]!, best[from]! + 1);
    }
  return best[sorted.length]!;
}

it('needs no more requests than the best plan there is', () => {
  const limits = { maxGap: 3, maxWords: 12, maxBits: 50 };
  const span = fc.record({
    kind: fc.constant('holding' as const),
    start: fc.integer({ min: 0, max: 60 }),
    count: fc.constantFrom(1, 2, 4),
  });
  fc.assert(
    fc.property(fc.uniqueArray(span, { minLength: 1, maxLength: 12, selector: (s) => s.start }), (list) => {
      const plan = planReads(list, same, limits);
      expect(plan.length).toBe(bruteForce(list, limits));
      expect(plan.flatMap((r) => r.items)).toHaveLength(list.length);
      for (const request of plan) {
        expect(request.count).toBeLessThanOrEqual(limits.maxWords);
        for (const item of request.items) {
          expect(item.start).toBeGreaterThanOrEqual(request.start);
          expect(item.start + item.count).toBeLessThanOrEqual(request.start + request.count);
        }
      }
    }),
    { numRuns: 200 },
  );
});
