import type { Point } from '@loka/contract/points';
import type { PlaceDuration, PlaceSteps } from '@loka/contract/profile';
import { Loka } from './support/loka.js';
import { register } from './support/point.js';
import { DAY, MINUTE, Recorded } from './support/recorded.js';

// A supply with a meter; on a board without one a fan that is metered and a charger that is not.
let loka: Loka;
let site: Recorded;
const START = Math.floor(Date.now() / DAY) * DAY - 3 * DAY;
const fan = (m: number) => (m % 120 >= 30 && m % 120 < 70 ? 300 : 0);
const charger = (m: number) => (m % 180 >= 100 && m % 180 < 130 ? 2000 : 0);

beforeAll(async () => {
  loka = await Loka.start(undefined, { acquire: false });
  const power = { quantity: 'active-power', unit: 'W', phase: 'total', type: 'float32' } as const;
  site = await Recorded.make(loka, [register('all', 0, power), register('fan', 2, power)]);
  const points = await loka.ask<Point[]>('/points');
  const all = points.find((p) => p.key === 'all') as Point;
  await loka.ask(`/points/${all.id}/assignment`, 'PUT', { nodeId: site.supply, phase: 'total' });
  const board = (await loka.ask<{ id: number; kind: string }[]>('/installation')).find(
    (n) => n.kind === 'board',
  );
  await loka.ask('/installation', 'POST', {
    kind: 'circuit',
    parentId: board?.id,
    name: 'Charger',
    way: '2',
    phases: 'L1 L2 L3',
    protectiveDevice: null,
    ratedCurrent: 16,
    ratedPower: 2100,
  });
  await site.minutely('all', START, 2 * 1440 + 1, (m) => 60 + fan(m) + charger(m));
  await site.minutely('fan', START, 2 * 1440 + 1, fan);
  await site.rollUp();
}, 60_000);
afterAll(() => loka.stop());

it('what is metered is removed first, and what is not is found behind a board without a meter', async () => {
  const got = await loka.ask<PlaceSteps>(`/profile/${site.supply}/steps?from=${START}&to=${START + DAY}`);
  expect(got.less).toEqual([site.place]);
  const [only, ...more] = got.loads;
  expect(more).toEqual([]);
  // Half an hour eight times a day, at the 2 kW of its steps, whatever its plate says.
  expect(only).toMatchObject({ name: 'Charger', by: 'plate', watts: 2100, on: 8 * 30 * MINUTE });
  expect(only?.energy).toBeCloseTo(8000, 3);
  expect(only?.runs).toHaveLength(8);
  expect(got.unexplained).toEqual([]);
});

it('the metered places behind a supply coincide as far as they are known', async () => {
  const got = await loka.ask<PlaceDuration>(
    `/profile/${site.supply}/duration?from=${START}&to=${START + DAY}`,
  );
  // One alone coincides with nothing.
  expect(got.coincidence).toBeNull();
  expect(got.highest?.watts).toBe(2360);
});
