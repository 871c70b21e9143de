import { startControl } from './control.js';
import { ModbusDeviceServer } from './devices/modbusServer.js';
import { Broker } from './messages/broker.js';
import { MessageNode } from './messages/node.js';
import { buildSite, HISTORY_STEP, STATION_NAMES, type Site, type StationName } from './site.js';

/** Everything of the building that listens at a port. */
export type PortName = StationName | 'broker' | 'control';
export const PORT_NAMES: readonly PortName[] = [...STATION_NAMES, 'broker', 'control'];

export interface RunOptions {
  seed: number;
  /** Instant at which the building's life began; it is run from there to now, faster than time. */
  since: number;
  /** By whose clock the building lives; where it stands, where nothing else is said. */
  zone?: string;
  /** What has no port is not started. */
  ports: Partial<Record<PortName, number>>;
  /** How often the model moves on, ms. */
  stepMs?: number;
}

export interface RunningBuilding {
  site: Site;
  servers: ModbusDeviceServer[];
  nodes: MessageNode[];
  stop(): Promise<void>;
}

/** Starts the building: the model in real time, its Modbus devices, its broker with the nodes, and the control port. */
export async function runBuilding({
  seed,
  since,
  zone,
  ports,
  stepMs = 100,
}: RunOptions): Promise<RunningBuilding> {
  const site = buildSite(seed, since, zone);
  site.building.advance(Date.now(), HISTORY_STEP);
  const servers = STATION_NAMES.flatMap((name) => {
    const port = ports[name];
    return port === undefined ? [] : [new ModbusDeviceServer(name, site.stations[name], port)];
  });
  for (const server of servers) await server.start();
  const broker = ports.broker === undefined ? null : new Broker(ports.broker);
  await broker?.start();
  const nodes = broker ? site.nodes.map((spec) => new MessageNode(spec, ports.broker as number)) : [];
  for (const node of nodes) await node.start();
  const control =
    ports.control === undefined ? null : await startControl({ site, servers, nodes }, ports.control);
  const timer = setInterval(() => site.building.advance(Date.now(), stepMs), stepMs);
  return {
    site,
    servers,
    nodes,
    async stop() {
      clearInterval(timer);
      await Promise.all([...nodes.map((node) => node.stop()), ...servers.map((server) => server.stop())]);
      await broker?.stop();
      await new Promise<void>((resolve) => {
        if (!control) return resolve();
        control.close(() => resolve());
        control.closeAllConnections();
      });
    },
  };
}
