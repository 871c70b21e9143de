import { knownDigits } from '@loka/core/definitions';
import type { Series } from '@loka/contract/readings';
import {
  addSlot,
  breakAtGaps,
  emptySlots,
  meanAt,
  MINUTE,
  QUARTER,
  qualityInWords,
  rollUp,
  slotAt,
  spanEnd,
  spanStart,
  type Slots,
} from '@loka/core/series';
import { isoWithOffset } from '@loka/core/time';
import { Injectable } from '@nestjs/common';
import { DeviceBook, type KnownPoint } from '../book/deviceBook.js';
import { notFound } from '../problem/errors.js';
import { SiteService } from '../site/site.service.js';
import { UNIT_OF_EXPORT } from './exportColumns.js';
import { IntervalBook } from './intervalBook.js';
import { ReadingsReader, type Reading } from './readingsReader.js';
import { SlotReader } from './slotReader.js';

/** Up to so many single readings are sent as they are; more are answered from the rollups. */
const MOST_SAMPLES = 4000;
/** Of more single readings on a pixel nobody sees each. */
const MOST_A_PIXEL = 2.5;

/** Readings as they are asked for: corrected, from the level that fits. */
@Injectable()
export class ReadingsService {
  constructor(
    private readonly reader: ReadingsReader,
    private readonly slots: SlotReader,
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
    pointIds.forEach((id) => this.point(id));
    const single = new Map<number, Series>();
    if ('width' in how)
      for (const id of pointIds) {
        const series = await this.samples(id, from, to, how.width);
        if (series) single.set(id, series);
      }
    const many = pointIds.filter((id) => !single.has(id));
    const step = 'step' in how ? how.step : stepFor((to - from) / Math.max(50, how.width));
    const rolled = await this.rollups(many, from, to, step);
    return pointIds.map((id) => (single.get(id) ?? rolled.get(id)) as Series);
  }

  /** The rows of an export, in order: time with the site's offset, corrected value, unit, quality, raw value. */
  async *exportRows(pointId: number, from: number, to: number): AsyncGenerator<string[]> {
    const { definition } = this.point(pointId);
    const unit = UNIT_OF_EXPORT[definition.quantity];
    const { timeZone } = await this.sites.require();
    const cell = (value: number | null) => (value === null ? '' : String(knownDigits(definition, value)));
    for await (const { t, v, raw, q } of this.reader.scan([pointId], from, to))
      yield [isoWithOffset(timeZone, t), cell(v), unit, qualityInWords(q), cell(raw)];
  }

  point(id: number): KnownPoint {
    // What was read of a device that was removed is still there.
    const point = this.book.pointEver(id);
    if (!point) throw notFound('point', id);
    return point;
  }

  /** Single readings, where there are few of them by how densely the point was recorded then; null where there are many. */
  private async samples(pointId: number, from: number, to: number, width: number): Promise<Series | null> {
    if (this.intervals.expected(pointId, from, Math.min(to, Date.now())) > MOST_SAMPLES) return null;
    // Reported more often than expected: the limit holds anyway.
    const readings = await this.reader.list(pointId, from, to, MOST_SAMPLES + 1);
    if (readings.length > MOST_SAMPLES) return null;
    const hold = this.intervals.hold(pointId);
    if (readings.length <= MOST_A_PIXEL * Math.max(50, width)) return lineOf(pointId, readings, hold);
    // Denser than can be drawn: lowest, mean and highest of what falls on a pixel.
    const step = Math.ceil((to - from) / Math.max(50, width));
    const length = Math.ceil((Math.min(to, Date.now()) - from) / step);
    return seriesOf(
      pointId,
      rollUp(readings, { start: from, step, length, hold, until: Math.min(to, Date.now()) }),
    );
  }

  private async rollups(ids: number[], from: number, to: number, step: number): Promise<Map<number, Series>> {
    const lines = new Map<number, Series>();
    if (ids.length === 0) return lines;
    // Blocks begin where the period does; where that is no border of what is kept, at the one before.
    const grid = spanStart(from, step % QUARTER === 0 ? QUARTER : MINUTE);
    const end = Math.min(spanEnd(to - grid, step) + grid, Math.max(Date.now(), grid));
    for (const [id, blocks] of await this.slots.read(
      ids,
      grid,
      end,
      'all',
      step % QUARTER === 0 ? QUARTER : MINUTE,
    )) {
      const all = emptySlots(grid, step, Math.max(0, Math.ceil((end - grid) / step)));
      for (const slots of blocks)
        for (let i = 0; i < slots.length; i++)
          addSlot(all, slotAt(all, slots.start + i * slots.step), slots, i);
      lines.set(id, seriesOf(id, all));
    }
    return lines;
  }
}

/** A whole number of minutes, or of quarters of an hour where that is not finer than asked for. */
function stepFor(ms: number): number {
  const minutes = Math.max(1, Math.ceil(ms / MINUTE));
  return minutes <= 15 ? minutes * MINUTE : spanEnd(minutes * MINUTE, QUARTER);
}

/** The cell is the value: read as a number it is the same one. */

function lineOf(pointId: number, readings: readonly Reading[], hold: (t: number) => number): Series {
  const { t, v } = breakAtGaps(readings, hold);
  return {
    pointId,
    step: 0,
    t,
    mean: v,
    min: v,
    max: v,
    count: v.map((x) => (x === null ? 0 : 1)),
    covered: v.map(() => 0),
  };
}

/** Slots as a line; where several in a row are unknown, one null breaks it. */
function seriesOf(pointId: number, slots: Slots): Series {
  const series: Series = {
    pointId,
    step: slots.step,
    t: [],
    mean: [],
    min: [],
    max: [],
    count: [],
    covered: [],
  };
  let gap = true;
  for (let i = 0; i < slots.length; i++) {
    const covered = slots.covered[i] as number;
    if (covered === 0 && gap) continue;
    gap = covered === 0;
    series.t.push(slots.start + i * slots.step);
    series.mean.push(gap ? null : meanAt(slots, i));
    series.min.push(gap ? null : (slots.min[i] as number));
    series.max.push(gap ? null : (slots.max[i] as number));
    series.count.push(slots.count[i] as number);
    series.covered.push(covered);
  }
  if (gap)
    for (const column of [series.t, series.mean, series.min, series.max, series.count, series.covered])
      column.pop();
  return series;
}
