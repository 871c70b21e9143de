import type { Sample } from '@loka/core/series';
import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, type EntityManager } from 'typeorm';
import { databaseCode } from '../database/away.js';
import { bulkLoad } from '../database/bulkLoad.js';

/** A raw sample of a point, and how long it was under way where it brought its own time, ms. */
export interface StoredSample extends Sample {
  pointId: number;
  lag?: number | null;
}

/** What became of readings that were put. */
export interface Put {
  stored: number;
  /** They were there already. */
  repeated: number;
  /** Their millisecond was taken by another reading, so they have the next free one. */
  moved: number;
}

const ROWS_A_STATEMENT = 2000;
/** More ids make MariaDB build a temporary table. */
const IDS_A_STATEMENT = 500;
/** Carry-ins that are asked for in one statement. */
const CARRIES_A_STATEMENT = 100;

export const chunksOf = <T>(list: readonly T[], size: number): T[][] =>
  Array.from({ length: Math.ceil(list.length / size) }, (_, i) => list.slice(i * size, (i + 1) * size));

/** SQL on the samples: the one place that knows how they lie. All queries are ranges of the primary key. */
@Injectable()
export class Journal {
  constructor(@InjectDataSource() private readonly db: DataSource) {}

  /**
   * Inserts samples; the same one again changes nothing. A reading is told by its point, instant, value and quality:
   * another one in the same millisecond takes the next free one.
   */
  async insert(tables: EntityManager, samples: readonly StoredSample[]): Promise<Put> {
    try {
      // The usual case: nothing of it is there.
      await tables.query(insertOf(samples));
      return { stored: samples.length, repeated: 0, moved: 0 };
    } catch (error) {
      if (databaseCode(error) !== 'ER_DUP_ENTRY') throw error;
      return this.insertAround(tables, samples);
    }
  }

  /** Inserts what is not there yet, and gives what meets another reading the next free millisecond. */
  private async insertAround(tables: EntityManager, samples: readonly StoredSample[]): Promise<Put> {
    const put: Put = { stored: 0, repeated: 0, moved: 0 };
    let left: readonly StoredSample[] = samples;
    for (let attempt = 0; left.length > 0; attempt++) {
      // Of a single row the server does not say whether it was there; of the same one twice it does.
      const twice = left.length === 1;
      const result: { info: string } = await tables.query(
        `${insertOf(twice ? [...left, ...left] : left)} ON DUPLICATE KEY UPDATE pointId = samples.pointId`,
      );
      const duplicates = duplicatesIn(result) - (twice ? 1 : 0);
      put.stored += left.length - duplicates;
      if (attempt > 0) put.moved += left.length - duplicates;
      if (duplicates === 0) break;
      const others = await this.others(tables, left);
      put.repeated += duplicates - others.length;
      left = spread(others.map((s) => ({ ...s, t: s.t + 1 })));
    }
    return put;
  }

  /** Those of some samples in whose millisecond another one lies. */
  private async others(tables: EntityManager, samples: readonly StoredSample[]): Promise<StoredSample[]> {
    const others: StoredSample[] = [];
    for (const part of chunksOf(samples, IDS_A_STATEMENT)) {
      const rows: StoredSample[] = await tables.query(
        'SELECT pointId, t, v, q FROM samples WHERE (pointId, t) IN (?)',
        [part.map((s) => [s.pointId, s.t])],
      );
      const there = new Map(rows.map((row) => [`${row.pointId} ${row.t}`, row]));
      for (const sample of part) {
        const row = there.get(`${sample.pointId} ${sample.t}`);
        if (row && !(row.v === sample.v && row.q === sample.q)) others.push(sample);
      }
    }
    return others;
  }

  /** Raw samples of a point in [from, to), ascending, with the one before `from` where there is one. */
  read(pointId: number, from: number, to: number): Promise<Sample[]> {
    return this.db.query(
      `(SELECT t, v, q FROM samples WHERE pointId = ? AND t < ? ORDER BY t DESC LIMIT 1)
       UNION ALL (SELECT t, v, q FROM samples WHERE pointId = ? AND t >= ? AND t < ?) ORDER BY t`,
      [pointId, from, pointId, from, to],
    );
  }

  /** At most `limit` raw samples of a point from `from` on, ascending: for walking through a long period. */
  page(
    pointId: number,
    from: number,
    to: number,
    limit: number,
  ): Promise<(Sample & { lag: number | null })[]> {
    return this.db.query(
      'SELECT t, v, q, lag FROM samples WHERE pointId = ? AND t >= ? AND t < ? ORDER BY t LIMIT ?',
      [pointId, from, to, limit],
    );
  }

  /** Raw samples of several points in [from, to), by point, each ascending. */
  async readMany(pointIds: readonly number[], from: number, to: number): Promise<Map<number, Sample[]>> {
    const byPoint = new Map<number, Sample[]>();
    for (const ids of chunksOf(pointIds, IDS_A_STATEMENT)) {
      const rows: StoredSample[] = await this.db.query(
        'SELECT pointId, t, v, q FROM samples WHERE pointId IN (?) AND t >= ? AND t < ? ORDER BY pointId, t',
        [ids, from, to],
      );
      for (const { pointId, t, v, q } of rows) {
        const list = byPoint.get(pointId);
        if (list) list.push({ t, v, q });
        else byPoint.set(pointId, [{ t, v, q }]);
      }
    }
    return byPoint;
  }

  /** As {@link readMany}, each with the sample before `from` where there is one. */
  async readManyWithCarry(
    pointIds: readonly number[],
    from: number,
    to: number,
  ): Promise<Map<number, Sample[]>> {
    const byPoint = await this.readMany(pointIds, from, to);
    for (const ids of chunksOf(pointIds, CARRIES_A_STATEMENT)) {
      const rows: StoredSample[] = await this.db.query(
        ids
          .map(
            () =>
              '(SELECT pointId, t, v, q FROM samples WHERE pointId = ? AND t < ? ORDER BY t DESC LIMIT 1)',
          )
          .join(' UNION ALL '),
        ids.flatMap((id) => [id, from]),
      );
      for (const { pointId, t, v, q } of rows)
        byPoint.set(pointId, [{ t, v, q }, ...(byPoint.get(pointId) ?? [])]);
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

  /** Brings recorded history of a point in: instants ascending, values in base units. Readings that are there stay. */
  load(pointId: number, times: ArrayLike<number>, values: ArrayLike<number>, bad: number): Promise<void> {
    const lines = function* () {
      for (let i = 0; i < times.length; i++) {
        const known = Number.isFinite(values[i]);
        yield `${pointId}\t${times[i]}\t${known ? values[i] : '\\N'}\t${known ? 0 : bad}`;
      }
    };
    return bulkLoad(this.db, 'samples', ['pointId', 't', 'v', 'q'], lines());
  }

  /** Puts samples of a point in the place of those that it has in [from, to). */
  async replace(
    tables: EntityManager,
    pointId: number,
    from: number,
    to: number,
    samples: readonly Sample[],
  ): Promise<void> {
    await tables.query('DELETE FROM samples WHERE pointId = ? AND t >= ? AND t < ?', [pointId, from, to]);
    for (const part of chunksOf(samples, ROWS_A_STATEMENT))
      await tables.query('INSERT INTO samples (pointId, t, v, q) VALUES ?', [
        part.map((s) => [pointId, s.t, s.v, s.q]),
      ]);
  }
}

/** How many rows of a multi-row insert were there already. */
function duplicatesIn({ info }: { info: string }): number {
  const told = /Duplicates: (\d+)/.exec(info);
  if (!told) throw new Error(`the database does not say how many rows were new: “${info}”`);
  return Number(told[1]);
}

/**
 * Rows as SQL: numbers and nothing else, which the driver's own quoting would take several times as long for. Most have
 * their instant from their arrival, and no column for how long they were under way.
 * @throws TypeError
 */
function insertOf(samples: readonly StoredSample[]): string {
  const value = (v: number | null) => (v === null ? 'NULL' : literal(v));
  const row = (s: StoredSample) => `${literal(s.pointId)},${literal(s.t)},${value(s.v)},${literal(s.q)}`;
  if (samples.every((s) => s.lag == null))
    return `INSERT INTO samples (pointId, t, v, q) VALUES ${samples.map((s) => `(${row(s)})`).join(',')}`;
  const rows = samples.map((s) => `(${row(s)},${value(s.lag ?? null)})`);
  return `INSERT INTO samples (pointId, t, v, q, lag) VALUES ${rows.join(',')}`;
}

function literal(value: number): string {
  if (typeof value !== 'number' || !Number.isFinite(value))
    throw new TypeError(`${String(value)} is no number to store`);
  return String(value);
}

/** Gives different readings of a point that came together with one instant the milliseconds that follow it. */
function spread(samples: readonly StoredSample[]): StoredSample[] {
  const seen = new Map<string, StoredSample[]>();
  return samples.map((sample) => {
    const key = `${sample.pointId} ${sample.t}`;
    const others = seen.get(key);
    if (!others) {
      seen.set(key, [sample]);
      return sample;
    }
    let place = others.findIndex((o) => o.v === sample.v && o.q === sample.q);
    if (place < 0) place = others.push(sample) - 1;
    return place === 0 ? sample : { ...sample, t: sample.t + place };
  });
}
