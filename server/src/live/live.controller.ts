import type { LiveReading } from '@loka/contract/readings';
import { Controller, MessageEvent, Sse } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { bufferTime, filter, from, map, merge, timer, type Observable } from 'rxjs';
import { ChangeFeed } from './changeFeed.js';
import { LiveReadings, type ArrivedReading } from './liveReadings.js';

/** Readings are gathered this long before they are sent. */
const TICK = 400;

/** The clock of this machine says nothing elsewhere. */
const asSent = ({ at: _, ...reading }: ArrivedReading): LiveReading => reading;

@ApiTags('live')
@Controller('live')
export class LiveController {
  constructor(
    private readonly readings: LiveReadings,
    private readonly changes: ChangeFeed,
  ) {}

  /** Server-sent events: `readings` (arrays of LiveReading, first all of them), `changed` (topics), `beat` (server's time). */
  @Sse()
  live(): Observable<MessageEvent> {
    return merge(
      from([{ type: 'readings', data: this.readings.all().map(asSent) }]),
      this.readings.stream.pipe(
        bufferTime(TICK),
        filter((batches) => batches.length > 0),
        map((batches) => ({
          type: 'readings',
          data: [...new Map(batches.flat().map((r) => [r.pointId, r])).values()].map(asSent),
        })),
      ),
      this.changes.changed.pipe(
        bufferTime(TICK),
        filter((topics) => topics.length > 0),
        map((topics) => ({ type: 'changed', data: [...new Set(topics)] })),
      ),
      timer(0, 5000).pipe(map(() => ({ type: 'beat', data: { now: Date.now() } }))),
    );
  }
}
