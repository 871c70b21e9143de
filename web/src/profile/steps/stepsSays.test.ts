import type { PlaceSteps } from '@loka/contract/profile';
import { emptySpans, loadSteps } from '@loka/core/profile';
import { textOf } from '../parts.js';
import { stepsSays } from './stepsSays.js';

const MINUTE = 60_000;
const START = Date.parse('2026-11-02T00:00Z');

/** Two days by the minute: a heater of 1200 W for 30 min each six hours over 60 W. */
function found(known: { name: string; watts: number }[], days = 2): PlaceSteps {
  const spans = emptySpans(START, MINUTE, days * 1440);
  for (let i = 0; i < spans.length; i++) spans.mean[i] = 60 + (i % 360 >= 100 && i % 360 < 130 ? 1200 : 0);
  const steps = loadSteps(spans, known);
  return {
    ...steps,
    loads: steps.loads.map((l) => ({ ...l, by: 'test' as const })),
    nodeId: 1,
    from: START,
    to: START + days * 1440 * MINUTE,
    step: MINUTE,
    less: [],
  };
}
const said = (known: { name: string; watts: number }[]) => stepsSays(found(known), 'UTC').map(textOf);

it('a load that is known, with how sure', () => {
  // Eight runs of half an hour: two hours a day, 4.8 kWh.
  expect(said([{ name: 'Heater', watts: 1200 }])).toEqual([
    '“Heater” was probably on for 2 h a day, 8 times in all: 4.80 kWh. (found by a step test to take 1.20 kW; its steps are 1.20 kW; last on Tue 3 Nov 19:40; fairly sure)',
    'Every step is explained. (16 steps)',
  ]);
});

it('one that never came, and one that nobody has named', () => {
  const words = said([{ name: 'Pump', watts: 300 }]);
  expect(words[0]).toBe('“Pump” was not seen to come on or go off. (found by a step test to take 300 W)');
  expect(words[1]).toMatch(
    /^Something of about 1\.20 kW that nobody has named came on 8 times and went off 8 times\./,
  );
});

it('runs of which one end was missed', () => {
  const all = found([{ name: 'Heater', watts: 1200 }]);
  const [load] = all.loads as [PlaceSteps['loads'][0]];
  const lost = {
    ...load,
    on: 0,
    energy: 0,
    runs: load.runs.map((r) => ({ ...r, end: null, lost: true as const })),
  };
  expect(textOf(stepsSays({ ...all, loads: [lost] }, 'UTC')[0] as never)).toMatch(
    /^“Heater” probably came on 8 times; for how long cannot be told\. \(.*of 8 one end was missed, as where it tapers off: they do not count;/,
  );
  const some = { ...load, runs: load.runs.map((r, i) => (i === 0 ? { ...r, lost: true as const } : r)) };
  expect(textOf(stepsSays({ ...all, loads: [some] }, 'UTC')[0] as never)).toMatch(
    /^“Heater” was probably on for at least 2 h a day, 8 times in all: 4\.80 kWh\./,
  );
});

it('one whose steps others make as well', () => {
  const [load] = found([{ name: 'Pump', watts: 300 }]).loads as [PlaceSteps['loads'][0]];
  const words = stepsSays({ ...found([]), loads: [{ ...load, others: 7 }] }, 'UTC').map(textOf);
  expect(words[0]).toBe(
    'Whether “Pump” was on cannot be told. (found by a step test to take 300 W; something of about as much came on 7 times, no more than others do by chance)',
  );
});

it('nothing at all', () => {
  const none = { ...found([]), count: 0, unexplained: [], groups: [] };
  expect(stepsSays(none, 'UTC').map(textOf)[0]).toMatch(/^Nothing came on or went off/);
});
