import fc from 'fast-check';
import {
  foldCounter,
  modulusOfType,
  partOfSegment,
  type CounterReading,
  type CounterRules,
  type CounterStep,
} from './counter.js';

// The day of the issue: one reading a minute, kWh of one day, by hand.
const MINUTE = 60_000;
const DAY = 86_400_000;
const rules: CounterRules = { resolution: 1, modulus: null, largestWatts: 14_000, hold: () => 150_000 };

/** Readings once a minute from the day's start to its end; null leaves one out. */
const day = (value: (minute: number) => number | null): CounterReading[] =>
  Array.from({ length: 1441 }, (_, i) => ({ t: i * MINUTE, v: value(i) })).filter(
    (r): r is CounterReading => r.v !== null,
  );
/** Whole Wh of a steady power after some minutes. */
const at = (watts: number, minutes: number) => Math.floor((watts * minutes) / 60 + 1e-9);
const kWh = ({ segments }: CounterStep, from = 0, to = DAY) =>
  segments.reduce((sum, s) => sum + partOfSegment(s, from, to), 0) / 1000;
const kinds = ({ events }: CounterStep) => events.map((e) => e.kind);

describe('what a counter has counted in a day', () => {
  it('2 kW with one reading of 0 at noon, the counter at 48 MWh: 48', () => {
    const step = foldCounter(
      rules,
      null,
      day((i) => (i === 720 ? 0 : 48_000_000 + at(2000, i))),
    );
    expect(kWh(step)).toBeCloseTo(48, 9);
    expect(step.events).toEqual([
      { kind: 'glitch', t: 720 * MINUTE, until: 720 * MINUTE, before: 48_023_966, after: 0, counted: 0 },
    ]);
  });
  it('the same of a reading that is far too high', () => {
    const step = foldCounter(
      rules,
      null,
      day((i) => (i === 720 ? 5e9 : 48_000_000 + at(2000, i))),
    );
    expect(kWh(step)).toBeCloseTo(48, 9);
    expect(kinds(step)).toEqual(['glitch']);
  });
  it('a meter that is replaced by one that reads 900 kWh more: 48, found', () => {
    const step = foldCounter(
      rules,
      null,
      day((i) => 10_000_000 + at(2000, i) + (i >= 720 ? 900_000 : 0)),
    );
    expect(Math.abs(kWh(step) - 48)).toBeLessThan(0.001 + 1e-9);
    expect(kinds(step)).toEqual(['exchange']);
    // What was not read is a guess from the power before, and is said to be one.
    expect(step.segments.filter((s) => s.how === 'estimated')).toHaveLength(1);
  });
  it('the same, entered as an exchange with both readings: 48', () => {
    const t = 720 * MINUTE + 30_000;
    const before = 10_000_000 + 24_016;
    const step = foldCounter(
      rules,
      null,
      day((i) => (i <= 720 ? 10_000_000 + at(2000, i) : 10_900_000 + 24_016 + at(2000, i - 720) - 16)),
      [{ t, before, after: before + 900_000 }],
    );
    expect(Math.abs(kWh(step) - 48)).toBeLessThan(0.001 + 1e-9);
    expect(step.events).toEqual([]);
  });
  it('1 kW with a power cut of ten hours, back 50 Wh lower: 14', () => {
    const step = foldCounter(
      rules,
      null,
      day((i) => (i <= 420 ? 5_000_000 + at(1000, i) : i < 1020 ? null : 5_006_950 + at(1000, i - 1020))),
    );
    expect(kWh(step)).toBeCloseTo(14, 9);
    expect(kinds(step)).toEqual(['fell-back']);
    expect(step.segments.filter((s) => s.how === 'gap')).toHaveLength(1);
  });
  it('jitter of one count at a standstill: 0', () => {
    let seed = 7;
    const random = () => (seed = (seed * 1103515245 + 12345) % 2 ** 31) / 2 ** 31;
    const step = foldCounter(
      rules,
      null,
      day(() => 777_000 + Math.round(random() * 2 - 1)),
    );
    expect(kWh(step)).toBeLessThanOrEqual(0.002);
    expect(step.events).toEqual([]);
  });
  it('2 kW with noise of 20 Wh: 48 within 0.02', () => {
    let seed = 11;
    const random = () => (seed = (seed * 1103515245 + 12345) % 2 ** 31) / 2 ** 31;
    const step = foldCounter(
      rules,
      null,
      day((i) => 3_000_000 + (2000 * i) / 60 + (i === 0 || i === 1440 ? 0 : (random() * 2 - 1) * 20)),
    );
    expect(Math.abs(kWh(step) - 48)).toBeLessThanOrEqual(0.02);
    expect(step.events).toEqual([]);
  });
  // 16 bits of 10 Wh: 655.36 kWh. It starts 24 kWh below the roll-over.
  const counter16 = (i: number) => (Math.floor((631_360 + (2000 * i) / 60) / 10 + 1e-9) * 10) % 655_360;
  const rules16 = { ...rules, resolution: 10, modulus: 655_360 };
  it('a 16-bit roll-over of 10 Wh counts without a gap: 48', () => {
    const step = foldCounter(rules16, null, day(counter16));
    expect(kWh(step)).toBeCloseTo(48, 9);
    expect(kinds(step)).toEqual(['rolled-over']);
  });
  it('the same inside a gap of six hours: 48, marked estimated', () => {
    const step = foldCounter(
      rules16,
      null,
      day((i) => (i > 540 && i < 900 ? null : counter16(i))),
    );
    expect(kWh(step)).toBeCloseTo(48, 9);
    expect(step.segments.filter((s) => s.how !== 'counted').map((s) => s.how)).toEqual(['estimated']);
  });
  it('where a gap allows several roll-overs, the one nearest to the power before it', () => {
    // 12.5 kW for two days and a half are 750 kWh, once over and 94.64 kWh more.
    const readings = [
      ...Array.from({ length: 61 }, (_, i) => ({ t: i * MINUTE, v: Math.floor((12_500 * i) / 600) * 10 })),
      { t: 60 * MINUTE + 2.5 * DAY, v: (12_500 + 750_000) % 655_360 },
    ];
    const step = foldCounter(rules16, null, readings);
    expect(kWh(step, 0, 4 * DAY)).toBeCloseTo(762.5, 2);
  });
  it('a reset: what was counted before and after', () => {
    const step = foldCounter(
      rules,
      null,
      day((i) => (i < 720 ? 500_000 + at(2000, i) : at(2000, i - 720))),
    );
    expect(Math.abs(kWh(step) - 48)).toBeLessThan(0.035); // what flowed while it was reset is not known
    expect(kinds(step)).toEqual(['reset']);
  });
  it('a counter that starts again every midnight, small as it is, is counted every day', () => {
    // A plug meter's “today”: 40 Wh a day.
    const readings = Array.from({ length: 3 * 1440 }, (_, i) => ({
      t: i * MINUTE,
      v: Math.floor((40 * (i % 1440)) / 1440),
    }));
    expect(Math.abs(kWh(foldCounter(rules, null, readings), 0, 3 * DAY) - 0.12)).toBeLessThan(0.003);
  });
  it('a device that reads 0 for ten minutes and is back: nothing is lost, nothing is made up', () => {
    const step = foldCounter(
      rules,
      null,
      day((i) => (i >= 700 && i < 710 ? 0 : 9_000_000 + at(2000, i))),
    );
    expect(Math.abs(kWh(step) - 48)).toBeLessThan(0.002);
    expect(kinds(step)).toEqual(['reset', 'returned']);
  });
  it('a person who says that a rise is real has it counted', () => {
    const rise = day((i) => 10_000_000 + at(2000, i) + (i >= 720 ? 900_000 : 0)).map((r) =>
      r.t === 720 * MINUTE ? { ...r, forced: true } : r,
    );
    expect(kWh(foldCounter(rules, null, rise))).toBeCloseTo(948, 9);
  });
  it('a decimal counter rolls over at 99 999.9 kWh', () => {
    const decimal = (i: number) => (99_990_000 + Math.floor((2000 * i) / 6000 + 1e-9) * 100) % 100_000_000;
    const step = foldCounter({ ...rules, resolution: 100, modulus: 100_000_000 }, null, day(decimal));
    expect(kWh(step)).toBeCloseTo(48, 9);
    expect(kinds(step)).toEqual(['rolled-over']);
  });
});

it('over a gap a day’s energy goes to no wrong day: 20:00–04:00 at 2 kW is 48 and 48', () => {
  const readings = Array.from({ length: 2881 }, (_, i) => ({ t: i * MINUTE, v: at(2000, i) })).filter(
    (r) => r.t <= 20 * 60 * MINUTE || r.t >= 28 * 60 * MINUTE,
  );
  const step = foldCounter(rules, null, readings);
  expect(kWh(step, 0, DAY)).toBeCloseTo(48, 9);
  expect(kWh(step, DAY, 2 * DAY)).toBeCloseTo(48, 9);
});

it('taken up from a kept state at any reading it gives what it gives in one go; parts sum to the whole', () => {
  const move = fc.oneof(
    {
      weight: 12,
      arbitrary: fc.integer({ min: 0, max: 60 }).map((by) => ({ by, jump: null as number | null })),
    },
    { weight: 1, arbitrary: fc.integer({ min: 0, max: 70_000 }).map((jump) => ({ by: 0, jump })) },
  );
  const row = fc.array(fc.tuple(move, fc.constantFrom(1, 1, 1, 1, 2, 9)), { minLength: 3, maxLength: 60 });
  fc.assert(
    fc.property(row, fc.nat(), (moves, cutAt) => {
      let t = 0;
      let v = 1000;
      const readings = moves.map(([{ by, jump }, minutes]) => {
        t += minutes * MINUTE;
        v = jump ?? v + by;
        return { t, v };
      });
      const limits = { ...rules, modulus: 65_536 };
      const whole = foldCounter(limits, null, readings);
      const cut = cutAt % readings.length;
      const first = foldCounter(limits, null, readings.slice(0, cut));
      const kept = JSON.parse(JSON.stringify(first.state)) as typeof first.state;
      const second = foldCounter(limits, kept, readings.slice(cut));
      expect([...first.segments, ...second.segments]).toEqual(whole.segments);
      expect([...first.events, ...second.events]).toEqual(whole.events);
      expect(second.state).toEqual(whole.state);
      // Nothing is counted below zero, and none of it above what the rating allows over the time that it is spread on.
      for (const s of whole.segments) expect(s.increment).toBeGreaterThanOrEqual(0);
      const total = kWh(whole, 0, t + 1);
      const cutTime = t / 3;
      expect(kWh(whole, 0, cutTime) + kWh(whole, cutTime, t + 1)).toBeCloseTo(total, 9);
    }),
    { numRuns: 400 },
  );
});

it('how far registers count', () => {
  expect(['uint16', 'int16', 'uint32', 'int32', 'float32', 'uint64'].map(modulusOfType)).toEqual([
    65_536,
    32_768,
    4_294_967_296,
    2_147_483_648,
    null,
    null,
  ]);
});

// At the borders of its rules, each by hand; the hold is two minutes and a half.
describe('borders', () => {
  const HOLD = 150_000;
  const HOUR = 3_600_000;
  const fold = (
    readings: CounterReading[],
    own: Partial<CounterRules> = {},
    state: CounterStep['state'] = null,
  ) => foldCounter({ ...rules, ...own }, state, readings);
  const hows = ({ segments }: CounterStep) => segments.map((s) => s.how);

  it('a reading at the end of the hold is no gap, one a millisecond later is', () => {
    const at = (t: number) =>
      hows(
        fold([
          { t: 0, v: 100 },
          { t, v: 200 },
        ]),
      );
    expect(at(HOLD)).toEqual(['counted']);
    expect(at(HOLD + 1)).toEqual(['gap']);
  });
  it('the largest rise is what the power allows and two counts, over at least a quarter of a minute', () => {
    // 14 kW: 58.33 Wh in 15 s, and two counts of 1 Wh.
    const after = (t: number, v: number) =>
      fold([
        { t: 0, v: 1000 },
        { t, v: 1000 + v },
      ]).segments.length;
    expect([after(1000, 60), after(1000, 61)]).toEqual([1, 0]);
    expect([after(60_000, 235), after(60_000, 236)]).toEqual([1, 0]);
  });
  it('a fall by two counts is jitter at any time; what 14 kW make in a minute only while the readings follow closely', () => {
    const fall = (t: number, by: number) =>
      fold([
        { t: 0, v: 1e6 },
        { t, v: 1e6 - by },
      ]);
    expect([fall(60_000, 2), fall(HOUR, 2)].map((s) => s.segments.length)).toEqual([1, 1]);
    // 14 000 W for a minute are 233.3 Wh.
    expect([fall(60_000, 233), fall(60_000, 234)].map((s) => s.segments.length)).toEqual([1, 0]);
    // After a gap it has come back with what it had last kept.
    expect(kinds(fall(HOUR, 3))).toEqual(['fell-back']);
    expect(fall(HOUR, 3).segments).toEqual([{ from: 0, to: HOUR, increment: 0, how: 'gap' }]);
  });
  it('a small counter that falls to half, or below, has not fallen back', () => {
    const fall = (v: number) =>
      kinds(
        fold([
          { t: 0, v: 1000 },
          { t: HOUR, v },
        ]),
      );
    expect(fall(501)).toEqual(['fell-back']);
    expect(fall(500)).toEqual([]);
  });
  it('over a long gap the number of roll-overs is the one nearest to what the power before would have made', () => {
    // 16 bits of 10 Wh: 655 360 Wh to a turn. A hundred hours at up to 14 kW: none, one or two of them.
    const wide = { modulus: 655_360, resolution: 10 };
    const after = (watts: number) => {
      const before = Array.from({ length: 61 }, (_, i) => ({ t: i * MINUTE, v: 100_000 + (watts * i) / 60 }));
      const level = before.at(-1)?.v as number;
      const v = (level + 44_640) % 655_360;
      return fold([...before, { t: 60 * MINUTE + 100 * HOUR, v }], wide).segments.at(-1)?.increment;
    };
    expect(after(500)).toBeCloseTo(44_640, 6);
    expect(after(7000)).toBeCloseTo(700_000, 6);
    expect(after(13_000)).toBeCloseTo(1_355_360, 6);
  });
  it('a counter that was away and comes back has counted what lies between, less what was counted meanwhile', () => {
    const away = [
      { t: 0, v: 10_000 },
      ...[1, 2, 3, 4].map((i) => ({ t: i * MINUTE, v: 500_000 + 10 * i })),
      ...[5, 6, 7].map((i) => ({ t: i * MINUTE, v: 10_000 + 10 * i })),
    ];
    const step = fold(away);
    expect(kinds(step)).toEqual(['exchange', 'returned']);
    // 70 Wh in seven minutes, whatever it read meanwhile.
    expect(kWh(step, 0, 7 * MINUTE + 1) * 1000).toBeCloseTo(70, 6);
  });
  it('after a day it is not believed to have come back', () => {
    const at = (minutes: number) => {
      const other = Array.from({ length: minutes }, (_, i) => ({ t: (i + 1) * MINUTE, v: 500_000 + i }));
      const back = [1, 2, 3].map((i) => ({ t: (minutes + i) * MINUTE, v: 10_000 + minutes }));
      return kinds(fold([{ t: 0, v: 10_000 }, ...other, ...back])).at(-1);
    };
    expect(at(1430)).toBe('returned');
    expect(at(1500)).not.toBe('returned');
  });
  it('an exchange is worked in at its instant, before a reading of the same one, and also after the last', () => {
    const exchange = { t: 2 * MINUTE, before: 120, after: 7 };
    const readings = [
      { t: 0, v: 100 },
      { t: MINUTE, v: 110 },
      { t: 2 * MINUTE, v: 7 },
    ];
    const step = foldCounter(rules, null, readings, [exchange]);
    expect([kinds(step), step.segments.reduce((sum, s) => sum + s.increment, 0)]).toEqual([[], 20]);
    const last = foldCounter(rules, null, readings.slice(0, 2), [exchange]);
    expect([last.state?.level, last.segments.reduce((sum, s) => sum + s.increment, 0)]).toEqual([7, 20]);
  });
  it('what was counted in no time belongs to the part that holds its instant', () => {
    const jump = { from: 1000, to: 1000, increment: 8 };
    expect([
      partOfSegment(jump, 0, 1000),
      partOfSegment(jump, 1000, 2000),
      partOfSegment(jump, 2000, 3000),
    ]).toEqual([0, 8, 0]);
  });
  it('a reading that a person has said to count is counted, however high; one that is lower needs more than that', () => {
    const forced = fold([
      { t: 0, v: 100 },
      { t: MINUTE, v: 1e9, forced: true },
    ]);
    expect(forced.segments).toEqual([{ from: 0, to: MINUTE, increment: 1e9 - 100, how: 'counted' }]);
    expect(
      fold([
        { t: 0, v: 1e9 },
        { t: MINUTE, v: 100, forced: true },
      ]).segments,
    ).toEqual([]);
  });
});
