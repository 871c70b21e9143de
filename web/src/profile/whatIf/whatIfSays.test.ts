import type { PlaceWhatIf } from '@loka/contract/whatIf';
import type { Yearly } from '@loka/core/profile';
import { textOf } from '../parts.js';
import { whatIfSays } from './whatIfSays.js';

const DAY = 86_400_000;
const SITE = { currency: 'EUR', price: 0.2, carbon: 100 };
const year = (taken: number, given = 0, highest = 5000): Yearly => ({
  taken,
  given,
  highest: { watts: highest, at: 0 },
  day: [],
});
const answer = (change: Partial<PlaceWhatIf>): PlaceWhatIf => ({
  nodeId: 2,
  supplyId: 1,
  isSummed: false,
  from: 0,
  to: 30 * DAY,
  step: 60_000,
  known: 30 * DAY,
  load: null,
  supply: { before: year(10_000_000), after: year(9_000_000, 0, 4000) },
  sun: null,
  stored: null,
  ...change,
});
const said = (change: Partial<PlaceWhatIf>, asked = { roof: 0, store: 0, hasStore: false }) =>
  whatIfSays(answer(change), 'Fan', SITE, asked).map(textOf);

it('what is saved, with its cost and carbon, and the demand', () => {
  // A megawatt-hour: 200 € and 100 kg.
  expect(said({})).toEqual([
    'Takes 1.00 MWh less from the supply a year, 10 %: 200.00\u00a0€, 100.0 kg of CO₂. (at the rate of 30 d by minutes; what comes from the supply)',
    'The site’s highest quarter-hour goes from 5.00 kW to 4.00 kW. (of the days that were read; a single unusual quarter-hour in the year would set a new one)',
  ]);
  expect(said({ supply: { before: year(1e6), after: year(1e6 + 100) } })).toEqual([
    'Takes as much from the supply as before. (at the rate of 30 d by minutes; what comes from the supply)',
    expect.stringMatching(/^The site’s highest quarter-hour stays at 5\.00 kW\./),
  ]);
});

it('a plant and a store: what is used here, what goes out', () => {
  const supply = { before: year(10_000_000), after: year(8_000_000, 1_000_000) };
  const words = said(
    { supply, sun: 4_000_000, stored: 1_461_000 },
    { roof: 4000, store: 4000, hasStore: true },
  );
  expect(words).toContain(
    'Gives 1.00 MWh more to the supply a year. (what is paid for that is not in the cost)',
  );
  // Three of four megawatt-hours stay; a thousand hours of 4 kW; 4 kWh a day of 4 kWh.
  expect(words.find((w) => w.startsWith('The plant'))).toMatch(
    /^The plant gives 4\.00 MWh a year, of which 75 % is used on the site\. \(1000 h of its peak power;/,
  );
  expect(words.find((w) => w.startsWith('The store gives'))).toMatch(
    /1\.46 MWh a year\. \(1\.00 times what it holds, a day;/,
  );
  expect(words.at(-1)).toMatch(/^The store on the site is assumed to do what it did\./);
});

it('without a measured supply of the load alone; of nothing, nothing', () => {
  const load = { before: year(1_000_000), after: year(500_000) };
  expect(said({ supply: null, supplyId: null, load })[0]).toMatch(
    /^Takes 500\.0 kWh less a year, 50 %: 100\.00\u00a0€.*“Fan” alone; no supply is measured\)$/,
  );
  expect(said({ isSummed: true })[0]).toContain('the sum of what is measured behind the supply');
  expect(said({ supply: null })).toEqual([]);
  expect(said({ known: 0 })).toEqual([]);
});
