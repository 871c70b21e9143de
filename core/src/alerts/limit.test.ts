import { QUALITY } from '../series/index.js';
import { acknowledge, QUIET, stepLimitAlert, type AlertState, type LimitCondition } from './limit.js';

const above: LimitCondition = {
  direction: 'above',
  limit: 100,
  deadband: 10,
  onDelayMs: 3000,
  offDelayMs: 2000,
};

/** Runs readings one second apart; null is a bad one. Gives the events with their second. */
function run(condition: LimitCondition, values: (number | null)[], state: AlertState = QUIET) {
  const events: string[] = [];
  values.forEach((v, second) => {
    const step = stepLimitAlert(condition, state, { t: second * 1000, v, q: v === null ? 0x81 : 0 });
    state = step.state;
    if (step.event) events.push(`${step.event}@${second}`);
  });
  return { events, state };
}

it('waits for the on-delay', () => {
  expect(run(above, [101, 101, 101]).events).toEqual([]);
  expect(run(above, [101, 101, 101, 101]).events).toEqual(['raised@3']);
  expect(run(above, [101, 101, 99, 101, 101, 101]).events).toEqual([]);
});
it('returns only below the deadband, after the off-delay', () => {
  expect(run(above, [101, 101, 101, 101, 95, 95, 95, 95]).events).toEqual(['raised@3']);
  expect(run(above, [101, 101, 101, 101, 90, 90, 90]).events).toEqual(['raised@3', 'returned@6']);
});
it('the limit itself is not beyond', () => expect(run({ ...above, onDelayMs: 0 }, [100]).events).toEqual([]));
it('works below a limit', () => {
  const below: LimitCondition = { direction: 'below', limit: 207, deadband: 2, onDelayMs: 0, offDelayMs: 0 };
  expect(run(below, [208, 206, 208, 209]).events).toEqual(['raised@1', 'returned@3']);
});
it('a bad reading neither raises nor ends, and restarts the delay', () => {
  expect(run(above, [101, 101, null, 101, 101, 101, 101]).events).toEqual(['raised@6']);
  expect(run(above, [101, 101, 101, 101, null, null, null]).state.phase).toBe('unacknowledged');
});
it('goes through the states of IEC 62682', () => {
  const raised = run(above, [101, 101, 101, 101]).state;
  expect(raised.phase).toBe('unacknowledged');
  expect(acknowledge(raised).phase).toBe('acknowledged');
  expect(run(above, [80, 80, 80], acknowledge(raised)).state.phase).toBe('normal');
  const returned = run(above, [80, 80, 80], raised).state;
  expect(returned.phase).toBe('returned-unacknowledged');
  expect(acknowledge(returned).phase).toBe('normal');
});

it('at the end of its sensor’s range it is at least so much: above any limit, in its own direction', () => {
  const now: LimitCondition = { ...above, onDelayMs: 0, offDelayMs: 0 };
  const below: LimitCondition = { ...now, direction: 'below', limit: 500 };
  const saturated = (condition: LimitCondition, state: AlertState, v: number) =>
    stepLimitAlert(condition, state, { t: 0, v, q: QUALITY.saturated }).event;
  expect(saturated(now, QUIET, 45)).toBe('raised');
  expect(saturated(now, QUIET, -45)).toBeNull();
  expect(saturated(below, QUIET, 45)).toBeNull();
  expect(saturated(now, { phase: 'unacknowledged', pendingSince: null }, 45)).toBeNull();
});

it('a value that is uncertain, cannot be true, or is bad neither raises an alert nor ends one', () => {
  const now: LimitCondition = { ...above, onDelayMs: 0, offDelayMs: 0 };
  for (const q of [0x40, 0x41, 0x44, 0x81]) {
    expect(stepLimitAlert(now, QUIET, { t: 0, v: 500, q })).toEqual({ state: QUIET, event: null });
    const active: AlertState = { phase: 'unacknowledged', pendingSince: null };
    expect(stepLimitAlert(now, active, { t: 0, v: 5, q })).toEqual({ state: active, event: null });
  }
  expect(stepLimitAlert(now, QUIET, { t: 0, v: 500, q: 0 }).event).toBe('raised');
});
