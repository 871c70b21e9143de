import type { LiveReading } from '@loka/contract/readings';
import { isText } from '@loka/core/points';
import { isBad } from '@loka/core/series';
import { Injectable } from '@nestjs/common';
import { CorrectionBook } from '../calibration/correctionBook.js';
import { DeviceBook } from '../devices/deviceBook.js';
import { LiveReadings } from '../live/liveReadings.js';
import { SampleStore } from '../series/sampleStore.js';
import type { RawReading } from './runner.js';

/** Where readings of all links come in: corrected, shown live, stored. */
@Injectable()
export class Intake {
  private readonly lastBad = new Map<number, number>();

  constructor(
    private readonly book: DeviceBook,
    private readonly corrections: CorrectionBook,
    private readonly live: LiveReadings,
    private readonly store: SampleStore,
  ) {}

  accept(raws: readonly RawReading[]): void {
    // A request that was under way when its point was taken off still comes in.
    const known = raws.filter((raw) => this.book.point(raw.pointId));
    const readings: LiveReading[] = known.map((raw) => ({
      ...raw,
      v: raw.raw === null ? null : this.corrections.correct(raw.pointId, raw.t, raw.raw),
    }));
    this.store.append(
      readings
        .filter((r) => this.worthStoring(r))
        .map(({ pointId, t, raw, q }) => ({ pointId, t, v: raw, q })),
    );
    this.live.publish(readings);
  }

  /** Resolves when everything that was accepted is in the database, or in the spool on disk while that is away. */
  stored(): Promise<void> {
    return this.store.flush();
  }

  /** Every reading is stored; of a row of failures, the first one of each kind: the gap after it speaks for the rest. */
  private worthStoring({ pointId, q }: LiveReading): boolean {
    const point = this.book.point(pointId);
    if (point && isText(point.definition)) return false;
    if (!isBad(q)) return this.lastBad.delete(pointId) || true;
    if (this.lastBad.get(pointId) === q) return false;
    this.lastBad.set(pointId, q);
    return true;
  }
}
