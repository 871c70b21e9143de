import { cannotTell, isProven, type Check } from '../check.js';
import type { DcSide, Look, UnusedInput } from '../circuit.js';
import type { SeenEvent } from '../events.js';
import type { Trace } from '../trace.js';
import { checkDc } from './dc.js';
import { checkInputs } from './inputs.js';
import { checkStandby } from './standby.js';

const SECONDS = 60;
const trace = (of: (s: number) => number): Trace => ({
  t: Array.from({ length: SECONDS }, (_, s) => s * 1000),
  v: Array.from({ length: SECONDS }, (_, s) => of(s)),
});

describe('the DC side', () => {
  // A battery of 48 V that is charged with 20 A, then gives 40 A; the inverter reads its power as well, and that of its panels.
  const amperes = (s: number) => (s < 30 ? 20 : -40);
  const battery = { name: 'Battery power', power: trace((s) => 48 * amperes(s)) };
  const panels = { name: 'PV power', power: trace((s) => 3000 + 10 * s) };
  const dc = (over: Partial<DcSide>): Look =>
    ({
      dc: { voltage: trace(() => 48), current: trace(amperes), beside: [panels, battery], ...over },
    }) as unknown as Look;

  it('is right when another device reads the same', () =>
    expect(checkDc(dc({}))).toMatchObject({ verdict: 'pass', rests: expect.stringContaining('1.00 times') }));
  it.each([
    ['plus and minus exchanged', { voltage: trace(() => -48) }, 'The DC voltage is negative.'],
    ['a tap on nothing', { voltage: trace(() => 0.2) }, 'A DC current flows, and no voltage is read.'],
    [
      'the sensor turned round',
      { current: trace((s) => -amperes(s)) },
      'The DC current counts the wrong way.',
    ],
    [
      'a range of half',
      { current: trace((s) => amperes(s) / 2) },
      'The DC power is 0.50 times what Battery power reads.',
    ],
  ])('%s', (_, over, says) => expect(checkDc(dc(over))).toMatchObject({ verdict: 'fail', says }));
  it.each([
    ['nothing reads the same power', { beside: [panels] }],
    ['no other device', { beside: [] }],
    [
      'nothing flows',
      { current: trace(() => 0), beside: [{ name: 'Battery power', power: trace(() => 0) }] },
    ],
  ])('cannot tell which way it counts: %s', (_, over) =>
    expect(checkDc(dc(over))?.verdict).toBe('cannot-tell'),
  );
  it('proves a place where nothing else is measured, and nothing of one with lines', () => {
    const right = checkDc(dc({})) as Check;
    expect(isProven([right])).toBe(true);
    expect(isProven([right, cannotTell('alive', '', '')])).toBe(false);
    expect(isProven([checkDc(dc({ beside: [] })) as Check])).toBe(false);
  });
  it('says nothing where nothing DC is measured', () => expect(checkDc({} as Look)).toBeNull());
});

describe('inputs without a circuit', () => {
  const look = (...unused: UnusedInput[]) => ({ unused }) as unknown as Look;
  const input = (name: string, amperes: number, range: number | null = null): UnusedInput => ({
    name,
    current: trace((s) => amperes + 0.001 * Math.sin(s)),
    range,
  });
  it('are none', () => expect(checkInputs(look())).toBeNull());
  it('read nothing', () => expect(checkInputs(look(input('Current 4', 0.012)))?.verdict).toBe('pass'));
  it('read something', () =>
    expect(checkInputs(look(input('Current 3', 0.01), input('Current 4', 0.31)))).toMatchObject({
      verdict: 'cannot-tell',
      says: '“Current 4” reads something and belongs to no circuit.',
    }));
  it('of a large clamp read more noise', () =>
    expect(checkInputs(look(input('Current 4', 0.3, 600)))?.verdict).toBe('pass'));
});

describe('the standby of what is switched off', () => {
  const event = (t: number, on: boolean, load: string | null) =>
    ({
      t,
      on,
      load: load === null ? null : { name: load, watts: null, powerFactor: null },
    }) as unknown as SeenEvent;
  const look = (left: number, offSpans: Look['offSpans'] = []) =>
    ({
      own: {
        channels: [],
        total: trace((s) => (s < 20 ? 14_000 : left) + 0.2 * Math.sin(7 * s)),
        counter: null,
      },
      offSpans,
    }) as unknown as Look;
  const went = [event(5000, true, 'Oven'), event(20_000, false, 'Oven')];

  it('is what stays, and what that is in a year', () =>
    // 36 W for 8766 h are 315.6 kWh.
    expect(checkStandby(look(36), went)?.says).toBe('Switched off, 36 W are still drawn: 315.6 kWh a year.'));
  it('may be nothing', () =>
    expect(checkStandby(look(0), went)?.says).toBe('Switched off, it draws nothing.'));
  it('is not told while no load has been asked to go, or its relay is open', () => {
    expect(checkStandby(look(36), [event(20_000, false, null)])).toBeNull();
    expect(checkStandby(look(36), [event(20_000, true, 'Oven')])).toBeNull();
    expect(checkStandby(look(0, [{ from: 20_000, to: 60_000 }]), went)).toBeNull();
  });
});
