import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { LoadMode } from './building/building.js';
import { FAULT_KINDS, type Fault, type ModbusDeviceServer } from './devices/modbusServer.js';
import type { Site } from './site.js';

/**
 * The control port of the building, on loopback: what the loads truly draw, and faults to switch on.
 *
 *   GET  /state                                  true flows, contacts, faults
 *   PUT  /devices/NAME/fault  {kind, ms?, code?} none, down, silent, slow, exception, stuck
 *   PUT  /clamps/N/reversed   {reversed}         N from 1
 *   PUT  /relays/N/welded     {welded}           N from 1
 *   PUT  /loads/NAME          {mode}             auto, on, off
 */
export function startControl(site: Site, servers: ModbusDeviceServer[], port: number): Promise<Server> {
  const server = createServer((request, response) => {
    handle(site, servers, request).then(
      (body) => reply(response, 200, body),
      (error: Error) => reply(response, 400, { error: error.message }),
    );
  });
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', () => resolve(server));
  });
}

function reply(response: ServerResponse, status: number, body: unknown): void {
  response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(body));
}

async function handle(site: Site, servers: ModbusDeviceServer[], request: IncomingMessage): Promise<unknown> {
  const [area, name, what] = (request.url ?? '/').split('/').filter(Boolean);
  if (request.method === 'GET' && area === 'state') return state(site, servers);
  if (request.method !== 'PUT') throw new Error(`nothing at ${request.method} ${request.url}`);
  const body = JSON.parse(await text(request)) as Record<string, unknown>;
  const index = Number(name) - 1;
  if (area === 'devices' && what === 'fault') {
    const server = servers.find((s) => s.device.name === name);
    if (!server)
      throw new Error(`no device ${name}; there are ${servers.map((s) => s.device.name).join(', ')}`);
    if (!(FAULT_KINDS as readonly string[]).includes(String(body.kind)))
      throw new Error(`no fault ${String(body.kind)}; there are ${FAULT_KINDS.join(', ')}`);
    await server.setFault(body as Fault);
  } else if (area === 'clamps' && what === 'reversed')
    toggle(site.clampNode.reversed, index, body.reversed === true);
  else if (area === 'relays' && what === 'welded')
    toggle(site.relayBoard.welded, index, body.welded === true);
  else if (area === 'loads') site.building.modes.set(String(name), body.mode as LoadMode);
  else throw new Error(`nothing at ${request.url}`);
  return state(site, servers);
}

const toggle = (set: Set<number>, index: number, on: boolean): unknown =>
  on ? set.add(index) : set.delete(index);

function state(site: Site, servers: ModbusDeviceServer[]) {
  const { building, devices } = site;
  return {
    t: building.t,
    supply: building.supply,
    loads: Object.fromEntries(building.flows),
    contacts: Object.fromEntries(building.contacts),
    devices: Object.fromEntries(devices.map((d) => [d.name, d.values()])),
    faults: Object.fromEntries(servers.map((s) => [s.device.name, s.fault])),
  };
}

async function text(request: IncomingMessage): Promise<string> {
  let body = '';
  for await (const chunk of request) {
    body += String(chunk);
    if (body.length > 10_000) throw new Error('too much');
  }
  return body || '{}';
}
