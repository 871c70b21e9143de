import 'reflect-metadata';
import { newMessage } from '@loka/core/messages';
import { NestFactory } from '@nestjs/core';
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { DataSource } from 'typeorm';
import { LinkInput } from '@loka/contract/links';
import { freePort, listens } from '../../scripts/lib/ports.mjs';
import { AppModule } from '@loka/server/app.module';
import { readConfig } from '@loka/server/config';
import { DevicesService } from '@loka/server/devices/devices.service';
import { LinksService } from '@loka/server/devices/links.service';
import { RegistersService } from '@loka/server/registers/registers.service';
import { SampleStore } from '@loka/server/series/sampleStore';

// Messages of QoS 1 a second from mosquitto to the database, each acknowledged after it is stored, as a ratio to bare
// single-row inserts that are each waited for; and the same messages with QoS 0, which nobody acknowledges.
const MESSAGES = 3000;
const TOPIC = 'bench/report';

const definition = newMessage({
  key: 'v',
  name: 'Value',
  pointer: '/power',
  unit: 'W',
  quantity: 'active-power',
  intervalMs: 60_000,
});

const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const folder = mkdtempSync(join(tmpdir(), 'loka-bench-broker-'));
const port = await freePort();
writeFileSync(
  join(folder, 'conf'),
  `listener ${port} 127.0.0.1\nallow_anonymous true\nmax_queued_messages 0\nset_tcp_nodelay true\n`,
);
const broker = spawn('mosquitto', ['-c', join(folder, 'conf')], { stdio: 'ignore' });
while (!(await listens(port))) await wait(50);

/** Publishes lines as messages. */
const publish = async (lines: string[], qos: 0 | 1): Promise<void> => {
  const args = ['-h', '127.0.0.1', '-p', String(port), '-q', String(qos), '-t', TOPIC, '-l', '--nodelay'];
  const program = spawn('mosquitto_pub', args, { stdio: ['pipe', 'inherit', 'inherit'] });
  program.stdin.end(lines.join('\n') + '\n');
  const code = await new Promise((resolve) => program.once('exit', resolve));
  if (code !== 0) throw new Error(`mosquitto_pub ended with ${code}`);
};

const app = await NestFactory.createApplicationContext(
  AppModule.with({ ...readConfig(process.env), acquire: true }),
  { logger: ['error'], abortOnError: false },
);
const db = app.get(DataSource);
const store = app.get(SampleStore);
const map = await app
  .get(RegistersService)
  .create({ name: 'Bench of messages', description: '', points: [], messages: [definition] as never });
const input = Object.assign(new LinkInput(), { name: 'Broker', kind: 'mqtt', host: '127.0.0.1', port });
const { id } = await app.get(LinksService).create(input);
await app
  .get(DevicesService)
  .createDevice({ linkId: id, mapId: map.id, name: 'Bench plug', unit: 1, topic: 'bench' });
const payload = (i: number) => JSON.stringify({ power: i, volts: 230 });
while (store.status().stored === 0) {
  await publish([payload(0)], 1);
  await wait(200);
}

const rates: Record<number, number> = {};
for (const qos of [1, 0] as const) {
  const before = store.status().stored;
  const began = performance.now();
  await publish(
    Array.from({ length: MESSAGES }, (_, i) => payload(i)),
    qos,
  );
  while (store.status().stored - before < MESSAGES) await wait(5);
  rates[qos] = MESSAGES / ((performance.now() - began) / 1000);
  console.log(`messages of QoS ${qos}                ${Math.round(rates[qos])} messages/s`);
}
await db.query('CREATE TABLE bareMessages (t BIGINT NOT NULL PRIMARY KEY, v DOUBLE) ENGINE=InnoDB');
const began = performance.now();
for (let i = 0; i < MESSAGES; i++) await db.query('INSERT INTO bareMessages VALUES (?, ?)', [i, i]);
const bare = MESSAGES / ((performance.now() - began) / 1000);
console.log(`bare inserts, each waited for    ${Math.round(bare)} rows/s`);
console.log(`ratio of QoS 1                   ${((rates[1] as number) / bare).toFixed(2)}`);
await app.close();
broker.kill();
rmSync(folder, { recursive: true, force: true });
process.exit(0);
