import { execFile } from 'node:child_process';
import { createConnection } from 'node:net';
import { promisify } from 'node:util';
import { freePorts } from '../../../scripts/lib/ports.mjs';
import { PORT_NAMES, runBuilding, type RunningBuilding } from '../run.js';
import { valuesOf } from '../site.js';

let building: RunningBuilding;
let ports: Record<string, number>;

beforeAll(async () => {
  const free = (await freePorts(PORT_NAMES.length)) as number[];
  ports = Object.fromEntries(PORT_NAMES.map((name, i) => [name, free[i] as number]));
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
    `http://127.0.0.1:${ports.control}${path}`,
    body ? { method: 'PUT', body: JSON.stringify(body) } : {},
  );
  return {
    status: response.status,
    body: (await response.json()) as { error?: string; contacts: Record<string, boolean> },
  };
};

describe('on the wire (Modbus Application Protocol V1.1b3: function, count, data)', () => {
  it('the meter gives a voltage as a float, the most significant word first', async () => {
    const answer = (await ask(ports['main-meter']!, [4, 0, 0, 0, 2]))!;
    expect(answer.slice(0, 2)).toEqual([4, 4]);
    const view = new DataView(Uint8Array.from(answer.slice(2)).buffer);
    expect(view.getFloat32(0)).toBeGreaterThan(210);
    expect(view.getFloat32(0)).toBeLessThan(250);
  });
  it('the clamp node gives counts, and refuses registers that it does not have with exception 2', async () => {
    const answer = (await ask(ports['clamp-node']!, [4, 0, 110, 0, 1]))!;
    expect(answer.slice(0, 2)).toEqual([4, 2]);
    expect(await ask(ports['clamp-node']!, [4, 0, 105, 0, 1])).toEqual([0x84, 2]);
  });
  it('the relay board takes a coil (05 … FF 00) and reports the contact', async () => {
    expect(await ask(ports['relay-board']!, [5, 0, 0, 0, 0])).toEqual([5, 0, 0, 0, 0]);
    expect(building.site.building.contacts.get('hot-water')).toBe(false);
    expect(await ask(ports['relay-board']!, [2, 0, 0, 0, 1])).toEqual([2, 1, 0]);
    expect(await ask(ports['relay-board']!, [5, 0, 0, 0xff, 0])).toEqual([5, 0, 0, 0xff, 0]);
    expect(await ask(ports['relay-board']!, [2, 0, 0, 0, 1])).toEqual([2, 1, 1]);
  });
  it('another unit gets no answer', async () =>
    expect(await ask(ports['main-meter']!, [4, 0, 0, 0, 2], { unit: 9, ms: 400 })).toBeNull());
});

describe('faults from the control port', () => {
  afterEach(() => control('/devices/main-meter/fault', { kind: 'none' }));

  it('silent', async () => {
    await control('/devices/main-meter/fault', { kind: 'silent' });
    expect(await ask(ports['main-meter']!, [4, 0, 0, 0, 2], { ms: 400 })).toBeNull();
  });
  it('slow', async () => {
    await control('/devices/main-meter/fault', { kind: 'slow', ms: 300 });
    const began = Date.now();
    expect(await ask(ports['main-meter']!, [4, 0, 0, 0, 2])).not.toBeNull();
    expect(Date.now() - began).toBeGreaterThanOrEqual(290);
  });
  it('exception answers', async () => {
    await control('/devices/main-meter/fault', { kind: 'exception', code: 6 });
    expect(await ask(ports['main-meter']!, [4, 0, 0, 0, 2])).toEqual([0x84, 6]);
  });
  it('down, and up again', async () => {
    await control('/devices/main-meter/fault', { kind: 'down' });
    await expect(ask(ports['main-meter']!, [4, 0, 0, 0, 2])).rejects.toThrow('ECONNREFUSED');
    await control('/devices/main-meter/fault', { kind: 'none' });
    expect(await ask(ports['main-meter']!, [4, 0, 0, 0, 2])).not.toBeNull();
  });
  it('stuck: the words stay while the building goes on', async () => {
    const frequency = () => ask(ports['main-meter']!, [4, 0, 22, 0, 2]);
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
    const [, , high, low] = (await ask(ports['clamp-node']!, [4, 0, 111, 0, 1]))!;
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

// mbpoll is Debian's, on libmodbus: it shares no code with the building or with Loka.
describe('read by mbpoll', () => {
  const mbpoll = async (port: number, ...args: string[]) => {
    const { stdout } = await promisify(execFile)('mbpoll', [
      '-m',
      'tcp',
      '-p',
      String(port),
      '-0',
      '-1',
      '-q',
      ...args,
      '127.0.0.1',
    ]);
    return [...stdout.matchAll(/^\[(\d+)\]:\s+(\S+)/gm)].map((m) => Number(m[2]));
  };
  const values = (name: string) => valuesOf(building.site).find((d) => d.name === name)!.values;

  it('floats, most significant word first, and least', async () => {
    const [volts] = await mbpoll(ports['main-meter']!, '-r', '0', '-c', '1', '-t', '3:float', '-B');
    expect(volts).toBeCloseTo(values('main-meter')['voltage-l1']!, 0);
    const [swapped] = await mbpoll(ports['mixer-meter']!, '-r', '4000', '-c', '1', '-t', '4:float');
    expect(swapped).toBeCloseTo(values('mixer-meter')['voltage-l1']!, 0);
  });
  it('four units behind one address, whole numbers; nobody at a fifth', async () => {
    for (const [unit, name] of ['display-counter', 'dishwasher', 'shop-lighting', 'espresso'].entries()) {
      const [tenths] = await mbpoll(ports.gateway!, '-a', String(unit + 1), '-r', '0', '-c', '1', '-t', '3');
      expect(tenths! / 10).toBeCloseTo(values(`${name}-meter`).voltage!, 0);
    }
    await expect(mbpoll(ports.gateway!, '-a', '5', '-r', '0', '-c', '1', '-t', '3')).rejects.toThrow();
  });
  it('a table that counts from 1: what it calls 101 is 100 on the wire, whole volts and hundredths', async () => {
    const [whole, hundredths] = await mbpoll(ports['office-meter']!, '-r', '100', '-c', '2', '-t', '3');
    expect(whole! + hundredths! / 100).toBeCloseTo(values('office-meter').voltage!, 0);
  });
  it('the SunSpec marker, its common model and the meter behind it', async () => {
    const words = await mbpoll(ports['van-meter']!, '-r', '40000', '-c', '4', '-t', '4:hex');
    expect(words).toEqual([0x5375, 0x6e53, 1, 66]);
    expect(await mbpoll(ports['van-meter']!, '-r', '40070', '-c', '2', '-t', '4')).toEqual([203, 105]);
    expect(await mbpoll(ports['van-meter']!, '-r', '40177', '-c', '2', '-t', '4:hex')).toEqual([0xffff, 0]);
  });
  it('one unit behind the gateway can fall silent alone', async () => {
    await control('/devices/gateway/fault', { kind: 'silent', unit: 2 });
    expect(await ask(ports.gateway!, [4, 0, 0, 0, 1], { unit: 2, ms: 300 })).toBeNull();
    expect(await ask(ports.gateway!, [4, 0, 0, 0, 1], { unit: 1 })).not.toBeNull();
    await control('/devices/gateway/fault', { kind: 'none', unit: 2 });
    expect(await ask(ports.gateway!, [4, 0, 0, 0, 1], { unit: 2 })).not.toBeNull();
  });
});

// mosquitto's own client listens to the building's broker.
describe('heard by mosquitto_sub', () => {
  const hear = async (topic: string, count = 1) => {
    const { stdout } = await promisify(execFile)('mosquitto_sub', [
      '-p',
      String(ports.broker),
      '-t',
      topic,
      '-C',
      String(count),
      '-W',
      '10',
      '-v',
    ]);
    return stdout
      .trim()
      .split('\n')
      .map((line) => line.split(/ (.*)/s).slice(0, 2) as [string, string]);
  };
  it('a plug meter reports JSON with several values, and says that it is there', async () => {
    const [[, payload]] = (await hear('brindlewick/plug-cabinet/report')) as [[string, string]];
    const report = JSON.parse(payload) as {
      at: string;
      mains: { volts: number; watts: number };
      closed: boolean;
    };
    expect(report.mains.volts).toBeGreaterThan(210);
    expect(Math.abs(Date.parse(report.at) - Date.now())).toBeLessThan(5000);
    expect(await hear('brindlewick/plug-cabinet/online')).toEqual([
      ['brindlewick/plug-cabinet/online', 'yes'],
    ]);
  });
  it('a bare clamp reports a plain number', async () => {
    const [[, payload]] = (await hear('brindlewick/clamp-fan/amps')) as [[string, string]];
    expect(Number(payload)).toBeGreaterThan(0);
  });
  it('a command opens the contact, and the state comes back on its own topic', async () => {
    await promisify(execFile)('mosquitto_pub', [
      '-p',
      String(ports.broker),
      '-t',
      'brindlewick/plug-prover/contact/wanted',
      '-m',
      'open',
      '-q',
      '1',
    ]);
    for (let i = 0; i < 200 && building.site.building.contacts.get('prover') !== false; i++)
      await new Promise((r) => setTimeout(r, 20));
    expect(await hear('brindlewick/plug-prover/contact')).toEqual([
      ['brindlewick/plug-prover/contact', 'open'],
    ]);
    building.site.building.contacts.set('prover', true);
  });
  it('a node that goes without a word leaves its last will', async () => {
    await control('/nodes/plug-cabinet/fault', { kind: 'down' });
    for (let i = 0; i < 100 && (await hear('brindlewick/plug-cabinet/online'))[0]?.[1] !== 'no'; i++)
      await new Promise((r) => setTimeout(r, 50));
    expect((await hear('brindlewick/plug-cabinet/online'))[0]?.[1]).toBe('no');
    await control('/nodes/plug-cabinet/fault', { kind: 'none' });
    for (let i = 0; i < 100 && (await hear('brindlewick/plug-cabinet/online'))[0]?.[1] !== 'yes'; i++)
      await new Promise((r) => setTimeout(r, 50));
    expect((await hear('brindlewick/plug-cabinet/online'))[0]?.[1]).toBe('yes');
  });
});
