import type { EnergyReport, ReportUse } from '@loka/contract/report';
import { emptySpans, profileCalendar, profileOf } from '@loka/core/profile';
import { textOf } from '../profile/parts.js';
import { perDay, reportSays } from './reportSays.js';

const DAY = 86_400_000;
const START = Date.parse('2026-10-01T00:00Z');
const SITE = {
  name: 'Mill',
  timeZone: 'UTC',
  currency: 'EUR',
  price: 0.2,
  carbon: 200,
  closedDays: [7],
  holidays: [],
};

/** Ten days by the minute. */
function profile(watts: (minute: number) => number): EnergyReport['profile'] {
  const spans = emptySpans(START, 60_000, 14_400);
  for (let i = 0; i < spans.length; i++)
    for (const c of [spans.mean, spans.min, spans.max, spans.last]) c[i] = watts(i);
  const { carpet, ...found } = profileOf(spans, profileCalendar('UTC', spans));
  return {
    ...found,
    nodeId: 1,
    source: 'power',
    summed: null,
    without: [],
    carpet: { ...carpet, watts: [...carpet.watts] },
  };
}
const use = (name: string, energy: number, before: number | null, unmetered = false): ReportUse => ({
  key: name,
  nodeId: 2,
  name,
  unmetered,
  energy,
  perDay: energy / 10,
  lastYear: null,
  coverage: 1,
  before,
});
/** 400 W all the time: 96 kWh in ten days. */
const report = (change: Partial<EnergyReport>): EnergyReport => ({
  nodeId: 1,
  place: 'Supply',
  path: [],
  site: SITE,
  period: 'x',
  from: START,
  to: START + 10 * DAY,
  madeAt: START + 10 * DAY,
  ended: true,
  total: { from: START, to: START + 10 * DAY, taken: 96_000, given: 0, coverage: 1 },
  before: null,
  lastYear: null,
  uses: [],
  days: [],
  profile: profile(() => 400),
  peak: null,
  loads: [],
  alerts: [],
  partly: [],
  ...change,
});
const said = (change: Partial<EnergyReport>) => reportSays(report(change)).map(textOf);

it('what it took, with cost, carbon and rate', () => {
  expect(said({})[0]).toBe(
    'Took 96.00 kWh, 19.20\u00a0€: 9.60 kWh a day. (10 d, 100.0 % of it read; 19.20 kg of CO₂)',
  );
  const half = { from: START, to: START + 10 * DAY, taken: 48_000, given: 5000, coverage: 0.5 };
  expect(said({ total: half })[0]).toContain(': 9.60 kWh a day; gave 5.00 kWh.');
  // A quarter of an hour says nothing of a day.
  const little = { from: START, to: START + 10 * DAY, taken: 440, given: 0, coverage: 0.001 };
  expect(said({ total: little })[0]).toMatch(/^Took 440 Wh, 0\.09\u00a0€\. \(10 d, 0\.1 % of it read/);
  expect(perDay(little, little.taken)).toBeNull();
  const roof = { from: START, to: START + 10 * DAY, taken: 10, given: 50_000, coverage: 1 };
  expect(said({ total: roof })[0]).toMatch(/^Gave 50\.00 kWh: 5\.00 kWh a day\. /);
});

it('against other periods: by the day, so that their lengths do not count', () => {
  const then = (taken: number, days: number, coverage = 1) => ({
    from: 0,
    to: days * DAY,
    taken,
    given: 0,
    coverage,
  });
  expect(said({ before: then(160_000, 20) })[1]).toMatch(
    /^20 % more a day than in the period before\. \(9\.60 kWh a day against 8\.00 kWh in 20 d/,
  );
  expect(said({ lastYear: then(192_000, 10) })[1]).toMatch(
    /^50 % less a day than in the same period of the year before\./,
  );
  expect(said({ before: then(96_000, 10) })[1]).toMatch(/^As much a day as in the period before\./);
  expect(said({ before: then(10, 10, 0.01) })[1]).toMatch(
    /^Too little was read in the period before to compare with it\. \(1\.0 % of 10 d\)/,
  );
});

it('the largest, what has changed, and what nobody meters', () => {
  const words = said({
    uses: [
      use('Oven', 60_000, 5000),
      use('Fan', 20_000, 2010),
      use('Light', 10_000, null),
      use('Not metered on Supply', 6000, 100, true),
    ],
  });
  expect(words).toContain(
    'Oven 63 %, Fan 21 % and Light 10 % of what was used. (of 4 uses, each counted once)',
  );
  expect(words).toContain(
    'Oven: 1.00 kWh more a day than in the period before, 20 %. (6.00 kWh a day, before 5.00 kWh)',
  );
  expect(words.some((w) => w.startsWith('Fan:') || w.startsWith('Light:'))).toBe(false);
  expect(words).toContain('6.3 % of what was used was not metered. (Not metered on Supply: 6.00 kWh)');
});

it('the peak with its parts, and base load', () => {
  const parts = ['Oven', 'Fan', 'Light', 'Mixer'].map((name, i) => ({ name, watts: 4000 - 1000 * i }));
  const words = said({ peak: { at: START + 4.5 * 3_600_000, watts: 10_000, parts } });
  expect(words).toContain(
    'Highest quarter-hour 10.00 kW, on Thu 1 Oct 04:30: Oven 4.00 kW, Fan 3.00 kW, Light 2.00 kW. (1 more had a part in it)',
  );
  // 100 W of base under 12 h of 700 W: a quarter of 400 W.
  const day = said({ profile: profile((m) => (m % 1440 < 720 ? 700 : 100)) });
  expect(day).toContain('Base load 100 W: 25 % of the energy. (drawn or more for 95 % of the time)');
});

it('unusual runs of a load, alerts and what was read in part', () => {
  const fridge = profile((m) => (m >= 9000 && m < 9162 ? 800 : m % 60 < 24 ? 800 : 46));
  const alert = (name: string, returnedAt: number | null) => ({
    name,
    condition: 'below 207 V',
    raisedAt: START,
    returnedAt,
  });
  const words = said({
    loads: [{ nodeId: 5, name: 'Cold room', profile: fridge }],
    alerts: [alert('Voltage', START + 1), alert('Oven', START + 1), alert('Voltage', null)],
    partly: ['A', 'B', 'C', 'D'].map((name) => ({ name, coverage: 0.8 })),
  });
  expect(words.find((w) => w.startsWith('Cold room:'))).toMatch(
    /^Cold room: ran 2 h 42 min without a pause on/,
  );
  expect(words).toContain('3 alerts, most often “Voltage”, 2 times. (1 not over)');
  expect(words).toContain(
    'Read in part only: A 80 %, B 80 %, C 80 %, and 1 more. (what was not read is not in the figures)',
  );
  expect(said({}).at(-1)).toMatch(/^No alert was raised\./);
});
