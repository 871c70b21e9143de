import { CounterFold, type CounterReading } from '@loka/core/energy';
import {
  emptyCounts,
  HOUR,
  MINUTE,
  rollUp,
  sliceSlots,
  spanStart,
  type Counts,
  type Sample,
  type Slots,
} from '@loka/core/series';
import { Injectable } from '@nestjs/common';
import { Counters } from './counters.js';
import { DerivedPoints } from './derivedPoints.js';
import { DueMarks } from './dueMarks.js';
import { Doubts } from './doubts.js';
import { IntervalBook } from './intervalBook.js';
import { Journal } from './journal.js';
import { stretchesOf } from './minuteRoller.js';
import { dayWith, keyOf, LEVELS, Pages, type Page } from './pages.js';
import { SampleStore } from './sampleStore.js';
import { VerdictBook } from './verdictBook.js';

/** Readings that are read and rolled up at a time. */
const READ_AT_A_TIME = 200_000;
const DAY = 24 * HOUR;
/** So much is worked out at a time, however few readings it holds: what answers and switches has its turn in between. */
const STRETCH = 4 * DAY;

/** Rolls long stretches of a point up in one go: recorded history that is brought in, and what is recalculated. */
@Injectable()
export class BulkRoller {
  constructor(
    private readonly store: SampleStore,
    private readonly journal: Journal,
    private readonly marks: DueMarks,
    private readonly pages: Pages,
    private readonly intervals: IntervalBook,
    private readonly verdicts: VerdictBook,
    private readonly counters: Counters,
    private readonly doubts: Doubts,
    private readonly derived: DerivedPoints,
  ) {}

  /** Works the pages of a point in [from, to) out again from its samples. @param from, to on full hours */
  async rebuild(pointId: number, from: number, to: number, now: number): Promise<void> {
    if (this.derived.isDerived(pointId)) {
      for (let start = from; start < to; start += DAY)
        await this.rebuildDerived(pointId, start, Math.min(start + DAY, to), now);
      return;
    }
    for (let start = from; start < to;) {
      const until = Math.min(to, start + STRETCH);
      const page = await this.journal.page(pointId, start, until, READ_AT_A_TIME);
      const last = page.at(-1);
      const end =
        page.length < READ_AT_A_TIME || !last ? until : Math.max(start + HOUR, spanStart(last.t, HOUR));
      const [carry] = (await this.journal.readManyWithCarry([pointId], start, start)).get(pointId) ?? [];
      const inside = page.filter((s) => s.t < end);
      await this.write(pointId, start, end, carry ? [carry, ...inside] : inside, now);
      start = end;
    }
  }

  /** Computes a derived point over [from, to) again, and rolls it up. */
  private async rebuildDerived(pointId: number, from: number, to: number, now: number): Promise<void> {
    const computed = await this.derived.compute(pointId, from, Math.min(to, now));
    await this.store.change((tables) => this.journal.replace(tables, pointId, from, to, computed));
    const [carry] = (await this.journal.readManyWithCarry([pointId], from, from)).get(pointId) ?? [];
    await this.write(pointId, from, to, carry ? [carry, ...computed] : computed, now);
  }

  /** Rolls up samples of a point in [from, to), with the one before `from` where there is one. */
  async write(pointId: number, from: number, to: number, samples: Sample[], now: number): Promise<void> {
    const judged = this.verdicts.judged(pointId, samples);
    const slots = rollUp(judged, {
      start: from,
      step: MINUTE,
      length: (to - from) / MINUTE,
      hold: this.intervals.hold(pointId),
      until: now,
    });
    const counter = this.counters.isCounter(pointId) ? await this.follow(pointId, from, to, judged) : null;
    const { hours, days } = await this.pagesOf(pointId, from, to, slots, counter?.counts ?? null);
    await this.store.change(async (tables) => {
      await this.pages.write(tables, 'minutes', hours);
      await this.pages.write(tables, 'quarters', days);
      await this.doubts.replaceImplausible(tables, from, to, [
        { pointId, stretches: stretchesOf(samples, from) },
      ]);
      if (!counter) return;
      const after = await this.counters.writeMany(tables, pointId, from, to, counter);
      // The hours at both ends depend on what lies beyond: they are followed once more, with that.
      await this.marks.mark(
        tables,
        [from, to - HOUR, ...(after === null ? [] : [after])].map((t): [number, number] => [pointId, t]),
      );
    });
  }

  private async pagesOf(
    pointId: number,
    from: number,
    to: number,
    slots: Slots,
    counts: Counts | null,
  ): Promise<{ hours: Page[]; days: Page[] }> {
    const hours: Page[] = [];
    for (let hour = from; hour < to; hour += HOUR)
      hours.push({
        pointId,
        start: hour,
        slots: sliceSlots(slots, hour, hour + HOUR),
        counts: counts && sliceCounts(counts, hour, hour + HOUR),
      });
    const { page } = LEVELS.quarters;
    const starts = [...new Set(hours.map((h) => spanStart(h.start, page)))];
    // Days at the ends may hold more than is worked out here.
    const known = await this.pages.at(
      'quarters',
      [...new Set([starts[0] as number, starts.at(-1) as number])].map((start) => ({ pointId, start })),
    );
    const days = starts.map((start) =>
      dayWith(
        known.get(keyOf({ pointId, start })),
        hours.filter((h) => spanStart(h.start, page) === start),
      ),
    );
    return { hours, days };
  }

  private async follow(pointId: number, from: number, to: number, samples: readonly Sample[]) {
    const readings: CounterReading[] = this.counters.readings(
      pointId,
      samples.filter((s) => s.t >= from),
    );
    const fold = new CounterFold(this.counters.rulesOf(pointId), await this.counters.stateAt(pointId, from));
    const exchanges = await this.counters.exchanges(pointId, from, to);
    const states: { hour: number; state: string }[] = [];
    let next = 0;
    let hour = from;
    for (const reading of readings) {
      const exchangeUntil = (t: number) => {
        for (; next < exchanges.length && (exchanges[next]?.t ?? Infinity) <= t; next++)
          fold.exchange(exchanges[next] as (typeof exchanges)[number]);
      };
      if (reading.t >= hour + HOUR && reading !== readings[0]) {
        exchangeUntil(hour + HOUR - 1);
        states.push({ hour: hour + HOUR, state: JSON.stringify(fold.state) });
      }
      hour = spanStart(reading.t, HOUR);
      exchangeUntil(reading.t);
      fold.take(reading);
    }
    for (const exchange of exchanges.slice(next)) fold.exchange(exchange);
    if (readings.length > 0) states.push({ hour: hour + HOUR, state: JSON.stringify(fold.state) });
    const counts = emptyCounts(from, MINUTE, (to - from) / MINUTE);
    for (const segment of fold.segments)
      if (segment.how === 'counted') this.counters.addSegment(counts, segment);
    return {
      counts,
      states,
      spans: fold.segments.filter((s) => s.how !== 'counted' && s.to >= from && s.to < to),
      events: fold.events.filter((e) => e.t >= from && e.t < to),
    };
  }
}

function sliceCounts(counts: Counts, from: number, to: number): Counts {
  const a = (from - counts.start) / counts.step;
  const b = (to - counts.start) / counts.step;
  return {
    start: from,
    step: counts.step,
    length: b - a,
    increment: counts.increment.slice(a, b),
    covered: counts.covered.slice(a, b),
  };
}
