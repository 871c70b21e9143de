import 'reflect-metadata';
import { LinkInput } from '@loka/contract/links';
import { newPoint, type PointDefinition } from '@loka/core/registers';
import { NestFactory } from '@nestjs/core';
import modbus from 'modbus-serial';
import { fork, type ChildProcess } from 'node:child_process';
import { freePort } from '../../scripts/lib/ports.mjs';
import { ModbusRunner } from '@loka/server/acquisition/modbus/modbusRunner';
import { AppModule } from '@loka/server/app.module';
import { readConfig } from '@loka/server/config';
import { AcquisitionHealth } from '@loka/server/devices/acquisitionHealth';
import type { KnownPoint } from '@loka/server/book/deviceBook';
import { DevicesService } from '@loka/server/devices/devices.service';
import { LinksService } from '@loka/server/devices/links.service';
import { ChangeFeed } from '@loka/server/live/changeFeed';
import { RegistersService } from '@loka/server/registers/registers.service';
import { AllowedNetworks } from '@loka/server/security/allowedNetworks';
import { SampleStore } from '@loka/server/series/sampleStore';

// Two things: how many registers a second one link brings through Loka's runner, as a ratio to a bare loop of the same
// library against the same device, alternating; and what 1000 points at one second on 20 devices cost.
const POINTS = 50;
const UNITS = 40;
const ROUNDS = 5;
const SECONDS = 3;
const DEVICES = 20;
const WATCHED = 20;

const definition = (i: number, intervalMs: number): PointDefinition =>
  newPoint({
    key: `v${i}`,
    name: `Value ${i}`,
    kind: 'input',
    address: String(2 * i),
    type: 'float32',
    unit: 'V',
    quantity: 'voltage',
    phase: 'L1',
    intervalMs,
  });
const median = (values: number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1] as number;
const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

async function startDevice(delay: number): Promise<{ port: number; child: ChildProcess }> {
  const port = await freePort();
  const child = fork(new URL('device.js', import.meta.url), [String(port), String(delay)]);
  await new Promise((resolve) => child.once('message', resolve));
  return { port, child };
}

/** Registers a second of a bare loop. */
async function bare(port: number): Promise<number> {
  const client = new modbus.default();
  await client.connectTCP('127.0.0.1', { port });
  client.setID(1);
  client.setTimeout(new LinkInput().timeoutMs); // as a link has; a loop without one would wait for ever
  let registers = 0;
  const began = performance.now();
  while (performance.now() - began < SECONDS * 1000) {
    const { data } = await client.readInputRegisters(0, 2 * POINTS);
    registers += data.length;
  }
  const took = (performance.now() - began) / 1000;
  await new Promise<void>((resolve) => client.close(() => resolve()));
  return registers / took;
}

/** Registers a second through the runner: planned, asked for, decoded, judged, delivered. */
async function through(port: number): Promise<number> {
  // Units enough that one is always due: the runner then asks as fast as it can, as the bare loop does.
  const points = Array.from({ length: UNITS * POINTS }, (_, i): KnownPoint => {
    const unit = 1 + Math.floor(i / POINTS);
    return {
      id: i + 1,
      deviceId: unit,
      deviceName: 'Bench',
      linkId: 1,
      unit,
      topic: '',
      key: `v${i}`,
      definition: definition(i % POINTS, 1),
      availability: null,
      nodeId: null,
      phase: null,
      counter: { modulus: null, resolution: null, largestPower: null },
    };
  });
  let registers = 0;
  const link = Object.assign(new LinkInput(), { id: 1, name: 'bench', host: '127.0.0.1', port });
  const networks = new AllowedNetworks({ ...readConfig(process.env), allowedNetworks: null });
  const runner = new ModbusRunner(
    link,
    points,
    networks,
    new AcquisitionHealth(new ChangeFeed()),
    (readings) => {
      registers += 2 * readings.length;
    },
  );
  runner.start();
  // As the bare loop, which is connected when its time begins.
  while (registers === 0) await wait(1);
  registers = 0;
  const began = performance.now();
  await wait(SECONDS * 1000);
  const took = (performance.now() - began) / 1000;
  const counted = registers;
  await runner.stop();
  return counted / took;
}

const children: ChildProcess[] = [];
for (const [delay, what] of [
  [2, 'that takes 2 ms'],
  [0, 'that answers at once'],
] as const) {
  const { port, child } = await startDevice(delay);
  children.push(child);
  const rates = { bare: [] as number[], through: [] as number[] };
  for (let round = 0; round < ROUNDS; round++) {
    rates.bare.push(await bare(port));
    rates.through.push(await through(port));
  }
  console.log(`a device ${what}`);
  console.log(`  bare loop of the library       ${Math.round(median(rates.bare))} registers/s`);
  console.log(`  through the runner of a link   ${Math.round(median(rates.through))} registers/s`);
  // Round by round, since the machine's speed changes from one to the next.
  const ratios = rates.through.map((rate, i) => rate / (rates.bare[i] as number));
  console.log(`  ratio (median of ${ROUNDS} rounds)     ${median(ratios).toFixed(2)}`);
}

const app = await NestFactory.createApplicationContext(
  AppModule.with({ ...readConfig(process.env), acquire: true }),
  {
    logger: ['error'],
    abortOnError: false,
  },
);
const points = Array.from({ length: POINTS }, (_, i) => definition(i, 1000));
const map = await app
  .get(RegistersService)
  .create({ name: 'Bench', description: '', points: points as never, messages: [] });
const devices: ChildProcess[] = [];
for (let i = 0; i < DEVICES; i++) {
  const device = await startDevice(0);
  devices.push(device.child);
  const input = Object.assign(new LinkInput(), { name: `Link ${i}`, host: '127.0.0.1', port: device.port });
  const { id } = await app.get(LinksService).create(input);
  await app
    .get(DevicesService)
    .createDevice({ linkId: id, mapId: map.id, name: `Device ${i}`, unit: 1, topic: '' });
}
await wait(5000);
const store = app.get(SampleStore);
const before = { cpu: process.cpuUsage(), stored: store.status().stored, at: performance.now() };
await wait(WATCHED * 1000);
const { user, system } = process.cpuUsage(before.cpu);
const seconds = (performance.now() - before.at) / 1000;
console.log(
  `${POINTS * DEVICES} points at 1 s on ${DEVICES} devices  ${((store.status().stored - before.stored) / seconds).toFixed(0)} samples/s stored`,
);
console.log(
  `processor of the server          ${(((user + system) / 1e6 / seconds) * 100).toFixed(1)} % of one core`,
);
console.log(`memory of the server             ${Math.round(process.memoryUsage().rss / 1e6)} MB resident`);
await app.close();
for (const device of [...children, ...devices]) device.kill();
process.exit(0);
