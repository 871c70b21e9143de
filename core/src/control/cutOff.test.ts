import { QUALITY } from '../series/index.js';
import {
  ARMED,
  restoreCutOff,
  sameDecision,
  stepCutOff,
  type CutOffDecision,
  type CutOffRule,
  type CutOffState,
} from './cutOff.js';

const rule: CutOffRule = {
  limit: 10,
  delayMs: 1000,
  ignoreAfterOnMs: 5000,
  magnitude: false,
  holdMs: 1250,
  blindAfterMs: 30_000,
  openWhenBlind: false,
};

interface Read {
  v: number | null;
  q?: number;
  closed?: boolean | null;
}

/** Looks at readings half a second apart, then at nothing for a while; gives the decisions in short. */
function run(reads: (Read | null)[], state: CutOffState = ARMED, from = 0, of: CutOffRule = rule) {
  const decisions: CutOffDecision[] = [];
  const log = reads.map((read, i) => {
    const t = from + i * 500;
    const reading = read && { t: 1e12 + t, v: read.v, q: read.q ?? (read.v === null ? 0x81 : 0) };
    const step = stepCutOff(of, state, {
      now: t,
      t: 1e12 + t,
      reading,
      closed: read?.closed === undefined ? true : read.closed,
    });
    state = step.state;
    decisions.push(step.decision);
    return step.decision.action === 'trip' ? 'trip' : step.decision.because;
  });
  return { log, state, decisions };
}
const times = <T>(n: number, value: T): T[] => Array.from({ length: n }, () => value);
const settled = () => run(times(11, { v: 5 })).state;

it('ignores the surge of the first five seconds (trade)', () => {
  const { log } = run([...times(10, { v: 60 }), ...times(10, { v: 5 })]);
  expect(log.slice(0, 10)).toEqual(times(10, 'inrush'));
  expect(log).not.toContain('trip');
});
it('trips when the reading stays above for the delay, and locks out; says when that reading was', () => {
  const { log, state } = run([...times(11, { v: 5 }), ...times(5, { v: 12 })]);
  expect(log.slice(10)).toEqual(['below', 'waiting', 'waiting', 'trip', 'locked-out', 'locked-out']);
  expect(state.tripped).toEqual({ at: 1e12 + 13 * 500, value: 12 });
});
it('a short excess does not trip, and the next one waits anew', () => {
  const { log } = run([...times(11, { v: 5 }), { v: 12 }, { v: 5 }, { v: 12 }, { v: 12 }, { v: 5 }]);
  expect(log).not.toContain('trip');
});
it('at the limit is not above it', () =>
  expect(run(times(9, { v: 10 }), settled(), 5500).log).toEqual(times(9, 'below')));
it('ignores the surge again after each switching on', () => {
  const { log } = run([...times(11, { v: 5 }), { v: 0, closed: false }, ...times(4, { v: 60 })]);
  expect(log.slice(11)).toEqual(['open', ...times(4, 'inrush')]);
});
it('an unknown contact still protects', () =>
  expect(run([...times(11, { v: 5, closed: null }), ...times(3, { v: 12, closed: null })]).log.at(-1)).toBe(
    'trip',
  ));
it('after restoring it protects anew', () =>
  expect(run([{ v: 12 }], restoreCutOff()).log).toEqual(['inrush']));

describe('losses', () => {
  it('every third reading lost, 99 A over a limit of 50 A: it trips in its time (ten seconds)', () => {
    const of = { ...rule, limit: 50, delayMs: 10_000, ignoreAfterOnMs: 0 };
    const reads = times(40, null).map((_, i) => ({ v: i % 3 === 2 ? null : 99 }));
    expect(run(reads, ARMED, 0, of).log.indexOf('trip')).toBe(20);
  });
  it('a delay of a multiple of the interval is no poll longer, also where the readings come a little late', () => {
    const of = { ...rule, ignoreAfterOnMs: 0 };
    let state: CutOffState = ARMED;
    const step = (now: number, v: number | null) => {
      const reading = v === null ? null : { t: now, v, q: 0 };
      const next = stepCutOff(of, state, { now, t: now, reading, closed: true });
      state = next.state;
      return next.decision.action;
    };
    // The second is read a moment early, the third would come at 1.01 s.
    expect([step(3, 12), step(499, 12), step(1002, null), step(1003, null)]).toEqual([
      'none',
      'none',
      'none',
      'trip',
    ]);
  });
  it('the delay goes on while nothing is read, and nothing but a reading that is not above ends it', () => {
    expect(run([{ v: 12 }, { v: null }, null], settled(), 5500).log).toEqual(['waiting', 'waiting', 'trip']);
    expect(run([{ v: 12 }, null, { v: 9 }, null], settled(), 5500).log).toEqual([
      'waiting',
      'waiting',
      'below',
      'below',
    ]);
    expect(run([{ v: 12 }], settled(), 5500, { ...rule, delayMs: 0 }).log).toEqual(['trip']);
  });
  it('what cannot be true, or is bad, neither trips nor calms, and is said', () => {
    expect(run([{ v: 99, q: 0x41 }, null, { v: null }, null], settled(), 5500).log).toEqual([
      'implausible',
      'implausible',
      'blind',
      'blind',
    ]);
    const { log } = run([{ v: 12 }, { v: 0, q: 0x41 }, { v: 12 }], settled(), 5500);
    expect(log).toEqual(['waiting', 'waiting', 'trip']);
  });
  it('an uncertain value protects all the same, and one at the end of its range is above', () => {
    expect(run(times(3, { v: 99, q: 0x40 }), settled(), 5500).log.at(-1)).toBe('trip');
    expect(run(times(3, { v: 9, q: 0x45 }), settled(), 5500).log.at(-1)).toBe('trip');
    expect(run(times(3, { v: 9, q: 0x40 }), settled(), 5500).log.at(-1)).toBe('below');
  });
});

describe('direction', () => {
  it('a reversed clamp does not disarm where only how large it is counts', () => {
    const reads = times(3, { v: -12 });
    const { log, state } = run(reads, settled(), 5500, { ...rule, magnitude: true });
    expect(log.at(-1)).toBe('trip');
    expect(state.tripped?.value).toBe(12);
    expect(run(reads, settled(), 5500).log.at(-1)).toBe('below');
  });
  it('at the end of its range it is above in its own direction alone', () => {
    const reads = (v: number) => times(3, { v, q: QUALITY.saturated });
    expect(run(reads(8), settled(), 5500).log.at(-1)).toBe('trip');
    // What flows out, from a plant on the roof, say.
    expect(run(reads(-8), settled(), 5500).log.at(-1)).toBe('below');
    expect(run(reads(-8), settled(), 5500, { ...rule, magnitude: true }).log.at(-1)).toBe('trip');
  });
});

describe('blind', () => {
  const dark = (n: number) => times<Read | null>(n, null);
  it('is said when the last reading stands no more, and said to be long after the time that is allowed', () => {
    const { log, decisions } = run(dark(70), settled(), 5500);
    // The last reading was half a second before the first look; it stands for 1.25 s.
    expect(log.slice(0, 3)).toEqual(['below', 'below', 'blind']);
    expect(decisions[59]).toEqual({ action: 'none', because: 'blind', long: false });
    expect(decisions[60]).toEqual({ action: 'none', because: 'blind', long: true });
  });
  it('opens where so configured, without a value, and not while the contact is open', () => {
    const of = { ...rule, openWhenBlind: true };
    const { log, state } = run(dark(62), settled(), 5500, of);
    expect(log.indexOf('trip')).toBe(60);
    expect(state.tripped).toEqual({ at: 1e12 + 5500 + 60 * 500, value: null });
    const open = times<Read>(100, { v: null, closed: false });
    expect(run(open, settled(), 5500, of).log).toEqual(times(100, 'open'));
  });
  it('what was above before a long blindness counts no more', () => {
    const of = { ...rule, delayMs: 40_000 };
    const over = run([{ v: 12 }, { v: 12 }], settled(), 5500, of).state;
    const { log, state } = run(dark(70), over, 6500, of);
    expect([log[58], log[59], log[60]]).toEqual(['waiting', 'waiting', 'blind']);
    expect(run([{ v: 12 }], state, 41_500, of).decisions).toEqual([
      { action: 'none', because: 'waiting', remainingMs: 40_000 },
    ]);
  });
  it('counts from when it first looks, where nothing has ever been read', () => {
    const { decisions } = run(dark(70));
    expect(decisions[60]).toMatchObject({ long: false });
    expect(decisions[61]).toMatchObject({ long: true });
  });
});

it.each<[CutOffDecision | null, CutOffDecision, boolean]>([
  [null, { action: 'none', because: 'below' }, false],
  [{ action: 'none', because: 'below' }, { action: 'none', because: 'below' }, true],
  [{ action: 'none', because: 'below' }, { action: 'none', because: 'open' }, false],
  // The seconds that are left are counted on the screen.
  [
    { action: 'none', because: 'waiting', remainingMs: 900 },
    { action: 'none', because: 'waiting', remainingMs: 100 },
    true,
  ],
  [
    { action: 'none', because: 'blind', long: false },
    { action: 'none', because: 'blind', long: true },
    false,
  ],
  [{ action: 'none', because: 'below' }, { action: 'trip', value: 20 }, false],
  [{ action: 'trip', value: 20 }, { action: 'trip', value: 30 }, true],
])('%j and then %j read the same: %s', (before, now, same) => expect(sameDecision(before, now)).toBe(same));
