import { emptySpans, profileOf, profileCalendar } from '@loka/core/profile';
import type { PlaceProfile } from '@loka/contract/profile';
import { findingsOf } from './findings.js';
import { textOf } from './parts.js';

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const DAY = 24 * HOUR;
const SITE = { currency: 'EUR', price: 0.25, carbon: 180, timeZone: 'UTC' };

/** Ten days from a Monday of a power by the minute, as the server tells them. */
function profile(watts: (minute: number) => number, days = 10): PlaceProfile {
  const start = Date.parse('2026-11-02T00:00Z');
  const spans = emptySpans(start, MINUTE, days * 1440);
  for (let i = 0; i < spans.length; i++)
    for (const c of [spans.mean, spans.min, spans.max, spans.last]) c[i] = watts(i);
  const found = profileOf(spans, profileCalendar('UTC', spans));
  const { watts: cells, ...carpet } = found.carpet;
  return {
    ...found,
    nodeId: 1,
    source: 'power',
    summed: null,
    without: [],
    carpet: { ...carpet, watts: [...cells].map((w) => (Number.isNaN(w) ? null : w)) },
  };
}
const said = (p: PlaceProfile, site = SITE, now = p.to) => findingsOf(p, site, now).map(textOf);

it('a cold room: standby with its cost, runs, defrosts with the next one, demand, energy', () => {
  // Every six hours 18 min of 1250 W, else 24 min of each hour 800 W, else 46 W.
  const words = said(profile((i) => (i % 360 < 18 ? 1250 : i % 60 < 24 ? 800 : 46)));
  // Of 1440 minutes 72 defrost, 24 · 24 − 72 run, the rest is standby.
  expect(words[0]).toMatch(
    /^Stands by at 46\.?0? W for 60 % of the time, runs at 800 W for 35 %, and at 1\.25 kW for 5\.0 %\./,
  );
  // 46 W of 60 % of 8766 h are 241.9 kWh, at 0.25 € 60.49 €.
  expect(words[1]).toContain('60.49\u00a0€ a year');
  expect(words[1]).toContain('242 kWh a year');
  expect(words[2]).toMatch(/^Starts 24 times a day: 24 min on, 36 min off\./);
  expect(words[3]).toMatch(
    /^Goes to 1\.25 kW for 18 min every 6 h\. Next at Thu 00:00\. \(40 of 40 came, half of them within 0 s/,
  );
  expect(words[4]).toMatch(/^Highest quarter-hour 1\.25 kW, on Mon 2 Nov 00:00; mean/);
  // 72 · 1250 + 504 · 800 + 864 · 46 W·min a day.
  const daily = (72 * 1.25 + 504 * 0.8 + 864 * 0.046) / 60;
  expect(words[5]).toContain(`: ${daily.toFixed(2)} kWh a day`);
});

it('of a period that is over it is said when it came last', () => {
  const p = profile((i) => (i % 360 < 18 ? 1250 : 46));
  expect(said(p, SITE, p.to + 30 * DAY).join('\n')).toContain('Last at Wed 11 Nov 18:00.');
});

it('without a price nothing is said of money', () =>
  expect(
    said(
      profile((i) => (i % 60 < 24 ? 800 : 46)),
      { ...SITE, price: null as unknown as number },
    ).join(),
  ).not.toContain('€'));

it('what is off says so, and has no standby', () => {
  const words = said(profile((i) => (i % 600 < 90 ? 2900 : 0)));
  expect(words[0]).toMatch(/^Is off for 85 % of the time, and runs at 2\.90 kW for 15 %\./);
  expect(words.join()).not.toContain('standby is');
  // 24 in ten days; the one that ran already when they began does not count.
  expect(words[1]).toMatch(/^Starts 2\.3 times a day: 1 h 30 min on, 8 h 30 min off\./);
});

it('one constant value: what can be said of it, and no runs', () => {
  const words = said(profile(() => 250, 2));
  expect(words[0]).toMatch(/^Stays at 250 W for 100 % of the time\./);
  expect(words.some((w) => w.startsWith('Starts'))).toBe(false);
});

it('of what only counts energy, days and demand alone', () => {
  const counted = profile((i) => (i % 1440 < 480 ? 1000 : 0));
  const words = said({
    ...counted,
    source: 'counter',
    levels: { levels: [], between: 1, betweenEnergy: 1, floor: 0 },
    runs: null,
    recurring: [],
  });
  expect(words[0]).toMatch(/^Its meter only counts energy\./);
  // Eight hours of 1 kW.
  expect(words.find((w) => w.startsWith('Took'))).toContain('Took 80.00 kWh');
  expect(words.find((w) => w.startsWith('Highest quarter-hour'))).toContain('1.00 kW');
  expect(words.some((w) => /^(Starts|Stands|Stays|Runs)/.test(w))).toBe(false);
});

it('what feeds in', () => {
  const words = said(profile((i) => (i % 1440 > 480 && i % 1440 < 960 ? -1500 : 12)));
  expect(words[0]).toMatch(/^Is at −1\.50 kW for 33 % of the time, and at 12 W for 67 %\./);
  expect(words.some((w) => w.startsWith('Starts'))).toBe(false);
  expect(words.join('\n')).toContain('Gives most over a quarter-hour: 1.50 kW, on');
  // 479 min of 1500 W out, 961 min of 12 W in.
  expect(words.find((w) => w.startsWith('Gave'))).toContain(
    `Gave 117.8 kWh: ${((479 * 1.5 - 961 * 0.012) / 60).toFixed(2)} kWh a day`,
  );
});

it('working and closed days', () => {
  const words = said(
    profile((i) => (Math.floor(i / 1440) % 7 < 5 && i % 1440 >= 480 && i % 1440 < 1020 ? 294 : 180), 14),
  );
  // Nine hours of 114 W.
  expect(words.find((w) => w.includes('on a closed one'))).toContain('Takes 1.03 kWh more on a working day');
});

it('what it took, cost and gave off, and what that is a year', () => {
  // 100 W for ten days: 24 kWh, 6 €, 4.32 kg; 2.4 kWh a day, 0.6 € a day for 365.25 of them.
  const words = said(profile(() => 100));
  expect(words.find((w) => w.startsWith('Took'))).toBe(
    'Took 24.00 kWh, 6.00\u00a0€: 2.40 kWh a day, 219.15\u00a0€ a year at this rate. (in 10 d that were read, 100.0 % of the period; 4.32 kg of CO₂)',
  );
});

/** Four minutes in each quarter-hour; an hour's warm-up before, from 02:30; `minute` of all. */
const oven = (minute: number, long = 60, from = 150): number => {
  const m = minute % 1440;
  if (m < from || m >= 570) return 36;
  return m < from + long || (m - from - long) % 15 >= 11 ? 14_000 : 36;
};

it('the warm-up of an oven is a kind of run of its own', () => {
  const words = said(profile((m) => oven(m)));
  expect(words.find((w) => w.startsWith('Runs for'))).toMatch(
    /^Runs for 1 h as well, about 02:30 on 10 days: 13\.96 kWh each\. \(10 runs of 1 h to 1 h, above standby; the last on Wed \d+ \w+ 02:30\)/,
  );
  expect(words.some((w) => w.startsWith('Ran '))).toBe(false);
});

it('one run without a pause, and runs that become longer', () => {
  const stuck = said(profile((m) => (m >= 9000 && m < 9162 ? 800 : m % 60 < 24 ? 800 : 46)));
  expect(stuck.find((w) => w.startsWith('Ran '))).toMatch(
    /^Ran 2 h 42 min without a pause on \w+ \d+ \w+ from 06:00\. \(the longest that it runs as a rule is 24 min\)/,
  );
  // A minute more each day: 20 to 29 min.
  const longer = said(profile((m) => (m % 60 < 20 + Math.floor(m / 1440) ? 800 : 46)));
  expect(longer.find((w) => w.startsWith('A run has'))).toMatch(
    /^A run has become 9 min longer: 20 min at first, 29 min at the end\. \(by the medians of 10 days/,
  );
  expect(said(profile((m) => (m % 60 < 20 ? 800 : 46))).some((w) => w.startsWith('A run has'))).toBe(false);
});

it('a month out of ten days, and none out of one', () => {
  // 100 W each day: 30.44 days of 2.4 kWh.
  expect(said(profile(() => 100)).at(-1)).toBe(
    'A month takes 73.05 kWh, 18.26\u00a0€. (95 times in 100, if its days are like the 8 working and 2 closed days seen)',
  );
  // Every other day twice as much: 2.4 and 4.8 kWh, four of each on working days, one of each on closed ones.
  const varies = said(profile((m) => (Math.floor(m / 1440) % 2 ? 200 : 100))).at(-1);
  // Means 3.6 kWh: 109.6 kWh; variances 1.646 · (21.74²/8 + 21.74) = 133.0 and 2.88 · (8.696²/2 + 8.696) = 133.9 kWh², 3.5
  // degrees of freedom: 3.18 (JCGM 100, table G.2) · √266.9 = 51.95 kWh.
  expect(varies).toMatch(/^A month takes 57\.[56]\d kWh to 161\.5 kWh, 14\.\d\d\u00a0€ to 40\.\d\d\u00a0€\./);
  expect(said(profile(() => 100, 1)).some((w) => w.startsWith('A month'))).toBe(false);
});

it('of nothing nothing is said', () => expect(said(profile(() => NaN))).toEqual([]));
