import { QUALITY } from '@loka/core/series';
import { Injectable, Inject, Logger, OnModuleDestroy, OnModuleInit } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { join } from 'node:path';
import { DataSource, type EntityManager } from 'typeorm';
import { CONFIG, type Config } from '../config.js';
import { isDatabaseAway } from '../database/away.js';
import { DueMarks } from './dueMarks.js';
import { Journal, type Put, type StoredSample } from './journal.js';
import { RefusedRows } from './refusedRows.js';
import { DatabaseWatch } from '../database/databaseWatch.js';
import { Spool } from './spool.js';

export type { StoredSample } from './journal.js';

const FLUSH_EVERY = 500;
const ROWS_A_STATEMENT = 2000;
const TRY_AGAIN = 1500;
/** What memory keeps when there is neither a database nor a disk. */
const MOST_IN_MEMORY = 500_000;

/**
 * The way in: raw values go in batches into the journal, together with the marks of what is to be rolled up. While the
 * database is away they go to the spool and are brought in afterwards; a row that it refuses is put aside. Everything
 * that changes samples or their marks goes through one queue, so that no two of it are under way at a time.
 */
@Injectable()
export class SampleStore implements OnModuleInit, OnModuleDestroy {
  private readonly log = new Logger('samples');
  private readonly spool: Spool;
  private readonly refused: RefusedRows;
  private queue: StoredSample[] = [];
  private running: Promise<unknown> = Promise.resolve();
  private writing = false;
  private timer: NodeJS.Timeout | null = null;
  /** What is being written, and may not arrive. */
  private underWay: readonly StoredSample[] = [];
  /** Why what was last to be written is in memory only, until it is written; null where it is in the database or on disk. */
  private unkept: Error | null = null;
  private awaySince: number | null = null;
  private nextTry = 0;
  private readonly newest = new Map<number, number>();
  private readonly recent: { at: number; count: number }[] = [];
  private readonly total: Put = { stored: 0, repeated: 0, moved: 0 };

  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly journal: Journal,
    private readonly marks: DueMarks,
    private readonly watch: DatabaseWatch,
    @Inject(CONFIG) config: Config,
  ) {
    const folder = join(config.dataFolder, 'spool');
    this.spool = new Spool(folder);
    this.refused = new RefusedRows(folder);
  }

  async onModuleInit(): Promise<void> {
    await this.spool.open();
    await this.refused.open();
    // A write that takes long is not queued up behind: what came meanwhile goes with the next one.
    this.timer = setInterval(() => void (this.writing || this.flush()), FLUSH_EVERY);
  }

  async onModuleDestroy(): Promise<void> {
    if (this.timer) clearInterval(this.timer);
    await this.flush();
  }

  /** Takes raw samples in; they are stored within half a second. */
  append(samples: readonly StoredSample[]): void {
    for (const sample of samples) this.queue.push(storable(sample));
  }

  /** Writes everything that is waiting, as far as the database and the disk take it. */
  flush(): Promise<void> {
    return this.inTurn(() => this.writeOut());
  }

  /**
   * Resolves when everything that was appended is in the database or on disk.
   * @throws why it is not: neither takes it, and it is kept in memory only
   */
  async kept(): Promise<void> {
    await this.flush();
    if (this.unkept) throw this.unkept;
  }

  /**
   * One transaction on samples, marks or pages, in its turn: nothing is being stored while it works.
   * @throws whatever the work throws; the next turn comes anyway
   */
  change<T>(work: (tables: EntityManager) => Promise<T>): Promise<T> {
    return this.inTurn(() => this.db.transaction(work));
  }

  /** Something that must not meet a write that is under way. */
  inTurn<T>(work: () => T | Promise<T>): Promise<T> {
    const turn = this.running.then(work);
    this.running = turn.catch(() => undefined);
    return turn;
  }

  /** When the newest stored sample of a point was taken; null when none has been since the start. */
  newestStored(pointId: number): number | null {
    return this.newest.get(pointId) ?? null;
  }

  status() {
    const cutoff = performance.now() - 10_000;
    const lately = this.recent.filter((r) => r.at >= cutoff).reduce((sum, r) => sum + r.count, 0);
    return {
      perSecond: lately / 10,
      ...this.total,
      waiting: this.underWay.length + this.queue.length,
      unkept: this.unkept?.message ?? null,
      spool: this.spool.status(),
      refused: this.refused.status(),
    };
  }

  private async writeOut(): Promise<void> {
    this.writing = true;
    await this.writeBatch().finally(() => (this.writing = false));
  }

  private async writeBatch(): Promise<void> {
    const batch = this.queue;
    this.queue = [];
    this.underWay = batch;
    await this.store(batch).finally(() => (this.underWay = []));
  }

  /**
   * Puts all that is not in the database for certain on disk, at once and without waiting: for a stop that cannot wait for
   * a database that hangs. What was stored anyway is brought in again, which changes nothing.
   */
  rescue(): void {
    this.spool.writeNow([...this.underWay, ...this.queue]);
  }

  private async store(batch: StoredSample[]): Promise<void> {
    // Where it is known not to answer, nobody waits for that once more.
    if (this.watch.matter !== null || (this.awaySince !== null && performance.now() < this.nextTry)) {
      this.awaySince ??= performance.now();
      return this.toSpool(batch);
    }
    let left: StoredSample[] = batch;
    try {
      await this.replay();
      while (left.length > 0) {
        await this.insert(left.slice(0, ROWS_A_STATEMENT));
        left = left.slice(ROWS_A_STATEMENT);
      }
      if (this.awaySince !== null)
        this.log.log(
          `database is back after ${Math.round((performance.now() - this.awaySince) / 1000)} s; the spool has been brought in`,
        );
      this.awaySince = null;
      this.unkept = null;
    } catch (error) {
      if (this.awaySince === null) {
        this.awaySince = performance.now();
        this.log.warn(`database does not take samples (${(error as Error).message}); they go to the spool`);
      }
      this.nextTry = performance.now() + TRY_AGAIN;
      await this.toSpool(left);
    }
  }

  private async toSpool(batch: StoredSample[]): Promise<void> {
    try {
      if (batch.length > 0) await this.spool.write(batch);
      this.unkept = null;
    } catch (error) {
      // No database and no disk: keep what memory allows, and count what it does not.
      this.queue = [...batch, ...this.queue];
      const over = this.queue.length - MOST_IN_MEMORY;
      if (over > 0) this.spool.lost(this.queue.splice(0, over).length);
      // Said once, and not twice a second for as long as it lasts.
      if (!this.unkept) this.log.error(`the spool cannot be written: ${(error as Error).message}`);
      this.unkept = error as Error;
    }
  }

  private async replay(): Promise<void> {
    if (this.spool.status().samples === 0) return;
    for await (const batch of this.spool.replay(ROWS_A_STATEMENT)) await this.insert(batch.map(storable));
  }

  /** @throws when the database is away; what it refuses is put aside */
  private async insert(batch: readonly StoredSample[]): Promise<void> {
    try {
      await this.commit(batch);
    } catch (error) {
      if (isDatabaseAway(error)) throw error;
      await this.insertWithout(batch, error as Error);
    }
  }

  private async commit(batch: readonly StoredSample[]): Promise<void> {
    if (batch.length === 0) return;
    const fresh = this.marks.unknown(this.marks.touchedBy(batch));
    // Where all marks stand already, one statement is all there is, and is a transaction by itself.
    const put =
      fresh.size === 0
        ? await this.journal.insert(this.db.manager, batch)
        : await this.db.transaction(async (tables) => {
            await this.marks.mark(tables, fresh);
            return this.journal.insert(tables, batch);
          });
    this.marks.remember(fresh);
    this.note(batch, put);
  }

  /** Finds the rows that are refused by halving, and puts them aside, unless the database refuses everything. */
  private async insertWithout(batch: readonly StoredSample[], reason: Error): Promise<void> {
    if (batch.length === 1) {
      // Does it take anything at all? Then it is this row.
      await this.db.query('SELECT t FROM samples WHERE pointId = 0 LIMIT 1');
      await this.db.transaction(async (tables) => {
        await this.journal.insert(tables, [{ pointId: 0, t: 0, v: 0, q: 0 }]);
        await tables.query('DELETE FROM samples WHERE pointId = 0');
      });
      this.log.error(`put aside: ${JSON.stringify(batch[0])}: ${reason.message}`);
      return this.refused.put(batch[0] as StoredSample, reason.message);
    }
    const half = batch.length >> 1;
    await this.insert(batch.slice(0, half));
    await this.insert(batch.slice(half));
  }

  private note(part: readonly StoredSample[], put: Put): void {
    const now = performance.now();
    for (const { pointId, t } of part) if (t > (this.newest.get(pointId) ?? 0)) this.newest.set(pointId, t);
    this.total.stored += put.stored;
    this.total.repeated += put.repeated;
    this.total.moved += put.moved;
    this.recent.push({ at: now, count: put.stored });
    while (this.recent.length > 0 && (this.recent[0] as { at: number }).at < now - 10_000)
      this.recent.shift();
  }
}

/** What a database takes for a number; anything else is no value, and its quality says so. */
function storable(sample: StoredSample): StoredSample {
  if (sample.v === null || Number.isFinite(sample.v)) return sample;
  return { ...sample, v: null, q: QUALITY.notANumber };
}
