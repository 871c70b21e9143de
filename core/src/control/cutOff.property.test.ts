import fc from 'fast-check';
import { ARMED, stepCutOff, type CutOffRule, type CutOffState } from './cutOff.js';

const POLL = 1000;

const rule: fc.Arbitrary<CutOffRule> = fc.record({
  limit: fc.integer({ min: 1, max: 50 }),
  delayMs: fc.integer({ min: 0, max: 12 }).map((n) => n * 500),
  ignoreAfterOnMs: fc.integer({ min: 0, max: 6000 }),
  magnitude: fc.boolean(),
  holdMs: fc.constant(2500),
  blindAfterMs: fc.integer({ min: 20_000, max: 60_000 }),
  openWhenBlind: fc.boolean(),
});

/** What becomes of a poll: it comes, it is lost, or it cannot be true. */
const poll = fc.record({
  fate: fc.constantFrom('comes', 'comes', 'lost', 'absurd'),
  late: fc.integer({ min: 0, max: 200 }),
  excess: fc.double({ min: 0.01, max: 100, noNaN: true }),
});

interface Polled {
  fate: string;
  late: number;
  excess: number;
}

/** Polls once a second, looks ten times as often, as the server does. @returns when it tripped, ms, and what it said at each look */
function watch(r: CutOffRule, polls: readonly Polled[], valueOf: (p: Polled) => number) {
  let state: CutOffState = ARMED;
  const due = polls.map((p, i) => ({ at: i * POLL + p.late, p }));
  const said: string[] = [];
  for (let now = 0; now <= polls.length * POLL; now += 100) {
    const inputs = due.filter((d) => d.at >= now && d.at < now + 100);
    for (const { at, p } of [...inputs, { at: now + 99, p: null }]) {
      const reading =
        p === null
          ? null
          : p.fate === 'comes'
            ? { t: at, v: valueOf(p), q: 0 }
            : p.fate === 'lost'
              ? { t: at, v: null, q: 0x81 }
              : { t: at, v: 1e9, q: 0x41 };
      const step = stepCutOff(r, state, { now: at, t: at, reading, closed: true });
      state = step.state;
      if (step.decision.action === 'trip') return { trippedAt: at, value: step.decision.value, said };
      said.push(step.decision.because);
    }
  }
  return { trippedAt: null, value: null, said };
}

const longestRun = (polls: readonly Polled[]) =>
  polls.reduce(
    ({ run, most }, p) =>
      p.fate === 'comes' ? { run: 0, most } : { run: run + 1, most: Math.max(most, run + 1) },
    { run: 0, most: 0 },
  ).most;

it('with the true value above the limit it has tripped after its delay and the longest run of losses and two polls', () => {
  fc.assert(
    fc.property(
      rule,
      fc.array(poll, { minLength: 40, maxLength: 60 }),
      fc.boolean(),
      (r, polls, reversed) => {
        const lost = longestRun(polls);
        fc.pre(lost * POLL + POLL < r.blindAfterMs);
        const sign = reversed && r.magnitude ? -1 : 1;
        const { trippedAt } = watch(r, polls, (p) => sign * (r.limit + p.excess));
        // The surge is not looked at: the excess is seen from its end on.
        const latest = r.ignoreAfterOnMs + r.delayMs + (lost + 2) * POLL + 200;
        fc.pre(latest < polls.length * POLL);
        expect(trippedAt).not.toBeNull();
        expect(trippedAt as number).toBeLessThanOrEqual(latest);
        expect(trippedAt as number).toBeGreaterThanOrEqual(r.ignoreAfterOnMs + r.delayMs);
      },
    ),
    { numRuns: 500 },
  );
});

it('with the true value at or below the limit throughout it never trips for it', () => {
  fc.assert(
    fc.property(rule, fc.array(poll, { maxLength: 60 }), (r, polls) => {
      const { trippedAt, value } = watch(r, polls, (p) => Math.max(0, r.limit - p.excess + 0.01));
      // Nothing read for longer than allowed opens it where that was asked for, and says that it saw nothing.
      if (trippedAt !== null) expect([r.openWhenBlind, value]).toEqual([true, null]);
    }),
    { numRuns: 500 },
  );
});

it('of random readings: never in the surge, never before the delay, and it stays tripped', () => {
  const input = fc.record({
    gap: fc.integer({ min: 1, max: 2000 }),
    v: fc.option(fc.integer({ min: 0, max: 100 }), { freq: 10 }),
    closed: fc.option(fc.boolean(), { freq: 10 }),
  });
  fc.assert(
    fc.property(rule, fc.array(input, { maxLength: 80 }), (r, list) => {
      let state: CutOffState = ARMED;
      let t = 0;
      let closedAt: number | null = null;
      let overAt: number | null = null;
      for (const { gap, v, closed } of list) {
        t += gap;
        const before = state;
        const { state: next, decision } = stepCutOff(r, state, {
          now: t,
          t,
          reading: { t, v, q: v === null ? 0x81 : 0 },
          closed,
        });
        state = next;
        if (before.tripped) {
          expect(next).toEqual(before);
          expect(decision).toEqual({ action: 'none', because: 'locked-out' });
          continue;
        }
        // The same facts, kept apart from the code under test.
        closedAt = closed === false ? null : (closedAt ?? t);
        const past = closedAt !== null && t - closedAt >= r.ignoreAfterOnMs;
        if (closed === false) overAt = null;
        else if (v !== null) overAt = past && v > r.limit ? (overAt ?? t) : null;
        const over = overAt !== null && t - overAt >= r.delayMs;
        if (decision.action === 'trip' && decision.value === null) expect(r.openWhenBlind).toBe(true);
        else expect(decision.action === 'trip').toBe(over);
      }
    }),
    { numRuns: 1000 },
  );
});
