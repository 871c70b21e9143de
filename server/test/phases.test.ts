import type { PlacePhases } from '@loka/contract/profile';
import { Loka } from './support/loka.js';
import { register } from './support/point.js';
import { DAY, HOUR, Recorded } from './support/recorded.js';

// A place whose three lines were recorded for two hours: 2300, 1150 and 0 W.
let loka: Loka;
let site: Recorded;
const START = Math.floor(Date.now() / DAY) * DAY - 4 * DAY;
const LINES = ['L1', 'L2', 'L3'] as const;

beforeAll(async () => {
  loka = await Loka.start(undefined, { acquire: false });
  site = await Recorded.make(
    loka,
    LINES.map((phase, i) =>
      register(`power-${phase.toLowerCase()}`, 2 * i, {
        quantity: 'active-power',
        unit: 'W',
        phase,
        type: 'float32',
      }),
    ),
  );
  for (const [i, watts] of [2300, 1150, 0].entries())
    await site.minutely(`power-l${i + 1}`, START, 121, () => watts);
  await site.rollUp();
}, 60_000);
afterAll(() => loka.stop());

const address = (from: number, to: number, node = site.place) =>
  `/profile/${node}/phases?from=${from}&to=${to}`;

it('lines and neutral of what was recorded', async () => {
  const got = await loka.ask<PlacePhases>(address(START, START + 2 * HOUR));
  expect(got.phases?.lines.map((l) => l.mean)).toEqual([2300, 1150, 0]);
  // √(10² + 5² − 10 · 5) A at 230 V.
  expect(got.phases?.now.neutralMean).toBeCloseTo(Math.sqrt(75), 6);
  expect(got).toMatchObject({ circuits: [], phases: { moves: [], known: 2 * HOUR } });
});

it('a place without three lines, one that is not there, and a period of nothing are told', async () => {
  expect((await loka.raw(address(START, START + DAY, site.supply))).status).toBe(409);
  expect((await loka.raw(address(START, START + DAY, 9999))).status).toBe(404);
  expect((await loka.ask<PlacePhases>(address(START - 2 * DAY, START - DAY))).phases).toBeNull();
});
