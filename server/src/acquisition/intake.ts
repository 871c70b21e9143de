import type { LiveReading } from '@loka/contract/readings';
import { isText } from '@loka/core/definitions';
import { applyLine, holdOf, isBad, isIdentity, QUALITY } from '@loka/core/series';
import { Injectable } from '@nestjs/common';
import { DeviceBook } from '../book/deviceBook.js';
import { LiveReadings } from '../live/liveReadings.js';
import { LineBook } from '../series/lineBook.js';
import { SampleStore } from '../series/sampleStore.js';
import { ClockWatch } from './clockWatch.js';
import { Instants } from './instants.js';
import type { RawReading } from './runner.js';

/** Where readings of all links come in: given their instant, corrected, stored, and shown where they are the present. */
@Injectable()
export class Intake {
  private readonly lastBad = new Map<number, number>();
  private readonly instants = new Instants();

  constructor(
    private readonly book: DeviceBook,
    private readonly lines: LineBook,
    private readonly live: LiveReadings,
    private readonly store: SampleStore,
    private readonly clock: ClockWatch,
  ) {}

  accept(raws: readonly RawReading[], now = Date.now()): void {
    // A request that was under way when its point was removed still comes in.
    const known = raws.filter((raw) => this.book.point(raw.pointId));
    const placed = this.withEnds(
      known.map((raw) => (raw.ownTime ? raw : { ...raw, t: this.instants.free(raw.pointId, raw.t) })),
    );
    // What is shown and decided by is of now, whatever the clock says.
    const repeated = this.clock.isRepeated(now);
    this.store.append(
      placed
        .filter((r) => this.worthStoring(r))
        .map(({ pointId, t, raw, q, ownTime }) => ({
          pointId,
          t,
          v: raw,
          q: repeated && !ownTime && q === QUALITY.good ? QUALITY.repeatedTime : q,
          lag: ownTime ? Math.max(0, Math.round(now - t)) : null,
        })),
    );
    this.show(placed.filter((raw) => !this.isLate(raw, now)));
  }

  /** What a transducer at the end of its range tells is at least so much: its current, the power of its line, and their sum. */
  private withEnds(raws: readonly RawReading[]): readonly RawReading[] {
    if (!this.lines.knowsEnds) return raws;
    const ended = new Set(
      raws.flatMap(({ pointId, t, raw, q }) =>
        raw !== null && q === QUALITY.good && this.lines.isSaturated(pointId, t, raw)
          ? this.linesOf(pointId)
          : [],
      ),
    );
    if (ended.size === 0) return raws;
    return raws.map((raw) =>
      raw.q === QUALITY.good && raw.raw !== null && ended.has(this.linesOf(raw.pointId)[0] ?? '')
        ? { ...raw, q: QUALITY.saturated }
        : raw,
    );
  }

  /** The line that a current or a power is of, and that of their sum; none for all others. */
  private linesOf(pointId: number): string[] {
    const point = this.book.point(pointId);
    const quantity = point?.definition.quantity;
    return point && (quantity === 'current' || quantity === 'active-power')
      ? [point.phase, 'total'].map((phase) => `${point.deviceId} ${point.nodeId} ${phase}`)
      : [];
  }

  /** Publishes readings as what is true now, without storing them. */
  show(raws: readonly RawReading[]): void {
    const together = new Map(raws.map((raw) => [raw.pointId, raw]));
    const now = performance.now();
    this.live.publish(
      raws.map(({ ownTime: _, at = now, ...raw }) => ({ ...raw, at, ...this.corrected(raw, together) })),
    );
  }

  /**
   * Resolves when everything that was accepted is in the database, or in the spool on disk while that is away.
   * @throws when neither takes it
   */
  stored(): Promise<void> {
    return this.store.kept();
  }

  private corrected(
    { pointId, t, raw }: Pick<RawReading, 'pointId' | 't' | 'raw'>,
    together: ReadonlyMap<number, RawReading>,
  ): Pick<LiveReading, 'v' | 'sensed'> {
    if (raw === null || !this.lines.isCorrected(pointId)) return { v: raw };
    const rawOf = (id: number) => (together.get(id) ?? this.live.get(id))?.raw ?? null;
    const v = this.lines.correct(pointId, t, raw, rawOf);
    const sensing = this.lines.sensingAt(pointId, t);
    return isIdentity(sensing) ? { v } : { v, sensed: applyLine(sensing, raw) };
  }

  /**
   * Whether a reading that brings its own time is not what is true now: older than the newest of its point, or than it may
   * speak. It is stored, and shown, watched and decided by no more. What has its instant from Loka's own clock is never
   * late, also where that clock has been set back.
   */
  private isLate({ pointId, t, ownTime }: RawReading, now: number): boolean {
    if (!ownTime) return false;
    // A clock that is ahead, and is set right, must not make the next minutes late.
    const newest = this.instants.noteOwn(pointId, Math.min(t, now));
    const interval = this.book.point(pointId)?.definition.intervalMs ?? 1000;
    return t < newest || now - t > holdOf(interval);
  }

  /** Every reading is stored; of a row of failures, the first one of each kind: the gap after it speaks for the rest. */
  private worthStoring({ pointId, q }: RawReading): boolean {
    const point = this.book.point(pointId);
    if (point && isText(point.definition)) return false;
    if (!isBad(q)) return this.lastBad.delete(pointId) || true;
    if (this.lastBad.get(pointId) === q) return false;
    this.lastBad.set(pointId, q);
    return true;
  }
}
