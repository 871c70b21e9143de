import type { InstallationNode } from '@loka/contract/installation';
import type { Point } from '@loka/contract/points';
import type { RegisterMap } from '@loka/contract/registers';
import type { Verification } from '@loka/contract/verify';
import { Loka, until } from './support/loka.js';
import { makeSite, TestBuilding, type MadeSite } from './support/site.js';

// A battery behind an inverter takes a step of 3 kW, so that the supply does not see it: what the inverter gave is added to
// what the supply saw, once, also where roof and battery stand below the inverter with values of their own.
let building: TestBuilding;
let loka: Loka;
let site: MadeSite;

beforeAll(async () => {
  building = await TestBuilding.start(['main-meter', 'clamp-node', 'relay-board', 'inverter']);
  for (const load of [
    'espresso',
    'cold-room',
    'dishwasher',
    'display-counter',
    // In the evening it alone takes more than the battery gives.
    'van-charger',
    'deck-oven',
    'mixer',
    'prover',
  ])
    building.load(load, 'off');
  building.load('hot-water', 'off');
  loka = await Loka.start();
  site = await makeSite(loka, building, ['main-meter', 'clamp-node', 'relay-board']);
  const nodes = await loka.ask<InstallationNode[]>('/installation');
  const id = (kind: string) => nodes.find((n) => n.kind === kind)?.id as number;
  await loka.ask(`/devices/${site.devices['main-meter']}/assignment`, 'PUT', { nodeId: id('supply') });
  const make = async (kind: string, parentId: number, name: string) =>
    (
      await loka.ask<{ id: number }>('/installation', 'POST', {
        kind,
        parentId,
        name,
        way: kind === 'circuit' ? '2' : '',
        phases: 'L1 L2 L3',
        protectiveDevice: null,
        ratedCurrent: null,
        flow: 'both',
      })
    ).id;
  const inverter = await make('circuit', id('board'), 'Inverter');
  const parts = {
    roof: await make('load', inverter, 'Roof plant'),
    battery: await make('load', inverter, 'Battery'),
  };
  const { id: linkId } = await loka.ask<{ id: number }>('/links', 'POST', {
    name: 'inverter',
    host: '127.0.0.1',
    port: building.ports.inverter,
    timeoutMs: 1000,
    enabled: true,
  });
  const mapId = (await loka.ask<RegisterMap[]>('/register-maps')).find((m) =>
    m.name.startsWith('Hybrid'),
  )?.id;
  await loka.ask('/devices', 'POST', { linkId, mapId, name: 'Inverter', unit: 1 });
  const points = await loka.ask<Point[]>('/points');
  const [roof, battery] = ['pv-power', 'battery-power'].map((key) => points.find((p) => p.key === key)?.id);
  const virtual = (name: string, formula: string, nodeId: number) =>
    loka.ask('/virtual-meters', 'POST', {
      name,
      formula,
      inputs: [
        { name: 'roof', pointId: roof },
        { name: 'battery', pointId: battery },
      ].filter((i) => formula.includes(i.name)),
      quantity: 'active-power',
      phase: 'total',
      nodeId,
      intervalMs: 1000,
    });
  await virtual('Output', '-(roof + battery)', inverter);
  await virtual('Roof', '-roof', parts.roof);
  await virtual('Battery', '-battery', parts.battery);
}, 60_000);
afterAll(async () => {
  await loka.stop();
  await building.stop();
});

it('the step of a load that the battery takes up is seen above as large as it is', async () => {
  const view = () => loka.ask<Verification>(`/verifications/${site.circuit}`);
  await until('calm readings', async () => (await view()).seconds >= 12, 40_000);
  const { battery } = building.running.site.building;
  const before = battery.watts;
  building.load('hot-water', 'on');
  const event = await until(
    'the step',
    async () => (await view()).events.find((e) => e.on && e.own !== null && e.above !== null),
    40_000,
  );
  // By night it gives more, by day it takes less: the supply itself has moved by far less than the load.
  expect(battery.watts - before).toBeGreaterThan(1500);
  expect(Math.abs((event.above as number) / (event.own as number) - 1)).toBeLessThan(0.15);
}, 120_000);
