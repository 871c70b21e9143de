import { HOUR, QUALITY, spanEnd, spanStart } from '@loka/core/series';
import { Injectable } from '@nestjs/common';
import { BulkRoller } from './bulkRoller.js';
import { Journal } from './journal.js';
import { RebuildsService } from './rebuilds.service.js';

/** Brings recorded history in, many readings at once. */
@Injectable()
export class HistoryLoader {
  constructor(
    private readonly journal: Journal,
    private readonly roller: BulkRoller,
    private readonly rebuilds: RebuildsService,
  ) {}

  /**
   * Stores readings of a point and rolls them up. A stop in between leaves a note of what is still to be rolled up.
   * @param times ascending; @param values base units
   */
  async load(pointId: number, times: readonly number[], values: readonly number[]): Promise<void> {
    const [first, last] = [times[0], times.at(-1)];
    if (first === undefined || last === undefined) return;
    const [start, end] = [spanStart(first, HOUR), spanEnd(last + 1, HOUR)];
    const { id } = await this.rebuilds.rows.save({ pointId, calibrationId: null, start, end, done: start });
    await this.journal.load(pointId, times, values, QUALITY.notANumber);
    const samples = times.map((t, i) => {
      const v = values[i] as number;
      return Number.isFinite(v) ? { t, v, q: QUALITY.good } : { t, v: null, q: QUALITY.notANumber };
    });
    await this.roller.write(pointId, start, end, samples, Date.now());
    await this.rebuilds.rows.delete({ id });
  }
}
