import fc from 'fast-check';
import {
  acknowledge,
  isActive,
  QUIET,
  stepLimitAlert,
  type AlertEvent,
  type LimitCondition,
} from './limit.js';

const condition: fc.Arbitrary<LimitCondition> = fc.record({
  direction: fc.constantFrom('above', 'below'),
  limit: fc.integer({ min: -50, max: 50 }),
  deadband: fc.integer({ min: 0, max: 20 }),
  onDelayMs: fc.integer({ min: 0, max: 5000 }),
  offDelayMs: fc.integer({ min: 0, max: 5000 }),
});
/** Readings with the milliseconds since the one before; a null is a bad one; sometimes a person acknowledges. */
const happenings = fc.array(
  fc.record({
    gap: fc.integer({ min: 1, max: 3000 }),
    v: fc.option(fc.integer({ min: -100, max: 100 }), { freq: 8 }),
    seen: fc.boolean(),
  }),
  { maxLength: 60 },
);

it('whatever is read: raised and returned alternate, never sooner than their delays, and only on good readings', () => {
  fc.assert(
    fc.property(condition, happenings, (limit, list) => {
      let state = QUIET;
      let t = 0;
      let last: AlertEvent = 'returned';
      let sinceGood = 0;
      for (const { gap, v, seen } of list) {
        t += gap;
        const step = stepLimitAlert(limit, state, { t, v, q: v === null ? 0x81 : 0 });
        if (v === null) sinceGood = t;
        if (step.event) {
          expect(v).not.toBeNull();
          expect(step.event).not.toBe(last);
          const beyond =
            limit.direction === 'above' ? (v as number) > limit.limit : (v as number) < limit.limit;
          expect(beyond).toBe(step.event === 'raised');
          // A delay cannot have run over a time in which nothing was known.
          expect(t - sinceGood).toBeGreaterThanOrEqual(
            step.event === 'raised' ? limit.onDelayMs : limit.offDelayMs,
          );
          last = step.event;
        }
        state = step.state;
        expect(isActive(state.phase)).toBe(last === 'raised');
        if (seen) {
          state = acknowledge(state);
          expect(['normal', 'acknowledged']).toContain(state.phase);
          expect(isActive(state.phase)).toBe(last === 'raised');
        }
      }
    }),
  );
});
