import { isReadable } from '@loka/core/points';
import type { Device } from '@loka/contract/devices';
import type { Point } from '@loka/contract/points';
import type { InstallationNode } from '@loka/contract/installation';
import type { VirtualMeter } from '@loka/contract/virtual';
import { PORT_NAMES } from '@loka/fieldsim/run';
import { readFileSync } from 'node:fs';
import { SiteImport } from '../src/import/siteImport.js';
import type { SiteFile } from '../src/import/siteFile.js';
import { LiveReadings } from '../src/live/liveReadings.js';
import { Loka, until } from './support/loka.js';
import { TestBuilding } from './support/site.js';

// The sample site as it ships, with every device of the building: what Loka reads with the maps that it ships is what
// each device shows, value by value. What a device shows comes from its own model, not from the maps.
let loka: Loka;
let building: TestBuilding;
let points: Point[];
let nodes: InstallationNode[];
const file = JSON.parse(
  readFileSync(new URL('../../fieldsim/sample-site.json', import.meta.url), 'utf8'),
) as SiteFile & {
  links: { ref: string; port: number }[];
  devices: { ref: string; name: string }[];
};

beforeAll(async () => {
  [loka, building] = await Promise.all([
    Loka.start(),
    TestBuilding.start(PORT_NAMES.filter((name) => name !== 'control')),
  ]);
  for (const link of file.links) link.port = building.ports[link.ref as keyof typeof building.ports];
  await new SiteImport(loka.app).run(file);
  points = await loka.ask<Point[]>('/points');
  nodes = await loka.ask<InstallationNode[]>('/installation');
}, 60_000);
afterAll(async () => {
  await loka.stop();
  await building.stop();
});

const live = (id: number) => loka.app.get(LiveReadings).get(id);
const shown = (ref: string): Record<string, number> => {
  const { stations, nodes: senders } = building.running.site;
  const device = [...Object.values(stations).flat(), ...senders].find((d) => d.name === ref);
  if (!device) throw new Error(`the building has no ${ref}`);
  return device.values();
};
const near = (a: number, b: number) => Math.abs(a - b) <= 0.01 + 0.005 * Math.max(Math.abs(a), Math.abs(b));

it.each(file.devices.map((d) => [d.name, d.ref] as const))(
  '%s: every value reads what the device shows',
  async (name, ref) => {
    const own = points.filter((p) => p.deviceName === name && isReadable(p.definition));
    expect(own.length).toBeGreaterThan(0);
    for (const { id, key, definition } of own) {
      const truth = () => {
        const { [key]: value, flags } = shown(ref);
        // A bit is a part of the word that the device shows as its flags.
        if (value === undefined && 'bit' in definition && definition.bit !== undefined)
          return ((flags as number) >> definition.bit) & 1;
        return value;
      };
      if (truth() === undefined) throw new Error(`${name} has no ${key}, which its map describes`);
      await until(`${name}, ${key}`, () => {
        const raw = live(id)?.raw;
        return raw !== undefined && raw !== null && near(raw, truth() as number);
      });
    }
  },
  60_000,
);

it('virtual meters agree with what they are computed from', async () => {
  const meters = await loka.ask<VirtualMeter[]>('/virtual-meters');
  expect(meters.length).toBe(file.virtualMeters?.length);
  const demand = meters.find((m) => m.name === 'Site demand') as VirtualMeter;
  // Grid, roof and battery together are what all loads take, whatever the formula says of their signs.
  const { flows } = building.running.site.building;
  const loads = () =>
    [...flows]
      .filter(([name]) => name !== 'pv' && name !== 'battery')
      .reduce((sum, [, { L1, L2, L3 }]) => sum + L1.watts + L2.watts + L3.watts, 0);
  await until('the demand of the site', () => {
    const now = live(demand.pointId);
    return now?.v !== undefined && now.v !== null && Math.abs(now.v - loads()) < 0.03 * loads() + 100;
  });
});

it('every circuit with a meter shows power, and all devices answer', async () => {
  await until('all devices', async () =>
    (await loka.ask<Device[]>('/devices')).every((d) => d.health.state === 'answering'),
  );
  const metered = nodes.filter((n) => n.powerPointIds.length > 0);
  expect(metered.length).toBeGreaterThan(12);
  for (const node of metered)
    await until(`power of ${node.name}`, () => node.powerPointIds.every((id) => live(id)?.v !== null));
});
