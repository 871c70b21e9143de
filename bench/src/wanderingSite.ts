import { ServerTCP } from 'modbus-serial';
import { createServer } from 'node:net';

/** A site for benchmarks: ways on one board, each with a current and a power that wander, read once a second. */
export interface WanderingSite {
  ask<T>(path: string, method?: string, body?: unknown): Promise<T>;
  board: number;
  ways: number[];
  /** Sets the power of the first way, W; null lets it wander again. */
  set(watts: number | null): void;
  stop(): Promise<void>;
}

const freePort = (): Promise<number> =>
  new Promise((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolve(port));
    });
  });

/** Makes it in an empty Loka, with a device of its own that has two words for each way, current in mA and power in W. */
export async function wanderingSite(url: string, count: number): Promise<WanderingSite> {
  let set: number | null = null;
  const value = (address: number): number => {
    if (address === 1 && set !== null) return set;
    const way = address >> 1;
    const watts = Math.round(200 + 10 * way + 150 * Math.sin(Date.now() / 700 + way));
    return address % 2 === 0 ? Math.round(watts * 4.3) : watts;
  };
  const answer = (address: number) => Promise.resolve(value(address) & 0xffff);
  const port = await freePort();
  const device = new ServerTCP(
    { getInputRegister: answer, getHoldingRegister: answer },
    { host: '127.0.0.1', port, unitID: 255 },
  );
  const ask = async <T>(path: string, method = 'GET', body?: unknown): Promise<T> => {
    const response = await fetch(`${url}/api${path}`, {
      method,
      headers: body === undefined ? {} : { 'content-type': 'application/json' },
      body: body === undefined ? null : JSON.stringify(body),
    });
    if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${await response.text()}`);
    return (await response.json()) as T;
  };

  await ask('/site', 'PUT', {
    name: 'Bench',
    timeZone: 'Europe/Lisbon',
    nominalVoltage: 230,
    frequency: 50,
    conductorScheme: 'iec-60445',
  });
  const node = async (kind: string, parentId: number | null, name: string, way: string) =>
    (
      await ask<{ id: number }>('/installation', 'POST', {
        kind,
        parentId,
        name,
        way,
        phases: kind === 'circuit' ? 'L1' : 'L1 L2 L3',
        protectiveDevice: null,
        ratedCurrent: 16,
      })
    ).id;
  const board = await node('board', await node('supply', null, 'Supply', ''), 'Board', 'MB');
  const ways: number[] = [];
  for (let i = 0; i < count; i++) ways.push(await node('circuit', board, `Way ${i + 1}`, String(i + 1)));
  const point = (key: string, address: number, quantity: string, unit: string, factor: number) => ({
    key,
    name: key,
    kind: 'input',
    address: String(address),
    counting: 'from-0',
    type: 'uint16',
    wordOrder: 'high-first',
    byteOrder: 'high-first',
    scaling: { kind: 'factor', factor, offset: 0 },
    unit,
    quantity,
    phase: null,
    access: 'read',
    intervalMs: 1000,
  });
  const map = await ask<{ id: number }>('/register-maps', 'POST', {
    name: 'Ways',
    description: '',
    points: Array.from({ length: count }, (_, i) => [
      point(`current-${i}`, 2 * i, 'current', 'A', 0.001),
      point(`power-${i}`, 2 * i + 1, 'active-power', 'W', 1),
    ]).flat(),
  });
  const link = await ask<{ id: number }>('/links', 'POST', {
    name: 'Ways',
    host: '127.0.0.1',
    port,
    timeoutMs: 1000,
    enabled: true,
  });
  const { id } = await ask<{ id: number }>('/devices', 'POST', {
    linkId: link.id,
    mapId: map.id,
    name: 'Ways',
    unit: 1,
  });
  const points = (await ask<{ id: number; deviceId: number; key: string }[]>('/points')).filter(
    (p) => p.deviceId === id,
  );
  for (let i = 0; i < count; i++)
    for (const kind of ['current', 'power'])
      await ask(`/points/${points.find((p) => p.key === `${kind}-${i}`)?.id}/assignment`, 'PUT', {
        nodeId: ways[i],
        phase: 'L1',
      });
  return {
    ask,
    board,
    ways,
    set: (watts) => (set = watts),
    stop: () => new Promise((resolve) => device.close(() => resolve())),
  };
}
