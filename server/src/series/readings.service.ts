import type { Series } from '@loka/contract/readings';
import { breakAtGaps, MINUTE, qualityInWords, type Sample } from '@loka/core/series';
import { isoWithOffset } from '@loka/core/time';
import { UNIT_OF_EXPORT } from './exportColumns.js';
import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import { CorrectionBook } from '../calibration/correctionBook.js';
import { DeviceBook, type KnownPoint } from '../devices/deviceBook.js';
import { notFound } from '../problem/problem.js';
import { SiteService } from '../site/site.service.js';
import { IntervalBook } from './intervalBook.js';
import { SampleStore } from './sampleStore.js';

/** Up to so many single readings are sent as they are; more are answered from the rollups. */
const MOST_SAMPLES = 4000;
const EXPORT_PAGE = 5000;

/** A value for a file: as many digits as it has, down to 1e-9 of the base unit, never with an exponent. */
const plainDigits = (value: number): string =>
  value
    .toFixed(9)
    .replace(/\.?0+$/, '')
    .replace(/^-0$/, '0');

/** Readings as they are asked for: corrected, from the level that fits. */
@Injectable()
export class ReadingsService {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly store: SampleStore,
    private readonly corrections: CorrectionBook,
    private readonly intervals: IntervalBook,
    private readonly book: DeviceBook,
    private readonly sites: SiteService,
  ) {}

  /** The lines of points over [from, to), for a drawing of some pixels' width or in blocks of a fixed length. */
  async series(
    pointIds: number[],
    { from, to }: { from: number; to: number },
    how: { width: number } | { step: number },
  ): Promise<Series[]> {
    return Promise.all(
      pointIds.map((id) => {
        const point = this.point(id);
        if ('step' in how) return this.rollups(id, from, to, how.step);
        const few = (Math.min(to, Date.now()) - from) / point.definition.intervalMs <= MOST_SAMPLES;
        return few
          ? this.samples(id, from, to)
          : this.rollups(
              id,
              from,
              to,
              Math.max(1, Math.ceil((to - from) / Math.max(50, how.width) / MINUTE)) * MINUTE,
            );
      }),
    );
  }

  /**
   * The rows of an export, in order: time with the site's offset, corrected value, unit, quality, raw value.
   * Walks the period page by page, so that a year needs no more memory than a day.
   */
  async *exportRows(pointId: number, from: number, to: number): AsyncGenerator<string[]> {
    const { definition } = this.point(pointId);
    const unit = UNIT_OF_EXPORT[definition.quantity];
    const { timeZone } = await this.sites.require();
    let next = from;
    for (;;) {
      const page = await this.store.readPage(pointId, next, to, EXPORT_PAGE);
      for (const { t, v, q } of page)
        yield [
          isoWithOffset(timeZone, t),
          v === null ? '' : plainDigits(this.corrections.correct(pointId, t, v)),
          unit,
          qualityInWords(q),
          v === null ? '' : plainDigits(v),
        ];
      const last = page.at(-1);
      if (!last || page.length < EXPORT_PAGE) return;
      next = last.t + 1;
    }
  }

  point(id: number): KnownPoint {
    const point = this.book.point(id);
    if (!point) throw notFound('point', id);
    return point;
  }

  /** Corrected samples of a point in [from, to). */
  async corrected(pointId: number, from: number, to: number): Promise<Sample[]> {
    const samples = await this.store.read(pointId, from, to);
    return samples
      .filter((s) => s.t >= from)
      .map(({ t, v, q }) => ({ t, v: v === null ? null : this.corrections.correct(pointId, t, v), q }));
  }

  private async samples(pointId: number, from: number, to: number): Promise<Series> {
    const { t, v } = breakAtGaps(await this.corrected(pointId, from, to), this.intervals.hold(pointId));
    return { pointId, step: 0, t, mean: v, min: v, max: v };
  }

  private async rollups(pointId: number, from: number, to: number, step: number): Promise<Series> {
    const rows: { t: number; mean: number; min: number; max: number }[] = await this.db.query(
      `SELECT t - (t - ?) MOD ? AS t, SUM(mean * covered) / SUM(covered) AS mean, MIN(min) AS min, MAX(max) AS max
       FROM rollups_1m WHERE pointId = ? AND t >= ? AND t < ? GROUP BY 1 ORDER BY 1`,
      [from, step, pointId, from, to],
    );
    const series: Series = { pointId, step, t: [], mean: [], min: [], max: [] };
    const push = (t: number, mean: number | null, min: number | null, max: number | null) => {
      series.t.push(t);
      series.mean.push(mean);
      series.min.push(min);
      series.max.push(max);
    };
    rows.forEach((row, i) => {
      const before = rows[i - 1];
      if (before && row.t - before.t > step) push(before.t + step, null, null, null);
      push(row.t, row.mean, row.min, row.max);
    });
    return series;
  }
}
