import type { Device } from '@loka/contract/devices';
import type { Point } from '@loka/contract/points';
import type { RegisterMap } from '@loka/contract/registers';
import { runBuilding, type PortName, type RunningBuilding } from '@loka/fieldsim/run';
import { freePorts } from '../../../scripts/lib/ports.mjs';
import type { Loka } from './loka.js';

const DEVICES = ['main-meter', 'oven-meter', 'clamp-node', 'relay-board'] as const;
export type DeviceName = (typeof DEVICES)[number];
const MAPS: Record<DeviceName, string> = {
  'main-meter': 'Three-phase meter, float map',
  'oven-meter': 'Three-phase meter, float map',
  'clamp-node': 'Four-channel clamp node, raw counts',
  'relay-board': 'Relay board, four coils',
};

/** The simulated building with real sockets, for a test. */
export class TestBuilding {
  private constructor(
    readonly running: RunningBuilding,
    readonly ports: Record<PortName, number>,
  ) {}

  /** @param names what of it is started; its first four devices, unless more is asked for */
  static async start(names: readonly PortName[] = DEVICES): Promise<TestBuilding> {
    const free = (await freePorts(names.length)) as number[];
    const ports = Object.fromEntries(names.map((name, i) => [name, free[i]]));
    const running = await runBuilding({ seed: 7, since: Date.now() - 3_600_000, ports });
    return new TestBuilding(running, ports as Record<PortName, number>);
  }

  fault(name: PortName, fault: Parameters<RunningBuilding['servers'][number]['setFault']>[0]): Promise<void> {
    const server = this.running.servers.find((s) => s.name === name);
    if (!server) throw new Error(`no device ${name}`);
    return server.setFault(fault);
  }

  load(name: string, mode: 'auto' | 'on' | 'off'): void {
    this.running.site.building.modes.set(name, mode);
  }

  /** The true current of a load on a line, A. */
  amperes(load: string, line: 'L1' | 'L2' | 'L3'): number {
    return this.running.site.building.flows.get(load)?.[line].amperes ?? NaN;
  }

  stop(): Promise<void> {
    return this.running.stop();
  }
}

/** What {@link makeSite} has made. */
export interface MadeSite {
  circuit: number;
  devices: Partial<Record<DeviceName, number>>;
  /** Id of a point by device and key. */
  point(device: DeviceName, key: string): number;
}

/** A site with one way for the hot-water cylinder, and the named devices of the building connected. */
export async function makeSite(loka: Loka, building: TestBuilding, names: DeviceName[]): Promise<MadeSite> {
  await loka.ask('/site', 'PUT', {
    name: 'Test site',
    timeZone: 'Europe/Lisbon',
    nominalVoltage: 230,
    frequency: 50,
    conductorScheme: 'iec-60445',
  });
  const node = async (kind: string, parentId: number | null, name: string, way: string) =>
    (
      await loka.ask<{ id: number }>('/installation', 'POST', {
        kind,
        parentId,
        name,
        way,
        phases: kind === 'circuit' ? 'L1' : 'L1 L2 L3',
        protectiveDevice: null,
        ratedCurrent: 20,
      })
    ).id;
  const supply = await node('supply', null, 'Supply', '');
  const board = await node('board', supply, 'Main board', 'MB');
  const circuit = await node('circuit', board, 'Hot-water cylinder', '1');
  const maps = await loka.ask<RegisterMap[]>('/register-maps');
  const devices: MadeSite['devices'] = {};
  for (const name of names) {
    const link = await loka.ask<{ id: number }>('/links', 'POST', {
      name,
      host: '127.0.0.1',
      port: building.ports[name],
      timeoutMs: 1000,
      enabled: true,
    });
    const mapId = maps.find((m) => m.name === MAPS[name])?.id;
    devices[name] = (
      await loka.ask<Device>('/devices', 'POST', { linkId: link.id, mapId, name, unit: 1 })
    ).id;
  }
  const points = await loka.ask<Point[]>('/points');
  const point = (device: DeviceName, key: string): number => {
    const found = points.find((p) => p.deviceId === devices[device] && p.key === key);
    if (!found) throw new Error(`no point ${device}/${key}`);
    return found.id;
  };
  const assign = async (device: DeviceName, keys: string[], phase: string | null) => {
    for (const key of keys)
      await loka.ask(`/points/${point(device, key)}/assignment`, 'PUT', { nodeId: circuit, phase });
  };
  if (devices['clamp-node']) await assign('clamp-node', ['current-2', 'power-2', 'power-factor-2'], 'L1');
  if (devices['relay-board']) await assign('relay-board', ['relay-1', 'contact-1'], null);
  return { circuit, devices, point };
}
