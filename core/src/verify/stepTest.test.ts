import type { Look, Metered, Plate } from './circuit.js';
import { findAsked, type FoundStep } from './stepTest.js';
import type { Trace } from './trace.js';

// Invented readings of one line at 230 V, one a second; what is right is worked by hand beside each case.

const HEATER: Plate = { name: 'Heater', watts: 2000, powerFactor: 1 };
const ASKED = 20_000;
const SWITCHED = 30;

/** One reading a second over a minute, with a scatter that repeats. */
const trace = (of: (second: number) => number, scatter: number): Trace => ({
  t: Array.from({ length: 60 }, (_, s) => s * 1000),
  v: Array.from({ length: 60 }, (_, s) => of(s) + scatter * Math.sin(12.9898 * s)),
});

/** A meter that reads `before` W, and `by` W more from the switching on. */
function meter(id: number, name: string, before: number, by: number, at = SWITCHED): Metered {
  const watts = (s: number) => before + (s >= at ? by : 0);
  return {
    id,
    name,
    channels: [
      {
        line: 'L1',
        voltage: trace(() => 230, 0.1),
        current: trace((s) => watts(s) / 230, 0.005),
        power: trace(watts, 1),
        reactive: null,
      },
    ],
    total: null,
    counter: null,
  };
}

interface Case {
  own: number;
  above?: number | null;
  other?: number;
  load?: Plate;
  at?: number;
}

const cut = ({ t, v }: Trace, seconds: number): Trace => ({ t: t.slice(0, seconds), v: v.slice(0, seconds) });

function lookOf({ own, above = own, other = 0, load = HEATER, at = SWITCHED }: Case): Look {
  return {
    circuit: {
      name: 'Way 3',
      lines: ['L1'],
      system: 'three-phase',
      nominalVoltage: 230,
      frequency: 50,
      ratedCurrent: 16,
      feedsIn: false,
      reach: 'clamp',
      range: null,
      loads: [load],
    },
    own: meter(1, 'Way 3', 40, own, at),
    above: above === null ? null : meter(2, 'Main meter', 900, above, at),
    others: [meter(3, 'Way 5', 120, other, at)],
    below: [],
    beside: [],
    switchings: [],
    offSpans: [],
    frequency: null,
  };
}

const find = (one: Case): FoundStep | null =>
  findAsked(lookOf(one), { askedAt: ASKED, on: true, load: one.load ?? HEATER });

it('a step as large as the plate, and seen above, passes', () => {
  const found = find({ own: 1960 });
  expect(found).toMatchObject({ verdict: 'pass', on: true, t: 30_000, elsewhere: [] });
  expect(found?.own).toBeCloseTo(1960, -1);
  expect(found?.above).toBeCloseTo(1960, -1);
  expect(found?.amperes).toBeCloseTo(8.52, 1);
});

it('a plate that is wrong passes when the meter above saw the same', () => {
  expect(find({ own: 1600, above: 1640 })).toMatchObject({
    verdict: 'pass',
    says: expect.stringContaining('The plate says 2.00 kW') as string,
  });
  // Without a meter above there is the plate alone: 20 % are more than the 10 % that a plate is good for.
  expect(find({ own: 1600, above: null })?.verdict).toBe('fail');
});

it('a step that is half of the plate, and of what came above, fails', () => {
  expect(find({ own: 1000, above: 2000 })).toMatchObject({
    verdict: 'fail',
    says: expect.stringContaining('Main meter saw 2.00 kW') as string,
  });
});

it('two loads that switch together tell nothing: here it is as the plate says, above more or less', () => {
  for (const above of [3900, 900])
    expect(find({ own: 1990, above })).toMatchObject({
      verdict: 'cannot-tell',
      says: expect.stringContaining('another load may have switched') as string,
    });
});

it('a load that shows on another circuit fails, and is named', () => {
  expect(find({ own: 0, above: 1990, other: 1985 })).toMatchObject({
    verdict: 'fail',
    elsewhere: [{ id: 3, name: 'Way 5' }],
    says: 'It shows at Way 5, not here.',
  });
});

it('a load without a plate is held against the meter above, or against nothing', () => {
  const load = { name: 'Pump', watts: null, powerFactor: 1 };
  expect(find({ own: 620, load })).toMatchObject({ verdict: 'pass', expected: null });
  expect(find({ own: 620, above: null, load })?.verdict).toBe('cannot-tell');
});

it('finds nothing in what never moves, in a step below the scatter, before it was asked for, or when it is the other way', () => {
  expect(find({ own: 0 })).toBeNull();
  expect(find({ own: 1.5, load: { ...HEATER, watts: 2 } })).toBeNull();
  expect(find({ own: 2000, at: 15 })).toBeNull();
  expect(find({ own: -2000, above: -2000 })).toBeNull();
});

it.each(['own', 'above'] as const)(
  'waits for the %s meter while it is behind, and not for ever',
  (behind) => {
    const look = (readings: number, others: number): Look => {
      const upTo = ({ channels, ...meter }: Metered, seconds: number): Metered => ({
        ...meter,
        channels: channels.map((c) => ({
          ...c,
          voltage: cut(c.voltage as Trace, seconds),
          current: cut(c.current as Trace, seconds),
          power: cut(c.power as Trace, seconds),
        })),
      });
      const [own, above] = behind === 'own' ? [readings, others] : [others, readings];
      const whole = lookOf({ own: 1960 });
      return { ...whole, own: upTo(whole.own, own), above: upTo(whole.above as Metered, above), others: [] };
    };
    const found = (readings: number, others: number) =>
      findAsked(look(readings, others), { askedAt: ASKED, on: true, load: HEATER });
    // The one has shown it, the other has not read since.
    expect(found(SWITCHED, SWITCHED + 5)).toBeNull();
    expect(found(SWITCHED + 5, SWITCHED + 5)).toMatchObject({ verdict: 'pass' });
    // It will not come any more: what there is has to do.
    const late = found(SWITCHED, SWITCHED + 20);
    expect(late).toMatchObject(
      behind === 'above' ? { verdict: 'pass', above: null } : { verdict: 'cannot-tell', own: null },
    );
  },
);

it('a step of another load, much smaller than the one asked for, is not taken for it', () => {
  expect(find({ own: 300 })).toBeNull();
});

describe('a load of which the meter sees a part, while another one comes at the meter above in the same moment', () => {
  // 500 W of 2 kW go through the meter. Going off, 500 W fall here and 2 kW above, where 14 kW come: 12 kW more.
  const PART = 500;
  const off = (part: number, above: number) => ({
    ...lookOf({ own: 0, above }),
    own: meter(1, 'Way 3', 40 + part, -part),
  });
  const seenOn = find({ own: PART, above: 2000 }) as FoundStep;

  it('is known going off by what it was coming on', () => {
    const asked = { askedAt: ASKED, on: false, load: HEATER };
    expect(findAsked(off(PART, 12_000), asked)).toBeNull();
    expect(findAsked(off(PART, 12_000), { ...asked, cameOn: seenOn })).toMatchObject({
      t: 30_000,
      verdict: 'fail',
      says: expect.stringMatching(/^(499|500) W here, 2\.00 kW expected\.$/) as string,
    });
    // Half of what came is another load of the circuit; and what comes on is looked for by its plate.
    expect(findAsked(off(PART / 2, 12_000), { ...asked, cameOn: seenOn })).toBeNull();
  });

  it('says nothing where no plate is known', () => {
    const load = { name: 'Pump', watts: null, powerFactor: 1 };
    expect(findAsked(off(PART, 12_000), { askedAt: ASKED, on: false, load })).toMatchObject({
      verdict: 'cannot-tell',
      says: expect.stringContaining(
        'Main meter moved by −12.00 kW: another load switched at the same time.',
      ) as string,
    });
  });
});
