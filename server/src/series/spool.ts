import { mkdir, open, readdir, rename, rm, stat } from 'node:fs/promises';
import { createReadStream, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import type { StoredSample } from './journal.js';

/** Most that the spool may take of the disk. */
const LARGEST = 2 * 1024 ** 3;
const CURRENT = 'samples.ndjson';

/**
 * Samples on disk while the database is away: one JSON array a line, [point, t, value, quality, lag]. A file that is
 * being brought in is set aside under another name first, so that a crash in between brings it in again (which
 * changes nothing) instead of losing it.
 */
export class Spool {
  private samples = 0;
  private bytes = 0;
  private lostSamples = 0;

  constructor(private readonly folder: string) {}

  /** Counts what an earlier run has left. */
  async open(): Promise<void> {
    await mkdir(this.folder, { recursive: true });
    for (const name of await this.files()) {
      this.bytes += (await stat(join(this.folder, name))).size;
      for await (const _line of this.lines(name)) this.samples++;
    }
  }

  status(): { samples: number; bytes: number; lost: number } {
    return { samples: this.samples, bytes: this.bytes, lost: this.lostSamples };
  }

  lost(count: number): void {
    this.lostSamples += count;
  }

  /** Puts samples on disk; resolves when they are there. @throws when they are not: the disk is full, or the spool */
  async write(batch: readonly StoredSample[]): Promise<void> {
    if (this.bytes > LARGEST) throw new Error(`the spool has ${Math.round(this.bytes / 1024 ** 2)} MB`);
    const text = linesOf(batch);
    const file = await open(join(this.folder, CURRENT), 'a', 0o600);
    try {
      const { size } = await file.stat();
      try {
        await file.appendFile(text);
        await file.sync();
      } catch (error) {
        // A full disk may have taken a part: what comes afterwards must not be read as the rest of a torn line.
        await file.truncate(size).catch(() => undefined);
        throw error;
      }
    } finally {
      await file.close();
    }
    this.samples += batch.length;
    this.bytes += Buffer.byteLength(text);
  }

  /** As {@link write}, and does not return before it is there: for the end of the process. */
  writeNow(batch: readonly StoredSample[]): void {
    if (batch.length > 0)
      writeFileSync(join(this.folder, CURRENT), linesOf(batch), { flag: 'a', flush: true });
  }

  /** All that lies in the spool, in batches; a file goes when the batch after its last one is asked for. */
  async *replay(size: number): AsyncGenerator<StoredSample[]> {
    const names = await this.files();
    if (names.includes(CURRENT)) {
      const aside = `${Date.now()}.aside.ndjson`;
      await rename(join(this.folder, CURRENT), join(this.folder, aside));
      names.splice(names.indexOf(CURRENT), 1, aside);
    }
    for (const name of names) {
      let batch: StoredSample[] = [];
      let count = 0;
      for await (const line of this.lines(name)) {
        count++;
        const sample = parse(line);
        if (!sample) this.lost(1);
        else if (batch.push(sample) >= size) {
          yield batch;
          batch = [];
        }
      }
      if (batch.length > 0) yield batch;
      const { size: bytes } = await stat(join(this.folder, name));
      await rm(join(this.folder, name));
      this.samples -= count;
      this.bytes -= bytes;
    }
  }

  private async files(): Promise<string[]> {
    return (await readdir(this.folder)).filter((name) => name.endsWith('.ndjson')).sort();
  }

  private lines(name: string): AsyncIterable<string> {
    return createInterface({ input: createReadStream(join(this.folder, name)), crlfDelay: Infinity });
  }
}

const linesOf = (batch: readonly StoredSample[]): string =>
  batch.map((s) => `${JSON.stringify([s.pointId, s.t, s.v, s.q, s.lag ?? null])}\n`).join('');

/** A line that a crash has cut off is no sample; the caller counts it as lost. */
function parse(line: string): StoredSample | null {
  try {
    const [pointId, t, v, q, lag] = JSON.parse(line) as [number, number, number | null, number, number?];
    return lag == null ? { pointId, t, v, q } : { pointId, t, v, q, lag };
  } catch {
    return null;
  }
}
