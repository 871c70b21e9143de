import type { LiveReading } from '@loka/contract/readings';
import { Injectable } from '@nestjs/common';
import { Subject } from 'rxjs';

/** The newest reading of every point, and the stream of all that come in. */
@Injectable()
export class LiveReadings {
  readonly stream = new Subject<LiveReading[]>();
  private readonly newest = new Map<number, LiveReading>();

  publish(readings: LiveReading[]): void {
    if (readings.length === 0) return;
    for (const reading of readings) this.newest.set(reading.pointId, reading);
    this.stream.next(readings);
  }

  get(pointId: number): LiveReading | undefined {
    return this.newest.get(pointId);
  }

  all(): LiveReading[] {
    return [...this.newest.values()];
  }

  forget(pointIds: readonly number[]): void {
    for (const id of pointIds) this.newest.delete(id);
  }
}
