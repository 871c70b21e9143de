import type { Switch } from '@loka/contract/control';
import type { InstallationNode } from '@loka/contract/installation';
import type { OutputTrial } from '@loka/contract/outputs';
import { Loka, until } from './support/loka.js';
import { makeSite, TestBuilding, type MadeSite } from './support/site.js';

// The relay board of the building: relay 1 is the hot-water cylinder's, relay 2 the espresso machine's.
let building: TestBuilding;
let loka: Loka;
let site: MadeSite;
let cylinder: number;
let espresso: number;

beforeAll(async () => {
  building = await TestBuilding.start();
  building.running.site.building.inverterOff = true;
  for (const load of ['hot-water', 'espresso']) building.load(load, 'on');
  loka = await Loka.start();
  site = await makeSite(loka, building, ['clamp-node', 'relay-board']);
  const board = (await loka.ask<InstallationNode[]>('/installation')).find((n) => n.kind === 'board');
  const made = await loka.ask<{ id: number }>('/installation', 'POST', {
    kind: 'circuit',
    parentId: board?.id,
    name: 'Espresso machine',
    way: '2',
    phases: 'L3',
    protectiveDevice: null,
    ratedCurrent: 20,
  });
  for (const key of ['current-3', 'power-3'])
    await loka.ask(`/points/${site.point('clamp-node', key)}/assignment`, 'PUT', {
      nodeId: made.id,
      phase: 'L3',
    });
  const make = async (name: string, nodeId: number, output: number) =>
    (
      await loka.ask<{ id: number }>('/switches', 'POST', {
        name,
        nodeId,
        commandPointId: site.point('relay-board', `relay-${output}`),
        statePointId: site.point('relay-board', `contact-${output}`),
        timeoutMs: 3000,
      })
    ).id;
  cylinder = await make('Cylinder contactor', site.circuit, 1);
  // In the map the wrong output was chosen for the espresso machine: number 1 is taken, 3 is the bakery's lighting.
  espresso = await make('Espresso contactor', made.id, 3);
}, 60_000);
afterAll(async () => {
  await loka.stop();
  await building.stop();
});

const stands = async (id: number) =>
  (await loka.ask<Switch[]>('/switches')).find((s) => s.id === id)?.readBack;
const known = (id: number) =>
  until('the contact to be read', async () => (await stands(id)) !== null, 20_000);
const trial = async (id: number) =>
  (await loka.ask<OutputTrial[]>('/outputs')).find((t) => t.switchId === id);
const begin = (id: number) => loka.raw(`/outputs/${id}/try`, 'POST');
const contact = (output: number) => building.running.site.relayBoard.bit('discrete', output - 1);

it('a relay is operated, its circuit moves with it, and it is put back as it was', async () => {
  await known(cylinder);
  // Readings of before have to be there.
  await until(
    'readings',
    async () => (await loka.ask<{ seconds: number }>(`/verifications/${site.circuit}`)).seconds > 8,
    30_000,
  );
  expect((await begin(cylinder)).status).toBe(201);
  await until('the contact to open', () => contact(1) === false, 10_000);
  // One at a time.
  expect((await begin(espresso)).status).toBe(409);
  await until('a verdict', async () => (await trial(cylinder))?.endedAt !== null, 60_000);
  expect(contact(1)).toBe(true);
  expect(await trial(cylinder)).toMatchObject({
    trouble: '',
    closedBefore: true,
    result: { verdict: 'pass', movedId: site.circuit },
  });
});

it('a trial that the database keeps waiting is not begun later, when nobody reckons with it any more', async () => {
  await known(cylinder);
  const locker = await loka.sql.getConnection();
  await locker.query('LOCK TABLES output_trials WRITE');
  const begun = begin(cylinder);
  // Longer than it may take.
  await new Promise((resolve) => setTimeout(resolve, 5000));
  await locker.query('UNLOCK TABLES');
  locker.release();
  expect((await begun).status).toBe(503);
  await until('the trial to be given up', async () => (await trial(cylinder))?.endedAt !== null, 10_000);
  expect((await trial(cylinder))?.result).toBeNull();
  expect(contact(1)).toBe(true);
  const operations = await loka.sql.query(
    "SELECT 1 FROM switch_operations WHERE reason = 'Output tried' AND at > ?",
    [Date.now() - 15_000],
  );
  expect((operations[0] as unknown[]).length).toBe(0);
});

it('an output that moves nothing of its circuit is not taken for right', async () => {
  expect((await begin(espresso)).status).toBe(201);
  await until('a verdict', async () => (await trial(espresso))?.endedAt !== null, 60_000);
  expect((await trial(espresso))?.result?.verdict).toBe('cannot-tell');
  expect(contact(3)).toBe(true);
});

it('it is put back at once when somebody stops it, and left alone when somebody else operates it', async () => {
  expect(await begin(cylinder)).toMatchObject({ status: 201 });
  await until('the contact to open', () => contact(1) === false, 10_000);
  expect((await loka.raw('/outputs/trial', 'DELETE')).status).toBe(204);
  await until('the contact to close', () => contact(1) === true, 10_000);
  expect(await trial(cylinder)).toMatchObject({ result: null, trouble: 'Stopped before it had been seen.' });

  // Not before the last command has come to its end.
  await until('it to be taken', async () => (await begin(cylinder)).status === 201, 10_000);
  await until('the contact to open', () => contact(1) === false, 10_000);
  await loka.ask(`/switches/${cylinder}/operate`, 'POST', { closed: true });
  await until('the end', async () => (await trial(cylinder))?.endedAt !== null, 20_000);
  expect((await trial(cylinder))?.trouble).toContain('operated it in the meantime');
  expect(contact(1)).toBe(true);
});

it('who stops Loka in the middle leaves no contact the other way round', async () => {
  await until('it to be taken', async () => (await begin(cylinder)).status === 201, 10_000);
  await until('the contact to open', () => contact(1) === false, 10_000);
  await loka.halt();
  expect(contact(1)).toBe(true);
  loka = await Loka.start(loka.config);
  expect((await trial(cylinder))?.trouble).toBe('Loka was stopped while it was tried.');
  await known(cylinder);
}, 60_000);

it('after a crash in the middle nothing is sent, and how the contact stood is said', async () => {
  // What a process leaves behind that was killed while the contact was open.
  await loka.sql.query(
    'INSERT INTO output_trials (switchId, startedAt, who, closedBefore, trouble) VALUES (?, ?, ?, 1, ?)',
    [cylinder, Date.now() - 5000, 'local person', ''],
  );
  building.running.site.relayBoard.writeCoil(0, false);
  await loka.halt();
  loka = await Loka.start(loka.config);
  await known(cylinder);
  expect((await trial(cylinder))?.trouble).toBe(
    'Loka was restarted while it was tried. Before, the contact was closed: see how it stands.',
  );
  expect(contact(1)).toBe(false);
  expect((await trial(cylinder))?.endedAt).not.toBeNull();
  building.running.site.relayBoard.writeCoil(0, true);
  await until('it to be closed', async () => (await stands(cylinder)) === true, 10_000);
}, 60_000);

it('a contact that does not follow is said to, and what nobody can read is not tried', async () => {
  building.running.site.relayBoard.welded.add(0);
  await until('it to be taken', async () => (await begin(cylinder)).status === 201, 10_000);
  await until('it to be given up', async () => (await trial(cylinder))?.endedAt !== null, 30_000);
  expect((await trial(cylinder))?.trouble).toBe('The contact has not followed.');
  building.running.site.relayBoard.welded.clear();
  await building.fault('relay-board', { kind: 'silent' });
  await until('it not to be known', async () => (await stands(cylinder)) === null, 20_000);
  const { status, body } = await begin(cylinder);
  expect(status).toBe(409);
  expect((body as { detail: string }).detail).toContain('It is not known how the contact');
  expect((await loka.raw('/outputs/9999/try', 'POST')).status).toBe(404);
});
