import {
  coarsen,
  coarsenCounts,
  decodeCounts,
  decodeCountsInto,
  decodePage,
  decodePageInto,
  emptyCounts,
  emptySlots,
  encodeCounts,
  encodePage,
  HOUR,
  isEmptyPage,
  MINUTE,
  pasteSlots,
  QUARTER,
  spanStart,
  type Counts,
  type Slots,
} from '@loka/core/series';
import { energyAt, energyOfSlots } from '@loka/core/energy';
import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, type EntityManager } from 'typeorm';
import { chunksOf } from './journal.js';

/** The levels of rollups: minutes by the hour, quarter-hours by the day (of UTC, so that a page is the same in every zone). */
export const LEVELS = {
  minutes: { level: 1, step: MINUTE, page: HOUR },
  quarters: { level: 2, step: QUARTER, page: 24 * HOUR },
} as const;
export type Level = keyof typeof LEVELS;

/** A page of a point: its slots, and for a counter what was counted in them. */
export interface Page {
  pointId: number;
  start: number;
  slots: Slots;
  counts: Counts | null;
}

/** What of pages is wanted: all, only what energy is made of, or only what counters have counted. */
export type Columns = 'all' | 'flow' | 'counts';

interface Row {
  pointId: number;
  start: number;
  flow: Uint8Array;
  shape: Uint8Array;
  counts: Uint8Array | null;
}

const SELECTED: Record<Columns, string> = {
  all: 'pointId, start, flow, shape, counts',
  flow: 'pointId, start, flow',
  counts: 'pointId, start, counts',
};
const ROWS_A_STATEMENT = 200;
const POINTS_AT_A_TIME = 15;

/** SQL on the pages of rollups: the one place that knows how they lie. */
@Injectable()
export class Pages {
  constructor(@InjectDataSource() private readonly db: DataSource) {}

  /** Puts the pages of points that touch [from, to) into their slots, in the place of what is there. */
  intoSlots(
    level: Level,
    blocks: ReadonlyMap<number, Slots>,
    from: number,
    to: number,
    columns: Exclude<Columns, 'counts'>,
  ): Promise<void> {
    return this.each(level, [...blocks.keys()], from, to, columns, ({ pointId, start, flow, shape }) =>
      decodePageInto(blocks.get(pointId) as Slots, start, flow, shape ?? null),
    );
  }

  /** As {@link intoSlots}, for what counters have counted. */
  intoCounts(level: Level, blocks: ReadonlyMap<number, Counts>, from: number, to: number): Promise<void> {
    return this.each(level, [...blocks.keys()], from, to, 'counts', ({ pointId, start, counts }) => {
      if (counts) decodeCountsInto(blocks.get(pointId) as Counts, start, counts);
    });
  }

  /** Some points at a time: while one part is decoded here, the database reads the next. */
  private async each(
    level: Level,
    pointIds: readonly number[],
    from: number,
    to: number,
    columns: Columns,
    take: (row: Row) => void,
  ): Promise<void> {
    const { level: number, page } = LEVELS[level];
    const sql = `SELECT ${SELECTED[columns]} FROM rollup_pages WHERE pointId IN (?) AND level = ? AND start >= ? AND start < ?`;
    const parts = chunksOf(pointIds, POINTS_AT_A_TIME)[Symbol.iterator]();
    const reader = async () => {
      for (const ids of parts)
        for (const row of (await this.db.query(sql, [ids, number, spanStart(from, page), to])) as Row[])
          take(row);
    };
    await Promise.all([reader(), reader()]);
  }

  /** The pages of points that begin at the given instants, as `${pointId} ${start}`. */
  async at(level: Level, wanted: readonly { pointId: number; start: number }[]): Promise<Map<string, Page>> {
    const { level: number, step } = LEVELS[level];
    const found = new Map<string, Page>();
    for (const part of chunksOf(wanted, ROWS_A_STATEMENT)) {
      const rows: Row[] = await this.db.query(
        'SELECT pointId, start, flow, shape, counts FROM rollup_pages WHERE (pointId, level, start) IN (?)',
        [part.map((w) => [w.pointId, number, w.start])],
      );
      for (const { pointId, start, flow, shape, counts } of rows)
        found.set(keyOf({ pointId, start }), {
          pointId,
          start,
          slots: decodePage(start, step, flow, shape),
          counts: counts ? decodeCounts(start, step, counts) : null,
        });
    }
    return found;
  }

  /**
   * What flowed in and out of points in whole days of UTC, Wh, as their pages hold it; null for a point with a page that
   * does not say. @param from, to borders of such days
   */
  async daySums(
    pointIds: readonly number[],
    from: number,
    to: number,
  ): Promise<Map<number, { imported: number; exported: number } | null>> {
    const sums = new Map<number, { imported: number; exported: number } | null>(
      pointIds.map((id) => [id, { imported: 0, exported: 0 }]),
    );
    for (const ids of chunksOf(pointIds, ROWS_A_STATEMENT)) {
      const rows: { pointId: number; imported: number; exported: number; silent: number }[] =
        await this.db.query(
          `SELECT pointId, SUM(imported) AS imported, SUM(exported) AS exported, COUNT(*) > COUNT(imported) AS silent
           FROM rollup_pages WHERE pointId IN (?) AND level = ? AND start >= ? AND start < ? GROUP BY pointId`,
          [ids, LEVELS.quarters.level, from, to],
        );
      for (const { pointId, imported, exported, silent } of rows)
        sums.set(pointId, silent ? null : { imported, exported });
    }
    return sums;
  }

  /** The hour of the first page of any of some points, or the day where there are only days; null where none has any. */
  async firstOf(pointIds: readonly number[]): Promise<number | null> {
    return (await this.firstAt('minutes', pointIds)) ?? (await this.firstAt('quarters', pointIds));
  }

  private async firstAt(level: Level, pointIds: readonly number[]): Promise<number | null> {
    let first: number | null = null;
    for (const ids of chunksOf(pointIds, ROWS_A_STATEMENT))
      // Point by point the first entry of the index; the smallest of all would read it through.
      for (const { start } of (await this.db.query(
        'SELECT MIN(start) AS start FROM rollup_pages WHERE pointId IN (?) AND level = ? GROUP BY pointId',
        [ids, LEVELS[level].level],
      )) as { start: number }[])
        first = Math.min(first ?? Infinity, Number(start));
    return first;
  }

  /** Writes pages in the place of what is there; one in which nothing is known any more goes. */
  async write(tables: Pick<EntityManager, 'query'>, level: Level, pages: readonly Page[]): Promise<void> {
    const { level: number, page } = LEVELS[level];
    const isEmpty = ({ slots, counts }: Page) =>
      isEmptyPage(slots) && (counts === null || counts.covered.every((c) => c === 0));
    const empty = pages.filter(isEmpty);
    for (const part of chunksOf(empty, ROWS_A_STATEMENT))
      await tables.query('DELETE FROM rollup_pages WHERE (pointId, level, start) IN (?)', [
        part.map((p) => [p.pointId, number, p.start]),
      ]);
    for (const part of chunksOf(
      pages.filter((p) => !isEmpty(p)),
      ROWS_A_STATEMENT,
    ))
      await tables.query(
        'REPLACE INTO rollup_pages (pointId, level, start, flow, shape, counts, imported, exported) VALUES ?',
        [
          part.map(({ pointId, start, slots, counts }) => {
            const { flow, shape } = encodePage(slots);
            const day =
              level === 'quarters' ? energyAt(energyOfSlots([slots], [start, start + page]), 0) : null;
            return [
              pointId,
              number,
              start,
              Buffer.from(flow),
              Buffer.from(shape),
              counts && Buffer.from(encodeCounts(counts)),
              day && keptSum(day.import),
              day && keptSum(day.export),
            ];
          }),
        ],
      );
  }

  /** Takes the pages of a point from an hour's start to another away, days that lie wholly inside included. */
  async remove(tables: Pick<EntityManager, 'query'>, pointId: number): Promise<void> {
    await tables.query('DELETE FROM rollup_pages WHERE pointId = ?', [pointId]);
  }
}

export const keyOf = ({ pointId, start }: { pointId: number; start: number }): string =>
  `${pointId} ${start}`;

/** A sum as it is kept; one beyond the largest number is not. */
const keptSum = (wh: number | null): number | null => (Number.isFinite(wh ?? 0) ? (wh ?? 0) : null);

/** An hour in which nothing is known. */
export const emptyHour = (pointId: number, hour: number): Page => ({
  pointId,
  start: hour,
  slots: emptySlots(hour, MINUTE, HOUR / MINUTE),
  counts: null,
});

/** A day with the quarters of an hour of its hours put in; what it had in those hours is replaced. */
export function dayWith(day: Page | undefined, hours: readonly Page[]): Page {
  const { pointId, start } = hours[0] as Page;
  const { page, step } = LEVELS.quarters;
  const first = spanStart(start, page);
  const made: Page = day ?? {
    pointId,
    start: first,
    slots: emptySlots(first, step, page / step),
    counts: null,
  };
  for (const hour of hours) {
    pasteSlots(made.slots, coarsen(hour.slots, step));
    if (!hour.counts) continue;
    made.counts ??= emptyCounts(first, step, page / step);
    const quarters = coarsenCounts(hour.counts, step);
    const at = (quarters.start - first) / step;
    made.counts.increment.set(quarters.increment, at);
    made.counts.covered.set(quarters.covered, at);
  }
  return made;
}
