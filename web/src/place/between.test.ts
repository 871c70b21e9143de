import type { NodeEnergy } from '@loka/contract/energy';
import { textOf } from '../profile/parts.js';
import { betweenInWords } from './between.js';

const SITE = { currency: 'EUR', price: 0.25, timeZone: 'Europe/Lisbon' };
const START = Date.parse('2026-07-01T09:00:00Z');
const HOUR = 3_600_000;
const energy = (change: Partial<NodeEnergy>): NodeEnergy => ({
  nodeId: 1,
  source: 'counter',
  import: 3000,
  export: 0,
  net: 3000,
  coverage: 1,
  estimated: 0,
  other: null,
  uncertainSince: null,
  ...change,
});
const said = (e: NodeEnergy, end = START + 2 * HOUR, now = end + HOUR) => {
  const found = betweenInWords(e, { start: START, end }, now, SITE);
  return found && textOf(found);
};

it('3 kWh in two hours are 1.5 kW, by the site’s clock', () => {
  expect(said(energy({}))).toBe(
    'Wed 1 Jul 10:00:00 to 12:00:00, 2 h: took 3.00 kWh (0.75\u00a0€); mean 1.50 kW. (by its counter, what was counted across an instant divided evenly)',
  );
});

it('the mean is of what was read, and the other source is told', () => {
  const other = { source: 'counter' as const, import: 1.5, export: 0, net: 1500, coverage: 1, estimated: 0 };
  // 1.5 kWh in the hour that was read.
  expect(said(energy({ source: 'power', import: 1500, net: 1500, coverage: 0.5, other }))).toBe(
    'Wed 1 Jul 10:00:00 to 12:00:00, 2 h: took 1.50 kWh (0.38\u00a0€); mean 1.50 kW. (from its power: a reading counts until the next one, for two and a half intervals at most; its counter says 1.50 kWh; 1 h of it were read)',
  );
});

it('what gives, what does both, what goes on, and what nothing tells', () => {
  expect(said(energy({ import: 0, export: 4000, net: -4000 }))).toContain(
    '2 h: gave 4.00 kWh; mean −2.00 kW.',
  );
  expect(said(energy({ import: 1000, export: 3000, net: -2000 }))).toContain(
    'took 1.00 kWh (0.25\u00a0€), gave 3.00 kWh; mean −1.00 kW.',
  );
  // Of two hours one has come: 3 kWh of it.
  expect(said(energy({}), START + 2 * HOUR, START + HOUR)).toContain(
    '10:00:00 to 11:00:00, 1 h: took 3.00 kWh',
  );
  expect(said(energy({ source: null, net: null }))).toBeNull();
  expect(said(energy({ coverage: 0 }))).toBeNull();
  expect(said(energy({}), START + 20 * HOUR)).toContain('10:00:00 to Thu 2 Jul 06:00:00, 20 h');
});
