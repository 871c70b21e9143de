import type { LiveReading } from '@loka/contract/readings';
import { Injectable } from '@nestjs/common';
import { Subject } from 'rxjs';

/** Readings of a point that are kept, to tell what was true a moment ago. */
const KEPT = 4;
/** Readings alike below which nothing is said of their standing still. */
const MANY = 60;

/** Readings of a point that are exactly the same. */
interface Run {
  raw: number;
  since: number;
  firstAt: number;
  lastAt: number;
  readings: number;
}

/** A reading with when it was read, by the monotonic clock, ms; long ago where nobody knows. */
export interface ArrivedReading extends LiveReading {
  at: number;
}

/** The present reading of every point, and the stream of all that come in. */
@Injectable()
export class LiveReadings {
  readonly stream = new Subject<ArrivedReading[]>();
  private readonly runs = new Map<number, Run>();
  /** The latest ones of each point, newest last. */
  private readonly latest = new Map<number, ArrivedReading[]>();

  publish(readings: ArrivedReading[]): void {
    if (readings.length === 0) return;
    for (const reading of readings) {
      this.follow(reading);
      const list = this.latest.get(reading.pointId);
      if (!list) this.latest.set(reading.pointId, [reading]);
      else {
        list.push(reading);
        if (list.length > KEPT) list.shift();
      }
    }
    this.stream.next(readings);
  }

  /**
   * Since when a point reads exactly the same, over many readings, UTC ms, and for how long, by the monotonic clock;
   * null while it moves. What is lost in between changes nothing.
   */
  standing(pointId: number): { since: number; forMs: number } | null {
    const run = this.runs.get(pointId);
    return run && run.readings >= MANY ? { since: run.since, forMs: run.lastAt - run.firstAt } : null;
  }

  private follow({ pointId, raw, t, at }: ArrivedReading): void {
    // When a retained message was said, nobody knows.
    if (raw === null || !Number.isFinite(at)) return;
    const run = this.runs.get(pointId);
    if (run?.raw !== raw) this.runs.set(pointId, { raw, since: t, firstAt: at, lastAt: at, readings: 1 });
    else {
      run.readings++;
      run.lastAt = at;
    }
  }

  get(pointId: number): ArrivedReading | undefined {
    return this.latest.get(pointId)?.at(-1);
  }

  /** The reading that was the present one at t; undefined when it is not kept any more, or there was none. */
  at(pointId: number, t: number): ArrivedReading | undefined {
    return this.latest.get(pointId)?.findLast((reading) => reading.t <= t);
  }

  all(): ArrivedReading[] {
    return [...this.latest.values()].map((list) => list.at(-1) as ArrivedReading);
  }

  forget(pointIds: readonly number[]): void {
    for (const id of pointIds) {
      this.latest.delete(id);
      this.runs.delete(id);
    }
  }
}
