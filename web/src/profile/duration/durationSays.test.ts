import type { PlaceDuration } from '@loka/contract/profile';
import { coincidenceOf, durationCurve, durationOfReadings, emptySpans } from '@loka/core/profile';
import { textOf } from '../parts.js';
import { durationSays } from './durationSays.js';

const MINUTE = 60_000;
const START = Date.parse('2026-11-02T00:00Z');

/** A day by the minute. */
function day(watts: (minute: number) => number) {
  const spans = emptySpans(START, MINUTE, 1440);
  for (let i = 0; i < 1440; i++) spans.mean[i] = watts(i);
  return spans;
}
const found = (change: Partial<PlaceDuration>): PlaceDuration => ({
  nodeId: 1,
  from: START,
  to: START + 1440 * MINUTE,
  step: MINUTE,
  byMeans: null,
  byReadings: null,
  readings: 0,
  highest: null,
  readEvery: 1000,
  coincidence: null,
  ...change,
});
const said = (change: Partial<PlaceDuration>) => durationSays(found(change), 'UTC').map(textOf);

it('by readings: shares of the time, the highest, utilisation', () => {
  // Ten hours at 600 W, the rest at 100 W; one reading of a second at 2 kW.
  const watts = [600, 100, 2000];
  const byReadings = durationOfReadings(watts, [36_000_000, 50_399_000, 1000]);
  const words = said({
    byReadings,
    byMeans: durationCurve(day((m) => (m < 600 ? 600 : 100))),
    readings: 86_400,
    highest: { watts: 2000, at: START + 5000 },
  });
  expect(words[0]).toBe(
    'Above 600 W for 5.0 % of the time, above 100 W for half of it, above 100 W for 95 %. (of 86 400 readings, each for as long as it held)',
  );
  expect(words[1]).toBe(
    'Highest reading 2.00 kW, on Mon 2 Nov 00:00:05. (read every 1 s at the slowest: what is shorter is not seen; the highest mean of a minute is 600 W)',
  );
  // Mean 308.4 W: 0.154 of 2 kW, of 8766 h.
  expect(words[2]).toMatch(/^Utilisation 135\d h a year, load factor 0\.15\./);
});

it('of a long period by means, and nothing of nothing', () => {
  const words = said({
    byMeans: durationCurve(day(() => 250)),
    step: 900_000,
    highest: { watts: 250, at: START },
  });
  expect(words[0]).toContain('(by the means of quarter-hours; up to a week by every reading)');
  expect(words[1]).not.toContain('the highest mean');
  expect(said({})).toEqual([]);
});

it('coincidence of what hangs on it', () => {
  const loads = [day((m) => (m < 15 ? 1000 : 0)), day((m) => (m >= 30 && m < 45 ? 3000 : 0))];
  const words = said({ byMeans: durationCurve(day(() => 250)), coincidence: coincidenceOf(loads, 900_000) });
  expect(words.at(-1)).toBe(
    'The 2 metered places behind it reach 3.00 kW together over a quarter-hour, 75 % of the sum of their own highest. (on Mon 2 Nov 00:30; 4.00 kW if all of them fell together: coincidence 0.75, diversity factor 1.33)',
  );
});
