import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { Building, LoadMode } from './building/building.js';
import { FAULT_KINDS, type Fault, type ModbusDeviceServer } from './devices/modbusServer.js';
import { NODE_FAULTS, type MessageNode, type NodeFault } from './messages/node.js';
import { valuesOf, type Site } from './site.js';
import { wiringFault } from './wiring/wiring.js';
import { PAGE } from './page.js';

/** What the control port acts on. */
export interface Controlled {
  site: Site;
  servers: ModbusDeviceServer[];
  nodes: MessageNode[];
}

/**
 * The control port of the building, on loopback: what the loads truly draw, and faults to switch on.
 *
 *   GET  /state                                  true flows, contacts, faults
 *   PUT  /devices/NAME/fault  {kind, ms?, code?} none, down, silent, slow, exception, stuck; with {unit}, one unit
 *                                                behind a gateway falls silent or answers again
 *   PUT  /nodes/NAME/fault    {kind}             none, silent, down, garbled
 *   PUT  /wiring/NAME         {kind, …}          how a meter is wired: none, reversed {lines?}, swapped {lines}, wrong-phase
 *                                                {line}, both-conductors, bypassed {share}, other-circuit {load},
 *                                                wrong-ratio {factor}, stuck, clipped {amperes}
 *   PUT  /dc                  {turned?, exchanged?}  the DC sensor: its arrow, and plus and minus of its tap
 *   PUT  /inverter            {off}              the inverter off the grid, and roof and battery with it
 *   GET  /                                       a page to do it with
 *   PUT  /clamps/N/reversed   {reversed}         N from 1
 *   PUT  /relays/N/welded     {welded}           N from 1
 *   PUT  /loads/NAME          {mode, share?}     auto, on, off; how much of its full power it draws when on, 0 to 1
 */
export function startControl(controlled: Controlled, port: number): Promise<Server> {
  const server = createServer((request, response) => {
    if (request.method === 'GET' && request.url === '/') {
      response.writeHead(200, PAGE_HEADERS).end(PAGE);
      return;
    }
    handle(controlled, request).then(
      (body) => reply(response, 200, body),
      (error: Error) => reply(response, 400, { error: error.message }),
    );
  });
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', () => resolve(server));
  });
}

const PAGE_HEADERS = {
  'content-type': 'text/html; charset=utf-8',
  'content-security-policy':
    "default-src 'none'; style-src 'unsafe-inline'; script-src 'unsafe-inline'; connect-src 'self'",
};

function reply(response: ServerResponse, status: number, body: unknown): void {
  response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(body));
}

async function handle(controlled: Controlled, request: IncomingMessage): Promise<unknown> {
  const { site } = controlled;
  const [area, name = '', what] = (request.url ?? '/').split('/').filter(Boolean);
  if (request.method === 'GET' && area === 'state') return state(controlled);
  if (request.method !== 'PUT') throw new Error(`nothing at ${request.method} ${request.url}`);
  const body = JSON.parse(await text(request)) as Record<string, unknown>;
  const index = Number(name) - 1;
  if (area === 'devices' && what === 'fault') await deviceFault(controlled, name, body);
  else if (area === 'nodes' && what === 'fault') await nodeFault(controlled, name, String(body.kind));
  else if (area === 'wiring')
    oneOf([...site.wiring.places.values()], (p) => p.name, name, 'meter').wire(wiringFault(body));
  else if (area === 'dc')
    Object.assign(site.dcWired, { turned: body.turned === true, exchanged: body.exchanged === true });
  else if (area === 'clamps' && what === 'reversed')
    toggle(site.clampNode.reversed, index, body.reversed === true);
  else if (area === 'relays' && what === 'welded')
    toggle(site.relayBoard.welded, index, body.welded === true);
  else if (area === 'inverter') site.building.inverterOff = body.off === true;
  else if (area === 'loads') force(site.building, name, body);
  else throw new Error(`nothing at ${request.url}`);
  return state(controlled);
}

async function deviceFault(
  { servers }: Controlled,
  name: string,
  body: Record<string, unknown>,
): Promise<void> {
  const server = oneOf(servers, (s) => s.name, name, 'device');
  oneOf(FAULT_KINDS, String, String(body.kind), 'fault');
  if (typeof body.unit === 'number') toggle(server.silentUnits, body.unit, body.kind === 'silent');
  else await server.setFault(body as Fault);
}

async function nodeFault({ nodes }: Controlled, name: string, kind: string): Promise<void> {
  const node = oneOf(nodes, (n) => n.spec.name, name, 'node');
  await node.setFault(oneOf(NODE_FAULTS, String, kind, 'fault') as NodeFault);
}

function force(
  { modes, shares }: Building,
  name: string,
  { mode, share = 1 }: Record<string, unknown>,
): void {
  modes.set(name, mode as LoadMode);
  shares.set(name, Math.max(0, Math.min(1, Number(share))));
}

function oneOf<T>(list: readonly T[], nameOf: (item: T) => string, name: string, what: string): T {
  const found = list.find((item) => nameOf(item) === name);
  if (found === undefined) throw new Error(`no ${what} ${name}; there are ${list.map(nameOf).join(', ')}`);
  return found;
}

const toggle = (set: Set<number>, index: number, on: boolean): unknown =>
  on ? set.add(index) : set.delete(index);

function state({ site, servers, nodes }: Controlled) {
  const { building } = site;
  return {
    t: building.t,
    supply: building.supply,
    loads: Object.fromEntries(building.flows),
    contacts: Object.fromEntries(building.contacts),
    modes: Object.fromEntries(building.modes),
    wiring: Object.fromEntries([...site.wiring.places.values()].map((p) => [p.name, p.fault])),
    devices: Object.fromEntries(valuesOf(site).map(({ name, values }) => [name, values])),
    faults: Object.fromEntries([
      ...servers.map((s) => [s.name, s.fault] as const),
      ...nodes.map((n) => [n.spec.name, { kind: n.currentFault }] as const),
    ]),
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
