import type { LiveReading } from '@loka/contract/readings';
import { Injectable } from '@nestjs/common';
import { Subject } from 'rxjs';

/** Readings of a point that are kept, to tell what was true a moment ago. */
const KEPT = 4;

/** A reading with when it was read, by a clock that nobody sets, ms; long ago where nobody knows. */
export interface ArrivedReading extends LiveReading {
  at: number;
}

/** The present reading of every point, and the stream of all that come in. */
@Injectable()
export class LiveReadings {
  readonly stream = new Subject<ArrivedReading[]>();
  /** The latest ones of each point, newest last. */
  private readonly latest = new Map<number, ArrivedReading[]>();

  publish(readings: ArrivedReading[]): void {
    if (readings.length === 0) return;
    for (const reading of readings) {
      const list = this.latest.get(reading.pointId);
      if (!list) this.latest.set(reading.pointId, [reading]);
      else {
        list.push(reading);
        if (list.length > KEPT) list.shift();
      }
    }
    this.stream.next(readings);
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
    for (const id of pointIds) this.latest.delete(id);
  }
}
