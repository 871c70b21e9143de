import type { CommandDone } from '@loka/contract/commands';
import type { ProblemDetails } from '@loka/contract/health';
import type { Point } from '@loka/contract/points';
import type { RegisterMap } from '@loka/contract/registers';
import { LiveReadings } from '../src/live/liveReadings.js';
import { Loka, until } from './support/loka.js';
import { makeSite, TestBuilding, type MadeSite } from './support/site.js';

// Values that somebody writes to a device: held against what it takes, sent once, and what it gives back is told.
let building: TestBuilding;
let loka: Loka;
let site: MadeSite;
let points: Point[];

beforeAll(async () => {
  building = await TestBuilding.start(['relay-board', 'inverter', 'gateway']);
  loka = await Loka.start();
  site = await makeSite(loka, building, ['relay-board']);
  const maps = await loka.ask<RegisterMap[]>('/register-maps');
  const connect = async (name: 'inverter' | 'gateway', map: RegExp) => {
    const { id: linkId } = await loka.ask<{ id: number }>('/links', 'POST', {
      name,
      host: '127.0.0.1',
      port: building.ports[name],
      timeoutMs: 500,
      enabled: true,
    });
    const mapId = maps.find((m) => map.test(m.name))?.id;
    await loka.ask('/devices', 'POST', { linkId, mapId, name, unit: 1 });
  };
  await connect('inverter', /^Hybrid inverter/);
  await connect('gateway', /^Single-phase/);
  points = await loka.ask<Point[]>('/points');
}, 60_000);
afterAll(async () => {
  await loka.stop();
  await building.stop();
});

const point = (device: string, key: string): number => {
  const found = points.find((p) => p.deviceName === device && p.key === key);
  if (!found) throw new Error(`no point ${device}/${key}`);
  return found.id;
};
const send = (id: number, body?: object) => loka.raw(`/points/${id}/send`, 'POST', body);
const refusal = async (id: number, body?: object): Promise<[number, string]> => {
  const { status, body: told } = await send(id, body);
  return [status, (told as ProblemDetails).detail];
};

it('a typed value is written, stands in the device, is given back and read from then on', async () => {
  const id = point('inverter', 'reserve');
  const done = await loka.ask<CommandDone>(`/points/${id}/send`, 'POST', { value: 42.5 });
  expect(done).toEqual({ sent: 42.5, back: 42.5, unread: null });
  expect(building.running.site.building.battery.reserve).toBeCloseTo(0.425, 6);
  await until('it is read', () => loka.app.get(LiveReadings).get(id)?.v === 42.5);
});

it.each([
  [{ value: 150 }, 422, /cannot be 150/],
  [{ value: 42.55 }, 422, /no room for 42\.55/],
  [{}, 422, /Type a number/],
  [{ value: null }, 422, /Type a number/],
  [{ value: '40' }, 422, /Type a number/],
  // The device takes no less than 5 %, and says so itself.
  [{ value: 3 }, 422, /refuse|illegal|not take/i],
])('%j is answered %d, and changes nothing', async (body, status, says) => {
  const before = building.running.site.building.battery.reserve;
  const [got, detail] = await refusal(point('inverter', 'reserve'), body);
  expect([got, detail]).toEqual([status, expect.stringMatching(says)]);
  expect(building.running.site.building.battery.reserve).toBe(before);
});

it('what always sends the same gives back what then stands there, and takes no other value', async () => {
  const id = point('gateway', 'clear-peak');
  expect((await send(id)).body).toEqual({ sent: 1, back: 0, unread: null });
  expect((await refusal(id, { value: 2 }))[1]).toMatch(/always sends 1/);
});

it('what operates a switch goes by the switch alone, and a contact without one is made a switch first', async () => {
  const coil = (n: number) => site.point('relay-board', `relay-${n}`);
  const { id } = await loka.ask<{ id: number }>('/switches', 'POST', {
    name: 'Cylinder contactor',
    nodeId: site.circuit,
    commandPointId: coil(1),
    statePointId: site.point('relay-board', 'contact-1'),
    timeoutMs: 1000,
  });
  const before = building.running.site.building.contacts.get('hot-water');
  expect(await refusal(coil(1), { value: 0 })).toEqual([409, expect.stringContaining('Cylinder contactor')]);
  expect(await refusal(coil(3), { value: 0 })).toEqual([422, expect.stringContaining('add a switch for it')]);
  expect(building.running.site.building.contacts.get('hot-water')).toBe(before);
  await loka.ask(`/switches/${id}`, 'DELETE');
});

it('what is only read, and what is not there, is refused', async () => {
  expect(await refusal(point('inverter', 'pv-power'), { value: 1 })).toEqual([
    422,
    expect.stringContaining('not written to'),
  ]);
  expect((await send(99_999, { value: 1 })).status).toBe(404);
});

it('of a device that is silent nobody says that it was written', async () => {
  await building.fault('inverter', { kind: 'silent' });
  const before = building.running.site.building.battery.reserve;
  const { status } = await send(point('inverter', 'reserve'), { value: 20 });
  expect(status).toBe(422);
  expect(building.running.site.building.battery.reserve).toBe(before);
  await building.fault('inverter', { kind: 'none' });
});

it('each one that was sent is in the log of changes, those that were refused are not', async () => {
  const rows = await until('the entries', async () => {
    const [rows] = await loka.sql.query("SELECT detail FROM audit WHERE subject LIKE '%/send'");
    return (rows as object[]).length >= 2 && (rows as { detail: unknown }[]);
  });
  expect(rows).toHaveLength(2);
  expect(JSON.stringify(rows[0])).toContain('42.5');
});
