import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, type EntityManager } from 'typeorm';
import { chunksOf } from './journal.js';
import type { Implausible } from './minuteRoller.js';

/** What of a point's readings did not count as it was read, and what was made of it. */
export interface Doubt {
  pointId: number;
  t: number;
  until: number;
  kind: string;
  before: number | null;
  after: number | null;
  counted: number | null;
  readings: number;
}

const COLUMNS = '(pointId, t, kind, until, `before`, `after`, counted, readings)';

/** SQL on what did not count. */
@Injectable()
export class Doubts {
  constructor(@InjectDataSource() private readonly db: DataSource) {}

  /** Puts the implausible stretches of points in [from, to) in the place of those that are noted there. */
  async replaceImplausible(
    tables: Pick<EntityManager, 'query'>,
    from: number,
    to: number,
    points: readonly { pointId: number; stretches: readonly Implausible[] }[],
  ): Promise<void> {
    for (const part of chunksOf(points, 500))
      await tables.query(
        "DELETE FROM doubts WHERE pointId IN (?) AND t >= ? AND t < ? AND kind = 'implausible'",
        [part.map((p) => p.pointId), from, to],
      );
    const rows = points.flatMap(({ pointId, stretches }) =>
      stretches.map((s) => [pointId, s.t, 'implausible', s.until, null, s.value, null, s.readings]),
    );
    for (const part of chunksOf(rows, 500))
      await tables.query(`REPLACE INTO doubts ${COLUMNS} VALUES ?`, [part]);
  }

  /** Of some points in [from, to), newest first; rows that follow closely on one another are one. */
  async list(pointIds: readonly number[], from: number, to: number): Promise<Doubt[]> {
    const rows: Doubt[] = [];
    // Sorted here: to be spared it, the database would rather walk through all of its index.
    for (const ids of chunksOf(pointIds, 100))
      rows.push(
        ...((await this.db.query(
          'SELECT pointId, t, until, kind, `before`, `after`, counted, readings FROM doubts WHERE pointId IN (?) AND t >= ? AND t < ? LIMIT ?',
          [ids, from, to, MOST],
        )) as Doubt[]),
      );
    rows.sort((a, b) => a.pointId - b.pointId || a.t - b.t);
    const joined: Doubt[] = [];
    for (const row of rows) {
      const last = joined.at(-1);
      if (
        last?.kind === 'implausible' &&
        row.kind === 'implausible' &&
        last.pointId === row.pointId &&
        row.t - last.until <= CLOSE
      ) {
        last.until = row.until;
        last.readings += row.readings;
        if (Math.abs(row.after ?? 0) > Math.abs(last.after ?? 0)) last.after = row.after;
      } else joined.push({ ...row });
    }
    return joined.sort((a, b) => b.t - a.t);
  }
}

/** More than anybody looks through. */
const MOST = 5000;
/** Implausible readings no farther apart than this are one matter. */
const CLOSE = 5 * 60_000;
