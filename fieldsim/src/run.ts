import { ModbusDeviceServer } from './devices/modbusServer.js';
import { startControl } from './control.js';
import { buildSite, HISTORY_STEP, type Site } from './site.js';

export interface RunOptions {
  seed: number;
  /** Instant at which the building's life began; it is run from there to now, faster than time. */
  since: number;
  /** Ports in the order of the devices, then the control port. */
  ports: number[];
  /** How often the model moves on, ms. */
  stepMs?: number;
}

export interface RunningBuilding {
  site: Site;
  servers: ModbusDeviceServer[];
  stop(): Promise<void>;
}

/** Starts the whole building: the model in real time, one Modbus TCP server a device, and the control port. */
export async function runBuilding({
  seed,
  since,
  ports,
  stepMs = 100,
}: RunOptions): Promise<RunningBuilding> {
  const site = buildSite(seed, since);
  site.building.advance(Date.now(), HISTORY_STEP);
  const servers = site.devices.map((device, i) => new ModbusDeviceServer(device, ports[i] as number));
  for (const server of servers) await server.start();
  const control = await startControl(site, servers, ports[servers.length] as number);
  const timer = setInterval(() => site.building.advance(Date.now(), stepMs), stepMs);
  return {
    site,
    servers,
    async stop() {
      clearInterval(timer);
      await Promise.all(servers.map((server) => server.stop()));
      await new Promise<void>((resolve) => {
        control.close(() => resolve());
        control.closeAllConnections();
      });
    },
  };
}
