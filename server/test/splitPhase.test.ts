import type { InstallationNode } from '@loka/contract/installation';
import type { Site } from '@loka/contract/site';
import { Loka } from './support/loka.js';

// A supply of two opposite lines, 120 V against neutral, and one of three: what may hang on which.
let loka: Loka;
beforeAll(async () => {
  loka = await Loka.start(undefined, { acquire: false });
});
afterAll(() => loka.stop());

const SITE = {
  name: 'House',
  timeZone: 'America/New_York',
  nominalVoltage: 120,
  frequency: 60,
  conductorScheme: 'iec-60445',
};
const site = (supplySystem: string) => loka.raw('/site', 'PUT', { ...SITE, supplySystem });
const node = (kind: string, parentId: number | null, name: string, phases: string) =>
  loka.raw('/installation', 'POST', {
    kind,
    parentId,
    name,
    way: name === 'Board' ? 'MB' : name,
    phases,
    protectiveDevice: null,
    ratedCurrent: 30,
  });
const fault = ({ body }: { body: unknown }) =>
  (body as { errors?: { field: string; message: string }[] }).errors?.[0];

it('a split-phase supply has two lines, and two-pole circuits between them', async () => {
  expect((await site('split-phase')).status).toBe(200);
  const supply = (await node('supply', null, 'Supply', 'L1 L2')).body as { id: number };
  const board = (await node('board', supply.id, 'Board', 'L1 L2')).body as { id: number };
  expect((await node('circuit', board.id, 'Dryer', 'L1 L2')).status).toBe(201);
  expect((await node('circuit', board.id, 'Lamps', 'L2')).status).toBe(201);
  for (const phases of ['L3', 'L1 L3', 'L1 L2 L3'])
    expect(fault(await node('circuit', board.id, `On ${phases}`, phases))).toEqual({
      field: 'phases',
      message: 'This supply has the lines L1 and L2.',
    });
});

it('a supply loses no line on which something hangs, and knows three where it has them', async () => {
  expect((await site('three-phase')).status).toBe(200);
  const board = (await loka.ask<InstallationNode[]>('/installation')).find((n) => n.kind === 'board');
  expect((await node('circuit', board?.id as number, 'Welder', 'L1 L3')).status).toBe(201);
  expect(fault(await site('split-phase'))).toEqual({
    field: 'supplySystem',
    message: '“Welder” is on L1 L3; such a supply has L1 and L2.',
  });
  expect((await loka.ask<{ site: Site }>('/site')).site.supplySystem).toBe('three-phase');
});
