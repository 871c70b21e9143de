import { createConnection } from 'node:net';
import { freePorts } from '../../../scripts/lib/ports.mjs';
import { runBuilding, type RunningBuilding } from '../run.js';

let building: RunningBuilding;
let ports: number[];

beforeAll(async () => {
  ports = await freePorts(5);
  building = await runBuilding({ seed: 7, since: Date.now() - 600_000, ports });
});
afterAll(() => building.stop());

/** Sends bytes after a Modbus TCP header (transaction, protocol 0, length, unit) and gives the answer's bytes after it. */
function ask(port: number, pdu: number[], { unit = 1, ms = 1500 } = {}): Promise<number[] | null> {
  return new Promise((resolve, reject) => {
    const socket = createConnection({ host: '127.0.0.1', port }, () =>
      socket.write(Buffer.from([0x12, 0x34, 0, 0, 0, pdu.length + 1, unit, ...pdu])),
    );
    const timer = setTimeout(() => {
      socket.destroy();
      resolve(null);
    }, ms);
    socket.on('error', (error) => {
      clearTimeout(timer);
      reject(error);
    });
    socket.on('data', (data) => {
      clearTimeout(timer);
      socket.destroy();
      expect([...data.subarray(0, 4)]).toEqual([0x12, 0x34, 0, 0]);
      resolve([...data.subarray(7)]);
    });
  });
}
const control = async (path: string, body?: object) => {
  const response = await fetch(
    `http://127.0.0.1:${ports[4]}${path}`,
    body ? { method: 'PUT', body: JSON.stringify(body) } : {},
  );
  return {
    status: response.status,
    body: (await response.json()) as { error?: string; contacts: Record<string, boolean> },
  };
};

describe('on the wire (Modbus Application Protocol V1.1b3: function, count, data)', () => {
  it('the meter gives a voltage as a float, the most significant word first', async () => {
    const answer = (await ask(ports[0]!, [4, 0, 0, 0, 2]))!;
    expect(answer.slice(0, 2)).toEqual([4, 4]);
    const view = new DataView(Uint8Array.from(answer.slice(2)).buffer);
    expect(view.getFloat32(0)).toBeGreaterThan(210);
    expect(view.getFloat32(0)).toBeLessThan(250);
  });
  it('the clamp node gives counts, and refuses registers that it does not have with exception 2', async () => {
    const answer = (await ask(ports[2]!, [4, 0, 110, 0, 1]))!;
    expect(answer.slice(0, 2)).toEqual([4, 2]);
    expect(await ask(ports[2]!, [4, 0, 105, 0, 1])).toEqual([0x84, 2]);
  });
  it('the relay board takes a coil (05 … FF 00) and reports the contact', async () => {
    expect(await ask(ports[3]!, [5, 0, 0, 0, 0])).toEqual([5, 0, 0, 0, 0]);
    expect(building.site.building.contacts.get('hot-water')).toBe(false);
    expect(await ask(ports[3]!, [2, 0, 0, 0, 1])).toEqual([2, 1, 0]);
    expect(await ask(ports[3]!, [5, 0, 0, 0xff, 0])).toEqual([5, 0, 0, 0xff, 0]);
    expect(await ask(ports[3]!, [2, 0, 0, 0, 1])).toEqual([2, 1, 1]);
  });
  it('another unit gets no answer', async () =>
    expect(await ask(ports[0]!, [4, 0, 0, 0, 2], { unit: 9, ms: 400 })).toBeNull());
});

describe('faults from the control port', () => {
  afterEach(() => control('/devices/main-meter/fault', { kind: 'none' }));

  it('silent', async () => {
    await control('/devices/main-meter/fault', { kind: 'silent' });
    expect(await ask(ports[0]!, [4, 0, 0, 0, 2], { ms: 400 })).toBeNull();
  });
  it('slow', async () => {
    await control('/devices/main-meter/fault', { kind: 'slow', ms: 300 });
    const began = Date.now();
    expect(await ask(ports[0]!, [4, 0, 0, 0, 2])).not.toBeNull();
    expect(Date.now() - began).toBeGreaterThanOrEqual(290);
  });
  it('exception answers', async () => {
    await control('/devices/main-meter/fault', { kind: 'exception', code: 6 });
    expect(await ask(ports[0]!, [4, 0, 0, 0, 2])).toEqual([0x84, 6]);
  });
  it('down, and up again', async () => {
    await control('/devices/main-meter/fault', { kind: 'down' });
    await expect(ask(ports[0]!, [4, 0, 0, 0, 2])).rejects.toThrow('ECONNREFUSED');
    await control('/devices/main-meter/fault', { kind: 'none' });
    expect(await ask(ports[0]!, [4, 0, 0, 0, 2])).not.toBeNull();
  });
  it('stuck: the words stay while the building goes on', async () => {
    const frequency = () => ask(ports[0]!, [4, 0, 22, 0, 2]);
    await control('/devices/main-meter/fault', { kind: 'stuck' });
    const first = await frequency();
    const truth = building.site.building.frequency;
    for (let i = 0; i < 200 && building.site.building.frequency === truth; i++)
      await new Promise((resolve) => setTimeout(resolve, 20));
    expect(building.site.building.frequency).not.toBe(truth);
    expect(await frequency()).toEqual(first);
  });
  it('a clamp the wrong way round reads negative power', async () => {
    await control('/loads/hot-water', { mode: 'on' });
    for (let i = 0; i < 100 && !(building.site.clampNode.values()['power-2']! > 2000); i++)
      await new Promise((resolve) => setTimeout(resolve, 20));
    await control('/clamps/2/reversed', { reversed: true });
    const [, , high, low] = (await ask(ports[2]!, [4, 0, 111, 0, 1]))!;
    expect(((high! << 8) | low!) > 0x8000).toBe(true);
    await control('/clamps/2/reversed', { reversed: false });
  });
  it('says what is wrong with a call', async () => {
    expect(await control('/devices/toaster/fault', { kind: 'down' })).toMatchObject({
      status: 400,
      body: { error: expect.stringContaining('no device toaster') },
    });
    expect(await control('/devices/main-meter/fault', { kind: 'haunted' })).toMatchObject({
      status: 400,
      body: { error: expect.stringContaining('no fault haunted') },
    });
    expect((await control('/state')).status).toBe(200);
  });
});
