import { QUALITY, type Sample } from '@loka/core/series';
import { Injectable, Inject, Logger, OnModuleDestroy, OnModuleInit } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { join } from 'node:path';
import { Subject } from 'rxjs';
import { DataSource } from 'typeorm';
import { CONFIG, type Config } from '../config.js';
import { bulkLoad } from '../database/bulkLoad.js';
import { Spool } from './spool.js';

/** A raw sample of a point. */
export interface StoredSample extends Sample {
  pointId: number;
}

const FLUSH_EVERY = 500;
const ROWS_A_STATEMENT = 2000;
const TRY_AGAIN = 1500;

/**
 * Where samples lie. Raw values go in batches into the journal keyed by (point, t), so that a repeated delivery
 * changes nothing; while the database is away they go to the spool and are brought in afterwards. Nobody else
 * knows how samples lie on disk.
 */
@Injectable()
export class SampleStore implements OnModuleInit, OnModuleDestroy {
  /** Samples that are in the database now. */
  readonly committed = new Subject<StoredSample[]>();
  private readonly log = new Logger('samples');
  private readonly spool: Spool;
  private queue: StoredSample[] = [];
  private running: Promise<void> = Promise.resolve();
  private writing = false;
  private timer: NodeJS.Timeout | null = null;
  private awaySince: number | null = null;
  private nextTry = 0;
  private readonly newest = new Map<number, number>();
  private readonly recent: { at: number; count: number }[] = [];
  private total = 0;

  constructor(
    @InjectDataSource() private readonly db: DataSource,
    @Inject(CONFIG) config: Config,
  ) {
    this.spool = new Spool(join(config.dataFolder, 'spool'));
  }

  async onModuleInit(): Promise<void> {
    await this.spool.open();
    // A write that takes long is not queued up behind: what came meanwhile goes with the next one.
    this.timer = setInterval(() => void (this.writing || this.flush()), FLUSH_EVERY);
  }

  async onModuleDestroy(): Promise<void> {
    if (this.timer) clearInterval(this.timer);
    await this.flush();
  }

  /** Takes raw samples in; they are stored within half a second. */
  append(samples: readonly StoredSample[]): void {
    for (const sample of samples) this.queue.push(sample);
  }

  /** Writes everything that is waiting; when it resolves, the samples are in the database or in the spool. */
  flush(): Promise<void> {
    this.running = this.running.then(() => this.writeOut());
    return this.running;
  }

  /** When the newest stored sample of a point was taken; null when none has been since the start. */
  newestStored(pointId: number): number | null {
    return this.newest.get(pointId) ?? null;
  }

  status() {
    const cutoff = Date.now() - 10_000;
    const lately = this.recent.filter((r) => r.at >= cutoff).reduce((sum, r) => sum + r.count, 0);
    return {
      perSecond: lately / 10,
      stored: this.total,
      waiting: this.queue.length,
      spool: this.spool.status(),
    };
  }

  /** Raw samples of a point in [from, to), ascending, with the one before `from` where there is one. */
  async read(pointId: number, from: number, to: number): Promise<Sample[]> {
    const rows: Sample[] = await this.db.query(
      `(SELECT t, v, q FROM samples WHERE pointId = ? AND t < ? ORDER BY t DESC LIMIT 1)
       UNION ALL (SELECT t, v, q FROM samples WHERE pointId = ? AND t >= ? AND t < ?) ORDER BY t`,
      [pointId, from, pointId, from, to],
    );
    return rows;
  }

  /** At most `limit` raw samples of a point from `from` on, ascending: for walking through a long period. */
  readPage(pointId: number, from: number, to: number, limit: number): Promise<Sample[]> {
    return this.db.query(
      'SELECT t, v, q FROM samples WHERE pointId = ? AND t >= ? AND t < ? ORDER BY t LIMIT ?',
      [pointId, from, to, limit],
    );
  }

  /** Raw samples of several points in [from, to), by point, each ascending. */
  async readMany(pointIds: readonly number[], from: number, to: number): Promise<Map<number, Sample[]>> {
    const byPoint = new Map<number, Sample[]>();
    if (pointIds.length === 0) return byPoint;
    const rows: StoredSample[] = await this.db.query(
      'SELECT pointId, t, v, q FROM samples WHERE pointId IN (?) AND t >= ? AND t < ? ORDER BY pointId, t',
      [pointIds, from, to],
    );
    for (const { pointId, t, v, q } of rows) {
      const list = byPoint.get(pointId);
      if (list) list.push({ t, v, q });
      else byPoint.set(pointId, [{ t, v, q }]);
    }
    return byPoint;
  }

  /** First and last instant of a point's samples, or null without any. */
  async extent(pointId: number): Promise<{ first: number; last: number } | null> {
    const [row] = await this.db.query(
      'SELECT MIN(t) AS first, MAX(t) AS last FROM samples WHERE pointId = ?',
      [pointId],
    );
    return row?.first === null ? null : row;
  }

  /** Minutes (their starts) of points that have samples from t on. */
  minutesSince(t: number): Promise<{ pointId: number; minute: number }[]> {
    return this.db.query('SELECT DISTINCT pointId, t - t MOD 60000 AS minute FROM samples WHERE t >= ?', [t]);
  }

  /** Brings recorded history of a point in: instants ascending, values in base units. Readings that are there stay. */
  load(pointId: number, times: ArrayLike<number>, values: ArrayLike<number>): Promise<void> {
    const lines = function* () {
      for (let i = 0; i < times.length; i++)
        yield `${pointId}\t${times[i]}\t${Number.isFinite(values[i]) ? values[i] : '\\N'}\t${Number.isFinite(values[i]) ? QUALITY.good : QUALITY.notANumber}`;
    };
    return bulkLoad(this.db, 'samples', ['pointId', 't', 'v', 'q'], lines());
  }

  /** Puts computed samples of a point in the place of those that it has in [from, to). */
  async replace(pointId: number, from: number, to: number, samples: readonly Sample[]): Promise<void> {
    await this.db.transaction(async (tables) => {
      await tables.query('DELETE FROM samples WHERE pointId = ? AND t >= ? AND t < ?', [pointId, from, to]);
      for (let i = 0; i < samples.length; i += ROWS_A_STATEMENT)
        await tables.query('INSERT INTO samples (pointId, t, v, q) VALUES ?', [
          samples.slice(i, i + ROWS_A_STATEMENT).map((s) => [pointId, s.t, s.v, s.q]),
        ]);
    });
  }

  private async writeOut(): Promise<void> {
    this.writing = true;
    await this.writeBatch().finally(() => (this.writing = false));
  }

  private async writeBatch(): Promise<void> {
    const batch = this.queue;
    this.queue = [];
    if (this.awaySince !== null && Date.now() < this.nextTry) return this.toSpool(batch);
    try {
      await this.replay();
      await this.insert(batch);
      if (this.awaySince !== null)
        this.log.log(
          `database is back after ${Math.round((Date.now() - this.awaySince) / 1000)} s; the spool has been brought in`,
        );
      this.awaySince = null;
    } catch (error) {
      if (this.awaySince === null) {
        this.awaySince = Date.now();
        this.log.warn(`database does not take samples (${(error as Error).message}); they go to the spool`);
      }
      this.nextTry = Date.now() + TRY_AGAIN;
      await this.toSpool(batch);
    }
  }

  private async toSpool(batch: StoredSample[]): Promise<void> {
    if (batch.length === 0) return;
    try {
      await this.spool.write(batch);
    } catch (error) {
      // No database and no disk: keep what memory allows, and count what it does not.
      this.queue = [...batch, ...this.queue];
      const over = this.queue.length - 500_000;
      if (over > 0) this.spool.lost(this.queue.splice(0, over).length);
      this.log.error(`the spool cannot be written: ${(error as Error).message}`);
    }
  }

  private async replay(): Promise<void> {
    if (this.spool.status().samples === 0) return;
    for await (const batch of this.spool.replay(ROWS_A_STATEMENT)) await this.insert(batch);
  }

  private async insert(batch: StoredSample[]): Promise<void> {
    for (let i = 0; i < batch.length; i += ROWS_A_STATEMENT) {
      const part = batch.slice(i, i + ROWS_A_STATEMENT);
      await this.db.query(
        'INSERT INTO samples (pointId, t, v, q) VALUES ? ON DUPLICATE KEY UPDATE t = samples.t',
        [part.map((s) => [s.pointId, s.t, s.v, s.q])],
      );
      this.note(part);
      this.committed.next(part);
    }
  }

  private note(part: StoredSample[]): void {
    const now = Date.now();
    for (const { pointId, t } of part) if (t > (this.newest.get(pointId) ?? 0)) this.newest.set(pointId, t);
    this.total += part.length;
    this.recent.push({ at: now, count: part.length });
    while (this.recent.length > 0 && (this.recent[0] as { at: number }).at < now - 10_000)
      this.recent.shift();
  }
}
