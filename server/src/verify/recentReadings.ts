import { sensingLine } from '@loka/core/sensing';
import { isUsable } from '@loka/core/series';
import { NO_TRACE, type Trace } from '@loka/core/verify';
import { Injectable, OnModuleInit } from '@nestjs/common';
import { DeviceBook } from '../book/deviceBook.js';
import { CorrectionBook } from '../series/correctionBook.js';
import { LiveReadings } from '../live/liveReadings.js';

/** How far back readings are kept, ms, and how many of a point. Half as much more may stand there until it is cut off at once. */
export const WINDOW = 10 * 60_000;
const MOST = 1500;
const UNTIL_CUT = 1.5;
/** A reading that is older than the last one by more than this was read by another clock, ms. */
const SET_BACK = 5000;

/** The readings of the last minutes, as they are after sensing and corrections, of every point. */
@Injectable()
export class RecentReadings implements OnModuleInit {
  /** How each corrected point was corrected when its readings were kept. */
  private readonly linesSeen = new Map<number, string>();
  private readonly kept = new Map<number, { t: number[]; v: number[] }>();

  constructor(
    private readonly live: LiveReadings,
    private readonly corrections: CorrectionBook,
    private readonly devices: DeviceBook,
  ) {}

  onModuleInit(): void {
    this.live.stream.subscribe((readings) => {
      for (const { pointId, t, v, q } of readings) if (v !== null && isUsable(q)) this.keep(pointId, t, v);
    });
    this.corrections.reloaded.subscribe(() => this.dropChanged());
    for (const id of this.corrections.touched()) this.linesSeen.set(id, this.lineOf(id));
  }

  /** What was kept has been corrected otherwise: a step between the two would be none of the load's. */
  private dropChanged(): void {
    const touched = new Set([...this.corrections.touched(), ...this.linesSeen.keys()]);
    for (const id of touched) {
      const line = this.lineOf(id);
      if (this.linesSeen.get(id) === line) continue;
      this.linesSeen.set(id, line);
      // A total moves with its lines.
      const device = this.devices.pointEver(id)?.deviceId;
      for (const point of this.devices.allPoints())
        if (point.id === id || (device !== null && point.deviceId === device)) this.kept.delete(point.id);
    }
  }

  private lineOf(id: number): string {
    const sensings = this.corrections.sensingsOf(id).map((s) => [s.validFrom, sensingLine(s)]);
    const corrections = this.corrections.correctionsOf(id).map((c) => [c.validFrom, c.gain, c.offset]);
    return JSON.stringify([sensings, corrections]);
  }

  /** @param from only readings after this instant */
  trace(pointId: number | undefined, from = 0): Trace {
    const kept = pointId === undefined ? undefined : this.kept.get(pointId);
    if (!kept) return NO_TRACE;
    const first = kept.t.findIndex((t) => t > from);
    return first < 0 ? NO_TRACE : { t: kept.t.slice(first), v: kept.v.slice(first) };
  }

  private keep(pointId: number, t: number, v: number): void {
    const kept = this.kept.get(pointId) ?? { t: [], v: [] };
    this.kept.set(pointId, kept);
    const last = kept.t.at(-1);
    // A clock that was set back: what was kept lies in its future, and nothing would fit on it.
    if (last !== undefined && t < last - SET_BACK) kept.t.length = kept.v.length = 0;
    else if (last !== undefined && t <= last) return;
    kept.t.push(t);
    kept.v.push(v);
    if (kept.t.length > UNTIL_CUT * MOST || (kept.t[0] as number) < t - UNTIL_CUT * WINDOW) {
      const stale = Math.max(
        kept.t.length - MOST,
        kept.t.findIndex((at) => at >= t - WINDOW),
        0,
      );
      kept.t.splice(0, stale);
      kept.v.splice(0, stale);
    }
  }
}
