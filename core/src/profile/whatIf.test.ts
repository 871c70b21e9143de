import fc from 'fast-check';
import {
  CannotChange,
  changed,
  sunOfHours,
  emptySpans,
  profileCalendar,
  whatIf,
  withStore,
  type PowerSpans,
  type WhatIfQuestion,
} from './index.js';

const MINUTE = 60_000;
const START = Date.parse('2026-06-01T00:00Z');
const YEAR_DAYS = 365.25;

/** Four days by the minute. */
function spans(watts: (minute: number) => number, days = 4): PowerSpans {
  const made = emptySpans(START, MINUTE, days * 1440);
  for (let i = 0; i < made.length; i++)
    for (const c of [made.mean, made.min, made.max, made.last]) c[i] = watts(i);
  return made;
}
const ask = (question: Partial<WhatIfQuestion> & { load: PowerSpans }) =>
  whatIf(
    { change: { kind: 'none' }, supply: null, sun: null, store: null, ...question },
    profileCalendar('UTC', question.load),
  );
const kwh = (wh: number | undefined) => (wh ?? NaN) / 1000;
/** From 08:00 to 16:00 each day 800 W, else 50 W. */
const eightHours = spans((m) => (m % 1440 >= 480 && m % 1440 < 960 ? 800 : 50));

// Worked by hand throughout.
it('nothing changed changes nothing', () => {
  const got = ask({ load: eightHours, supply: eightHours });
  expect(got.load).toBeNull();
  expect(got.supply?.after).toEqual(got.supply?.before);
  // 8 h of 800 W and 16 h of 50 W are 7.2 kWh a day.
  expect(kwh(got.supply?.before.taken)).toBeCloseTo(7.2 * YEAR_DAYS, 6);
  expect(got.supply?.before.highest).toEqual({ watts: 800, at: START + 8 * 60 * MINUTE });
  expect(got.known).toBe(4 * 1440 * MINUTE);
});

it('without its standby it takes 16 h of 50 W a day less, and its demand stays', () => {
  const got = ask({
    load: eightHours,
    change: { kind: 'standby' },
    supply: spans((m) => 300 + (eightHours.mean[m] as number)),
  });
  expect(kwh(got.load?.after.taken)).toBeCloseTo(6.4 * YEAR_DAYS, 6);
  expect(kwh(got.supply?.before.taken) - kwh(got.supply?.after.taken)).toBeCloseTo(0.8 * YEAR_DAYS, 6);
  expect(got.supply?.after.highest?.watts).toBe(1100);
  expect(got.load?.after.day.slice(30, 34)).toEqual([0, 0, 800, 800]);
});

it('run so many hours a day: three, twelve, none; on a day without a run it begins when it does as a rule', () => {
  const hours = (h: number) =>
    ask({ load: eightHours, change: { kind: 'hours', hours: h }, supply: eightHours }).supply?.after;
  // The load is its own supply here, so what is told is the site: the same figures.
  const alone = (h: number, load = eightHours) =>
    changed(load, profileCalendar('UTC', load).days, { kind: 'hours', hours: h });
  const energy = (watts: Float64Array) => watts.reduce((a, b) => a + b, 0) / 60_000;
  expect(energy(alone(3))).toBeCloseTo(4 * (3 * 0.8 + 21 * 0.05), 6);
  expect(energy(alone(12))).toBeCloseTo(4 * (12 * 0.8 + 12 * 0.05), 6);
  expect(energy(alone(20))).toBeCloseTo(4 * (20 * 0.8 + 4 * 0.05), 6);
  expect(energy(alone(0))).toBeCloseTo(4 * 24 * 0.05, 6);
  expect(kwh(hours(3)?.taken)).toBeCloseTo((3 * 0.8 + 21 * 0.05) * YEAR_DAYS, 6);
  // What is left of three hours are the first ones.
  expect(alone(3)[480 + 179]).toBe(800);
  expect(alone(3)[480 + 181]).toBe(50);
  const rests = spans((m) => (m >= 1440 && m < 2880 ? 50 : (eightHours.mean[m] as number)));
  expect(alone(2, rests)[1440 + 479]).toBe(50);
  expect(alone(2, rests)[1440 + 481]).toBe(800);
  expect(energy(alone(2, rests))).toBeCloseTo(4 * (2 * 0.8 + 22 * 0.05), 6);
});

it('moved to the night it takes as much, and the site’s peak is lower', () => {
  const oven = spans((m) => (m % 1440 >= 480 && m % 1440 < 960 ? 500 : 100));
  const both = spans((m) => (eightHours.mean[m] as number) + (oven.mean[m] as number));
  const got = ask({ load: eightHours, change: { kind: 'later', hours: -8 }, supply: both });
  expect(got.load?.after.taken).toBeCloseTo(got.load?.before.taken as number, 6);
  expect(got.supply?.before.highest?.watts).toBe(1300);
  // By night 800 + 100, by day 50 + 500.
  expect(got.supply?.after.highest).toEqual({ watts: 900, at: START });
  expect(got.load?.after.day.slice(0, 2)).toEqual([800, 800]);
  expect(got.load?.after.day.slice(32, 34)).toEqual([50, 50]);
});

it('another load in its place', () => {
  const got = ask({
    load: eightHours,
    change: { kind: 'instead', watts: new Float64Array(5760).fill(100) },
    supply: eightHours,
  });
  expect(kwh(got.supply?.after.taken)).toBeCloseTo(2.4 * YEAR_DAYS, 6);
});

it('a plant of 3 kW by day, and a store of 5 kWh', () => {
  const load = spans(() => 1000);
  const sun = spans((m) => (m % 1440 >= 480 && m % 1440 < 960 ? 3000 : 0)).mean;
  const alone = ask({ load, supply: load, sun });
  // Of 24 kWh a day eight are covered, and sixteen are given.
  expect(kwh(alone.supply?.after.taken)).toBeCloseTo(16 * YEAR_DAYS, 6);
  expect(kwh(alone.supply?.after.given)).toBeCloseTo(16 * YEAR_DAYS, 6);
  expect(kwh(alone.sun as number)).toBeCloseTo(24 * YEAR_DAYS, 6);
  const stored = ask({ load, supply: load, sun, store: { capacity: 5000, power: 2000, efficiency: 0.8 } });
  // 6.25 kWh go in each day, 5 kWh come out from 16:00 to 21:00 on all four of them; the highest quarter-hour stays.
  expect(kwh(stored.supply?.after.given)).toBeCloseTo((16 - 6.25) * YEAR_DAYS, 6);
  expect(kwh(stored.supply?.after.taken)).toBeCloseTo((16 - 5) * YEAR_DAYS, 6);
  expect(kwh(stored.stored as number)).toBeCloseTo(5 * YEAR_DAYS, 6);
  expect(stored.supply?.after.highest?.watts).toBe(1000);
});

it('a gap is no saving, and what cannot be changed says why', () => {
  const holed = spans((m) => (m < 1440 ? NaN : (eightHours.mean[m] as number)));
  const got = ask({ load: holed, change: { kind: 'later', hours: 1 }, supply: eightHours });
  // The hole moves on by an hour; both are told without either.
  expect(got.known).toBe((3 * 1440 - 60) * MINUTE);
  // Of the three days the first hour, 50 W, is not known: so much a year are the rest, before.
  expect(kwh(got.load?.before.taken)).toBeCloseTo(((3 * 7.2 - 0.05) / 71) * 24 * YEAR_DAYS, 6);
  const steady = spans(() => 250);
  const days = profileCalendar('UTC', steady).days;
  expect(() => changed(steady, days, { kind: 'standby' })).toThrow(CannotChange);
  expect(() => changed(steady, days, { kind: 'hours', hours: 3 })).toThrow(/Nothing tells when it runs/);
  const nothing = ask({ load: spans(() => NaN), supply: spans(() => NaN) });
  expect(nothing).toMatchObject({ known: 0, supply: { before: { taken: 0, highest: null } } });
});

it('a store gives no more than what went in, keeps to its power, and never makes the sum of both larger', () => {
  fc.assert(
    fc.property(
      fc.array(fc.oneof(fc.integer({ min: -5000, max: 5000 }), fc.constant(NaN)), {
        minLength: 1,
        maxLength: 300,
      }),
      fc.record({
        capacity: fc.integer({ min: 1, max: 20_000 }),
        power: fc.integer({ min: 1, max: 6000 }),
        efficiency: fc.double({ min: 0.05, max: 1, noNaN: true }),
      }),
      (all, store) => {
        const watts = Float64Array.from(all);
        const { watts: left, gave } = withStore(watts, 15 * MINUTE, store);
        let [into, out] = [0, 0];
        left.forEach((w, i) => {
          const before = watts[i] as number;
          expect(Number.isNaN(w)).toBe(Number.isNaN(before));
          if (Number.isNaN(w)) return;
          expect(Math.abs(w - before)).toBeLessThanOrEqual(store.power + 1e-6);
          // What is given is never turned into what is taken, nor the other way round.
          expect(w * before).toBeGreaterThanOrEqual(-1e-6);
          if (w > before) into += (w - before) / 4;
          else out += (before - w) / 4;
        });
        expect(out).toBeCloseTo(gave, 3);
        expect(out).toBeLessThanOrEqual(into * store.efficiency + 1e-3);
        expect(into * store.efficiency - out).toBeLessThanOrEqual(store.capacity + 1e-3);
      },
    ),
  );
});

it('the hours of a year go by the site’s clock', () => {
  const hours = Array.from({ length: 8760 }, (_, h) => h);
  const at = (iso: string, zone: string) =>
    sunOfHours({ start: Date.parse(iso), step: MINUTE, length: 1 }, hours, zone)[0];
  expect(at('2026-01-01T00:00Z', 'UTC')).toBe(0);
  expect(at('2026-12-31T23:59Z', 'UTC')).toBe(8759);
  // 1 July is the 182nd day; Lisbon is an hour ahead then.
  expect(at('2026-07-01T11:30Z', 'Europe/Lisbon')).toBe(181 * 24 + 12);
  expect(at('2028-02-29T10:00Z', 'UTC')).toBe(at('2028-02-28T10:00Z', 'UTC'));
  expect(at('2028-03-01T10:00Z', 'UTC')).toBe(59 * 24 + 10);
});
