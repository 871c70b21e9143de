import { HOUR, MINUTE, pasteSlots, spanStart } from '@loka/core/series';
import { group } from 'd3-array';
import { Injectable, Logger, OnApplicationBootstrap, OnModuleDestroy } from '@nestjs/common';
import type { EntityManager } from 'typeorm';
import { isDatabaseAway } from '../database/away.js';
import { BulkRoller } from './bulkRoller.js';
import { Counters, type CounterHour } from './counters.js';
import { DerivedPoints } from './derivedPoints.js';
import { DueMarks, type Due } from './dueMarks.js';
import { chunksOf, Journal } from './journal.js';
import { Doubts } from './doubts.js';
import { MinuteRoller, type Rolled } from './minuteRoller.js';
import { dayWith, emptyHour, keyOf, LEVELS, Pages } from './pages.js';
import { SampleStore } from './sampleStore.js';

const EVERY = 2000;
/** A minute is closed so long after its end: readings of its last second are still on their way. */
const CLOSING = 1500;
const MARKS_AT_A_TIME = 4000;
const HOURS_A_TRANSACTION = 200;

/** The minutes of one hour of a point that are due. */
interface DueHour {
  pointId: number;
  hour: number;
  /** First due minute, and the end of the last one. */
  from: number;
  to: number;
  due: Due[];
}

/** What is to be written for an hour. */
interface Made {
  hour: DueHour;
  rolled: Rolled;
  counted: CounterHour | null;
}

/**
 * Keeps the pages of rollups true to the samples: works off what is marked as due, and takes the marks away in the
 * transaction that writes the pages. Only minutes that are over are rolled up; what has not ended is read from the samples.
 */
@Injectable()
export class RollupWorker implements OnApplicationBootstrap, OnModuleDestroy {
  private readonly log = new Logger('rollups');
  private timer: NodeJS.Timeout | null = null;
  private running: Promise<void> = Promise.resolve();
  private busy = false;
  private stopping = false;
  private troubled = false;

  constructor(
    private readonly store: SampleStore,
    private readonly journal: Journal,
    private readonly marks: DueMarks,
    private readonly pages: Pages,
    private readonly roller: MinuteRoller,
    private readonly counters: Counters,
    private readonly doubts: Doubts,
    private readonly bulk: BulkRoller,
    private readonly derived: DerivedPoints,
  ) {}

  onApplicationBootstrap(): void {
    this.timer = setInterval(() => void (this.busy || this.work().catch((error) => this.say(error))), EVERY);
  }

  async onModuleDestroy(): Promise<void> {
    this.stopping = true;
    if (this.timer) clearInterval(this.timer);
    await this.running.catch(() => undefined);
  }

  /** Rolls up every minute that is due and over. @throws when the database does not take it; the marks stay */
  work(now = Date.now()): Promise<void> {
    const turn = this.running.catch(() => undefined).then(() => this.workOff(now));
    this.running = turn;
    return turn;
  }

  /**
   * Works everything of a point in [from, to) out again, in steps that each leave a whole state behind.
   * @param from, to on full hours; @param fresh a counter is followed from its first reading on
   */
  rebuild(pointId: number, from: number, to: number, fresh: boolean): Promise<void> {
    const turn = this.running
      .catch(() => undefined)
      .then(async () => {
        const now = Date.now();
        if (fresh && this.counters.isCounter(pointId))
          await this.store.change((tables) => this.counters.forget(tables, pointId));
        await this.bulk.rebuild(pointId, from, to, now);
      });
    this.running = turn;
    return turn;
  }

  private say(error: unknown): void {
    if (!this.troubled) this.log.warn(`rollups wait: ${(error as Error).message}`);
    if (!isDatabaseAway(error) && !this.troubled) this.log.error((error as Error).stack);
    this.troubled = true;
  }

  private async workOff(now: number): Promise<void> {
    this.busy = true;
    try {
      for (;;) {
        // In its turn, so that no write that took a mark for granted is still under way.
        const due = await this.store.inTurn(() => {
          this.marks.forget();
          return this.marks.before(spanStart(now - CLOSING, MINUTE), MARKS_AT_A_TIME);
        });
        if (due.length === 0 || this.stopping) break;
        await this.rollUp(hoursOf(due), now);
        if (
          due.length < MARKS_AT_A_TIME &&
          (await this.marks.before(spanStart(now - CLOSING, MINUTE), 1)).length === 0
        )
          break;
      }
      this.troubled = false;
    } finally {
      this.busy = false;
    }
  }

  private async rollUp(hours: DueHour[], now: number): Promise<void> {
    const plain = hours.filter(
      (h) => !this.derived.isDerived(h.pointId) && !this.counters.isCounter(h.pointId),
    );
    for (const part of chunksOf(plain, HOURS_A_TRANSACTION))
      await this.write(await this.rollPlain(part, now));
    // Hour by hour: where a counter stands at the end of one is where it begins in the next.
    const counters = hours
      .filter((h) => !this.derived.isDerived(h.pointId) && this.counters.isCounter(h.pointId))
      .sort((a, b) => a.hour - b.hour);
    for (const part of sameHours(counters)) await this.rollCounters(part, now);
    // One after the other, each after what it is computed from.
    const order = this.derived.order([...new Set(hours.map((h) => h.pointId))]);
    for (const pointId of order.filter((id) => this.derived.isDerived(id)))
      for (const part of chunksOf(
        hours.filter((h) => h.pointId === pointId),
        24,
      ))
        await this.write(await this.rollPlain(part, now));
  }

  private async rollPlain(hours: readonly DueHour[], now: number): Promise<Made[]> {
    const made: Made[] = [];
    for (const same of sameStretches(hours)) {
      const { from, to } = same[0] as DueHour;
      const rolled = await this.roller.roll(
        same.map((h) => h.pointId),
        from,
        to,
        now,
      );
      for (const hour of same) made.push({ hour, rolled: rolled.get(hour.pointId) as Rolled, counted: null });
    }
    return made;
  }

  /** Counters of one hour, and what their readings have to say of the hours before it. */
  private async rollCounters(hours: readonly DueHour[], now: number): Promise<void> {
    for (const part of chunksOf(hours, HOURS_A_TRANSACTION)) {
      const made = await this.rollPlain(part, now);
      const before: Made[] = [];
      for (const one of made) {
        const { pointId, hour, from } = one.hour;
        one.counted = await this.counters.follow(pointId, hour);
        const { reachesBackTo, reachesUntil } = one.counted;
        if (reachesBackTo === null || from > reachesUntil) continue;
        for (let h = spanStart(reachesBackTo, HOUR); h < hour; h += HOUR)
          before.push(await this.again(pointId, h, now));
      }
      await this.write([...before, ...made]);
    }
  }

  /** An hour of a counter again, as a whole, without a mark. */
  private async again(pointId: number, hour: number, now: number): Promise<Made> {
    const whole = { pointId, hour, from: hour, to: hour + HOUR, due: [] };
    const [made] = await this.rollPlain([whole], now);
    return { ...(made as Made), counted: await this.counters.follow(pointId, hour) };
  }

  private async write(made: readonly Made[]): Promise<void> {
    if (made.length === 0) return;
    const starts = made.map(({ hour }) => ({ pointId: hour.pointId, start: hour.hour }));
    const days = new Map(
      starts.map(({ pointId, start }) => {
        const day = { pointId, start: spanStart(start, LEVELS.quarters.page) };
        return [keyOf(day), day];
      }),
    );
    const [hourPages, dayPages] = await Promise.all([
      this.pages.at('minutes', starts),
      this.pages.at('quarters', [...days.values()]),
    ]);
    for (const { hour, rolled, counted } of made) {
      const start = { pointId: hour.pointId, start: hour.hour };
      const page = hourPages.get(keyOf(start)) ?? emptyHour(hour.pointId, hour.hour);
      pasteSlots(page.slots, rolled.slots);
      if (counted) page.counts = counted.counts;
      hourPages.set(keyOf(start), page);
      const day = { pointId: hour.pointId, start: spanStart(hour.hour, LEVELS.quarters.page) };
      dayPages.set(keyOf(day), dayWith(dayPages.get(keyOf(day)), [page]));
    }
    await this.store.change(async (tables) => {
      await this.writeImplausible(tables, made);
      for (const one of made) await this.writeDetails(tables, one);
      await this.pages.write(tables, 'minutes', [...hourPages.values()]);
      await this.pages.write(tables, 'quarters', [...dayPages.values()]);
      await this.marks.done(
        tables,
        made.flatMap(({ hour }) => hour.due),
      );
    });
  }

  private async writeImplausible(tables: EntityManager, made: readonly Made[]): Promise<void> {
    for (const same of group(made, ({ hour }) => `${hour.from} ${hour.to}`).values()) {
      const { from, to } = (same[0] as Made).hour;
      await this.doubts.replaceImplausible(
        tables,
        from,
        to,
        same.map(({ hour, rolled }) => ({ pointId: hour.pointId, stretches: rolled.implausible })),
      );
    }
  }

  private async writeDetails(tables: EntityManager, { hour, rolled, counted }: Made): Promise<void> {
    const { pointId, from, to } = hour;
    if (rolled.computed) await this.journal.replace(tables, pointId, from, to, rolled.computed);
    if (!counted) return;
    const next = await this.counters.write(tables, counted);
    if (next !== null) await this.marks.mark(tables, [[pointId, next]]);
  }
}

/** Due minutes, hour by hour. */
function hoursOf(due: readonly Due[]): DueHour[] {
  const hours = new Map<string, DueHour>();
  for (const mark of due) {
    const { pointId, minute } = mark;
    const hour = spanStart(minute, HOUR);
    const key = keyOf({ pointId, start: hour });
    const known = hours.get(key);
    if (known) {
      known.from = Math.min(known.from, minute);
      known.to = Math.max(known.to, minute + MINUTE);
      known.due.push(mark);
    } else hours.set(key, { pointId, hour, from: minute, to: minute + MINUTE, due: [mark] });
  }
  return [...hours.values()];
}

/** Hours with the same due minutes together, to be read in one go. */
function sameStretches(hours: readonly DueHour[]): DueHour[][] {
  return [...group(hours, (h) => `${h.from} ${h.to}`).values()];
}

const sameHours = (hours: readonly DueHour[]): DueHour[][] => [...group(hours, (h) => h.hour).values()];
