import { ARMED, restoreCutOff, stepCutOff, type CutOffRule, type CutOffState } from './cutOff.js';
import { commandEnd, switchAgreement } from './switchState.js';

const rule: CutOffRule = { limit: 10, delayMs: 1000, ignoreAfterOnMs: 5000 };

/** Readings half a second apart, [value, contact closed]; gives the decisions in short. */
function run(inputs: [number | null, boolean | null][], state: CutOffState = ARMED) {
  const log = inputs.map(([v, closed], i) => {
    const step = stepCutOff(rule, state, { t: i * 500, v, q: v === null ? 0x81 : 0, closed });
    state = step.state;
    return step.decision.action === 'trip' ? 'trip' : step.decision.because;
  });
  return { log, state };
}
const times = <T>(n: number, value: T): T[] => Array.from({ length: n }, () => value);

it('ignores the surge of the first five seconds (trade)', () => {
  const { log } = run([
    ...times(10, [60, true] as [number, boolean]),
    ...times(10, [5, true] as [number, boolean]),
  ]);
  expect(log.slice(0, 10)).toEqual(times(10, 'inrush'));
  expect(log).not.toContain('trip');
});
it('trips when the reading stays above for the delay, and locks out', () => {
  const { log, state } = run([
    ...times(11, [5, true] as [number, boolean]),
    ...times(5, [12, true] as [number, boolean]),
  ]);
  expect(log.slice(10)).toEqual(['below', 'waiting', 'waiting', 'trip', 'locked-out', 'locked-out']);
  expect(state.tripped).toEqual({ at: 13 * 500, value: 12 });
});
it('a short excess does not trip', () => {
  const { log } = run([
    ...times(11, [5, true] as [number, boolean]),
    [12, true],
    [5, true],
    [12, true],
    [5, true],
  ]);
  expect(log).not.toContain('trip');
});
it('ignores the surge again after each switching on', () => {
  const { log } = run([
    ...times(11, [5, true] as [number, boolean]),
    [0, false],
    ...times(4, [60, true] as [number, boolean]),
  ]);
  expect(log.slice(11)).toEqual(['open', 'inrush', 'inrush', 'inrush', 'inrush']);
});
it('is blind without a reading and says so; an unknown contact still protects', () => {
  expect(run([[null, true]]).log).toEqual(['blind']);
  expect(
    run([...times(11, [5, null] as [number, null]), ...times(3, [12, null] as [number, null])]).log.at(-1),
  ).toBe('trip');
});
it('after restoring it protects anew', () => {
  expect(run([[12, true]], restoreCutOff()).log).toEqual(['inrush']);
});

describe('commanded and read-back state', () => {
  it.each([
    [true, 0, true, 100, 'agrees'],
    [true, 0, false, 100, 'waiting'],
    [true, 0, false, 5000, 'mismatch'],
    [true, 0, null, 100, 'waiting'],
    [true, 0, null, 5000, 'unknown'],
    [null, null, true, 100, 'agrees'],
    [null, null, null, 100, 'unknown'],
  ] as const)(
    'commanded %s at %s, reads %s after %i ms: %s',
    (commanded, commandedAt, readBack, now, expected) => {
      expect(switchAgreement({ commanded, commandedAt, readBack }, now, 3000)).toBe(expected);
    },
  );
});

describe('how a command ends', () => {
  const sent = { closed: true, commandedAt: 10_000 };
  it.each([
    ['a state read before it was sent confirms nothing', true, 9999, 10_500, null],
    ['nor does it when the time is up', true, 9999, 13_000, 'mismatch'],
    ['a state read after it does', true, 10_000, 10_500, 'confirmed'],
    ['another state waits', false, 10_200, 10_500, null],
    ['until the time is up', false, 10_200, 13_000, 'mismatch'],
    ['a state that is not known is none', null, 10_200, 13_000, 'mismatch'],
  ] as const)('%s', (_what, readBack, readBackAt, now, expected) => {
    expect(commandEnd(sent, { readBack, readBackAt }, now, 3000)).toBe(expected);
  });
});

it('what cannot be true, or is bad, neither trips nor calms', () => {
  const at = (t: number, v: number, q: number, state: CutOffState) =>
    stepCutOff(rule, state, { t, v, q, closed: true });
  const armed = run(times(12, [5, true] as [number, boolean])).state;
  for (const q of [0x41, 0x81]) {
    const { state, decision } = at(60_000, 99, q, armed);
    expect(decision).toEqual({ action: 'none', because: 'blind' });
    expect(at(61_500, 99, q, state).decision).toEqual({ action: 'none', because: 'blind' });
  }
  // An uncertain value protects all the same.
  const over = at(60_000, 99, 0x40, armed);
  expect(at(61_500, 99, 0x40, over.state).decision).toEqual({ action: 'trip', value: 99 });
});
