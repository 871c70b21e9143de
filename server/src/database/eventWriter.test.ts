import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { DataSource } from 'typeorm';
import { EventWriter, type Happening } from './eventWriter.js';

let dataFolder: string;
beforeEach(() => (dataFolder = mkdtempSync(join(tmpdir(), 'loka-events-'))));
afterEach(() => rmSync(dataFolder, { recursive: true, force: true }));
const file = () => join(dataFolder, 'events.ndjson');

const event = (id: string): Happening => ({ what: id, table: 'alerts', how: 'save', row: { id } });

/** A writer on a database that takes rows, is away, or refuses some. */
function writerOn(take: (id: string) => void): EventWriter {
  const save = async ({ id }: { id: string }) => take(id);
  const writer = new EventWriter({ getRepository: () => ({ save }) } as unknown as DataSource, {
    dataFolder,
  });
  // The log is meant for the operator, not for the test's output.
  const silent = { error: () => undefined, warn: () => undefined, log: () => undefined };
  (writer as unknown as { log: unknown }).log = silent;
  return writer;
}

const away = () => Object.assign(new Error('away'), { code: 'ECONNREFUSED' });

it('writes in order, goes on trying while the database is away, and keeps on disk what waits', async () => {
  const written: string[] = [];
  let up = false;
  const writer = writerOn((id) => {
    if (!up) throw away();
    written.push(id);
  });
  for (const id of ['a', 'b', 'c']) writer.write(event(id));
  await writer.idle(); // comes back although nothing could be written
  expect(written).toEqual([]);
  for (let i = 0; i < 400 && !onDisk().includes('c'); i++) await new Promise((r) => setTimeout(r, 10));
  expect(onDisk()).toEqual(['a', 'b', 'c']);
  up = true;
  for (let i = 0; i < 400 && written.length < 3; i++) await new Promise((r) => setTimeout(r, 10));
  expect(written).toEqual(['a', 'b', 'c']);
  await writer.onModuleDestroy();
  expect(onDisk()).toEqual([]);
});

it('what an earlier run has left is written first; a line that was cut off is none', async () => {
  writeFileSync(file(), `${JSON.stringify(event('a'))}\n${JSON.stringify(event('b'))}\n{"what":"c","ta`);
  const written: string[] = [];
  const writer = writerOn((id) => written.push(id));
  await writer.onModuleInit();
  writer.write(event('d'));
  await writer.idle();
  expect(written).toEqual(['a', 'b', 'd']);
  await writer.onModuleDestroy();
});

it('left by a run that was killed in the middle of a line, the next one is whole', async () => {
  writeFileSync(file(), '{"what":"c","ta');
  const writer = writerOn(() => {
    throw away();
  });
  writer.write(event('d'));
  await writer.idle();
  await writer.onModuleDestroy();
  expect(onDisk()).toEqual(['d']);
});

it('an event that can never be written does not hold up the others', async () => {
  const written: string[] = [];
  const writer = writerOn((id) => {
    if (id === 'broken') throw new Error('no such column');
    written.push(id);
  });
  writer.write(event('broken'));
  writer.write(event('next'));
  await writer.idle();
  expect(written).toEqual(['next']);
  await writer.onModuleDestroy();
});

/** The ids that lie in the file. */
function onDisk(): string[] {
  try {
    return readFileSync(file(), 'utf8')
      .split('\n')
      .flatMap((line) => {
        try {
          return line ? [(JSON.parse(line) as Happening).what] : [];
        } catch {
          return [];
        }
      });
  } catch {
    return [];
  }
}
