import fc from 'fast-check';
import { ARMED, stepCutOff, type CutOffRule } from './cutOff.js';

const rule: fc.Arbitrary<CutOffRule> = fc.record({
  limit: fc.integer({ min: 1, max: 50 }),
  delayMs: fc.integer({ min: 0, max: 4000 }),
  ignoreAfterOnMs: fc.integer({ min: 0, max: 6000 }),
});
const input = fc.record({
  gap: fc.integer({ min: 1, max: 2000 }),
  v: fc.option(fc.integer({ min: 0, max: 100 }), { freq: 10 }),
  closed: fc.option(fc.boolean(), { freq: 10 }),
});

it('whatever is read: it never trips in the surge, never below the limit, never before the delay, and stays tripped', () => {
  fc.assert(
    fc.property(rule, fc.array(input, { maxLength: 80 }), (r, list) => {
      let state = ARMED;
      let t = 0;
      let closedAt: number | null = null;
      let overAt: number | null = null;
      for (const { gap, v, closed } of list) {
        t += gap;
        const before = state;
        const { state: next, decision } = stepCutOff(r, state, { t, v, q: v === null ? 0x81 : 0, closed });
        if (before.tripped) {
          expect(next.tripped).toEqual(before.tripped);
          expect(decision).toEqual({ action: 'none', because: 'locked-out' });
          continue;
        }
        // The same facts, kept apart from the code under test.
        closedAt = closed === false ? null : (closedAt ?? t);
        const past = closedAt !== null && t - closedAt >= r.ignoreAfterOnMs;
        overAt = past && v !== null && v > r.limit ? (overAt ?? t) : null;
        expect(decision.action === 'trip').toBe(overAt !== null && t - overAt >= r.delayMs);
        if (decision.action === 'trip') expect(next.tripped).toEqual({ at: t, value: v });
        state = next;
      }
    }),
    { numRuns: 500 },
  );
});
