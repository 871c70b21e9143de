import {
  coarsen,
  coarsenCounts,
  correctSlots,
  emptyCounts,
  emptySlots,
  HOUR,
  isIdentity,
  lineAt,
  MINUTE,
  pasteSlots,
  QUARTER,
  sliceSlots,
  slotAt,
  spanEnd,
  spanStart,
  type Counts,
  type Slots,
} from '@loka/core/series';
import type { CounterState } from '@loka/core/energy';
import { Injectable } from '@nestjs/common';
import { group } from 'd3-array';
import { Counters } from './counters.js';
import { DueMarks, type Due } from './dueMarks.js';
import { LineBook } from './lineBook.js';
import { MinuteRoller } from './minuteRoller.js';
import { moveByParts } from './movedTotal.js';
import { partsOf } from './periodParts.js';
import { emptyHour, keyOf, Pages, type Columns } from './pages.js';

/** Slots of a point over a period: blocks of different lengths that follow one another without a gap. */
export type Blocks = Slots[];

/** Marks that are worked out while somebody waits; beyond them the rollups are being caught up with, and show it. */
const MARKS_ON_READ = 3000;
/** What was marked within this time is worked out on reading anyway. */
const LATELY = 5 * MINUTE;
/** Of a longer period it is asked first when readings begin: what lies before would be made of nothing. */
const LONG = 400 * 24 * HOUR;

/**
 * Reads rollups of any period, to the millisecond: quarter-hours where they lie wholly inside, minutes beside them, and
 * samples for what is not a full minute, has not been rolled up yet, or holds a change of a correction.
 */
@Injectable()
export class SlotReader {
  constructor(
    private readonly pages: Pages,
    private readonly marks: DueMarks,
    private readonly roller: MinuteRoller,
    private readonly counters: Counters,
    private readonly lines: LineBook,
  ) {}

  /** When the first of some points was read for the first time, by the hour; null where none ever was. */
  async firstAt(pointIds: readonly number[]): Promise<number | null> {
    if (pointIds.length === 0) return null;
    const known = (await Promise.all([this.pages.firstOf(pointIds), this.marks.firstOf(pointIds)])).filter(
      (t) => t !== null,
    );
    return known.length === 0 ? null : spanStart(Math.min(...known), HOUR);
  }

  /** The start of a period, or of the readings where that is long after it. */
  private async since(pointIds: readonly number[], from: number, to: number): Promise<number> {
    if (Math.min(to, Date.now()) - from < LONG) return from;
    return Math.max(from, (await this.firstAt(pointIds)) ?? to);
  }

  /**
   * Corrected slots of points over [from, to), nothing later than now.
   * @param columns what is wanted of them
   * @param longest no slot is longer than this, ms
   */
  async read(
    pointIds: readonly number[],
    from: number,
    to: number,
    columns: Exclude<Columns, 'counts'>,
    longest = QUARTER,
  ): Promise<Map<number, Blocks>> {
    const found = new Map<number, Blocks>();
    const start = await this.since(pointIds, from, to);
    const plain = pointIds.filter((id) => !this.lines.isCorrected(id));
    for (const [id, blocks] of await this.raw(plain, start, to, columns, longest)) found.set(id, blocks);
    for (const id of pointIds)
      if (this.lines.isCorrected(id)) found.set(id, await this.corrected(id, start, to, longest));
    return found;
  }

  /**
   * What flowed in and out of points over whole days of UTC, Wh, from the sums that are kept by the day. A point that is
   * corrected, or not rolled up to the end, is left out: of that one its slots tell.
   * @param from, to borders of such days
   */
  async daySums(
    pointIds: readonly number[],
    from: number,
    to: number,
  ): Promise<Map<number, { imported: number; exported: number }>> {
    const plain = pointIds.filter((id) => !this.lines.isCorrected(id));
    const due = await this.marks.pointsWithin(plain, from, to);
    const sums = new Map<number, { imported: number; exported: number }>();
    for (const [id, sum] of await this.pages.daySums(
      plain.filter((id) => !due.has(id)),
      from,
      to,
    ))
      if (sum) sums.set(id, sum);
    return sums;
  }

  /** What counters have counted over [from, to), raw; increments over gaps are not in it. */
  async counts(pointIds: readonly number[], from: number, to: number): Promise<Map<number, Counts[]>> {
    const found = new Map<number, Counts[]>(pointIds.map((id) => [id, []]));
    if (pointIds.length === 0 || to <= from) return found;
    const end = Math.min(to, Date.now());
    const start = await this.since(pointIds, from, end);
    if (end <= start) return found;
    const { edges, minutes, quarters } = partsOf(start, end);
    const due = await this.due(pointIds, start, end);
    const anew = await this.followDue(due);
    // A part of a minute is its share: what is counted between two readings is spread evenly.
    for (const [a, b] of edges) {
      const minute = spanStart(a, MINUTE);
      const whole = await this.minuteCounts(pointIds, minute, minute + MINUTE, anew);
      for (const [id, counts] of whole) {
        const part = emptyCounts(a, b - a, 1);
        const share = (b - a) / MINUTE;
        part.increment[0] = (counts.increment[0] as number) * share;
        part.covered[0] = Math.round((counts.covered[0] as number) * share);
        found.get(id)?.push(part);
      }
    }
    for (const [a, b] of minutes)
      for (const [id, counts] of await this.minuteCounts(pointIds, a, b, anew)) found.get(id)?.push(counts);
    const [a, b] = quarters;
    if (b > a) {
      const blocks = new Map(pointIds.map((id) => [id, emptyCounts(a, QUARTER, (b - a) / QUARTER)]));
      await this.pages.intoCounts('quarters', blocks, a, b);
      for (const hour of anew)
        pasteCounts(blocks.get(hour.pointId) as Counts, coarsenCounts(hour.counts, QUARTER));
      for (const [id, counts] of blocks) found.get(id)?.push(counts);
    }
    for (const list of found.values()) list.sort((x, y) => x.start - y.start);
    return found;
  }

  private async minuteCounts(
    pointIds: readonly number[],
    from: number,
    to: number,
    anew: readonly { pointId: number; counts: Counts }[],
  ): Promise<Map<number, Counts>> {
    const blocks = new Map(pointIds.map((id) => [id, emptyCounts(from, MINUTE, (to - from) / MINUTE)]));
    await this.pages.intoCounts('minutes', blocks, from, to);
    for (const { pointId, counts } of anew) pasteCounts(blocks.get(pointId) as Counts, counts);
    return blocks;
  }

  /** The hours of counters in which something is due, followed for this reading alone. */
  private async followDue(due: readonly Due[]): Promise<{ pointId: number; counts: Counts }[]> {
    const made: { pointId: number; counts: Counts }[] = [];
    for (const [pointId, marks] of group(due, (d) => d.pointId)) {
      const hours = [...new Set(marks.map((d) => spanStart(d.minute, HOUR)))].sort((a, b) => a - b);
      // Where the counter stands after each: the next one begins there, and is not kept either.
      const states: { end: number; state: CounterState | null }[] = [];
      const follow = async (hour: number) => {
        const followed = await this.counters.follow(pointId, hour, states);
        made.push({ pointId, counts: followed.counts });
        return followed;
      };
      for (const hour of hours) {
        const { leaving, reachesBackTo } = await follow(hour);
        // The minute before an hour is known only when the first reading after it has come.
        if (reachesBackTo !== null && reachesBackTo > hour - HOUR && !hours.includes(hour - HOUR))
          await follow(hour - HOUR);
        states.push({ end: hour + HOUR, state: leaving });
      }
    }
    return made;
  }

  private async due(pointIds: readonly number[], from: number, to: number): Promise<Due[]> {
    const due = await this.marks.within(pointIds, from, to, MARKS_ON_READ);
    const lately = Date.now() - LATELY;
    return due.length < MARKS_ON_READ ? due : due.filter((d) => d.minute >= lately);
  }

  /** Raw slots of points over [from, to), nothing later than now. */
  private async raw(
    pointIds: readonly number[],
    from: number,
    to: number,
    columns: Exclude<Columns, 'counts'>,
    longest = QUARTER,
  ): Promise<Map<number, Blocks>> {
    const found = new Map<number, Blocks>(pointIds.map((id) => [id, []]));
    const now = Date.now();
    const end = Math.min(to, now);
    if (pointIds.length === 0 || end <= from) return found;
    const { edges, minutes, quarters } = partsOf(from, end, longest);
    const due = await this.due(pointIds, from, end);
    const add = (blocks: Map<number, Slots>) => {
      for (const [id, slots] of blocks) found.get(id)?.push(slots);
    };
    for (const [a, b] of edges) add(await this.roller.rollStretch(pointIds, a, b, now));
    const anew = await this.rollDue(due, now);
    for (const [a, b] of minutes) {
      const blocks = new Map(
        pointIds.map((id) => [id, emptySlots(a, MINUTE, (b - a) / MINUTE, columns === 'all')]),
      );
      await this.pages.intoSlots('minutes', blocks, a, b, columns);
      for (const { pointId, slots } of anew) pasteSlots(blocks.get(pointId) as Slots, slots);
      add(blocks);
    }
    const [a, b] = quarters;
    if (b > a) {
      const blocks = new Map(
        pointIds.map((id) => [id, emptySlots(a, QUARTER, (b - a) / QUARTER, columns === 'all')]),
      );
      await this.pages.intoSlots('quarters', blocks, a, b, columns);
      for (const { pointId, slots } of await this.quartersWith(anew, a, b))
        pasteSlots(blocks.get(pointId) as Slots, slots);
      add(blocks);
    }
    for (const blocks of found.values()) blocks.sort((x, y) => x.start - y.start);
    return found;
  }

  /** Minutes that are due, rolled up for this reading alone; stretches of neighbouring ones. */
  private async rollDue(due: readonly Due[], now: number): Promise<{ pointId: number; slots: Slots }[]> {
    const stretches = new Map<string, { from: number; to: number; ids: number[] }>();
    for (const [pointId, marks] of group(due, (d) => d.pointId)) {
      const minutes = marks.map((m) => m.minute).sort((a, b) => a - b);
      let from = minutes[0] as number;
      for (let i = 0; i < minutes.length; i++) {
        const minute = minutes[i] as number;
        if (minutes[i + 1] === minute + MINUTE) continue;
        const key = `${from} ${minute}`;
        const known = stretches.get(key) ?? { from, to: minute + MINUTE, ids: [] };
        known.ids.push(pointId);
        stretches.set(key, known);
        from = minutes[i + 1] ?? NaN;
      }
    }
    const made: { pointId: number; slots: Slots }[] = [];
    for (const { from, to, ids } of stretches.values())
      for (const [pointId, { slots }] of await this.roller.roll(ids, from, to, now))
        made.push({ pointId, slots });
    return made;
  }

  /** The quarter-hours within [from, to) that minutes rolled up again lie in. */
  private async quartersWith(
    anew: readonly { pointId: number; slots: Slots }[],
    from: number,
    to: number,
  ): Promise<{ pointId: number; slots: Slots }[]> {
    const inside = anew.filter(({ slots }) => slots.start < to && slots.start + slots.length * MINUTE > from);
    const hours = new Map<string, { pointId: number; start: number; quarters: Set<number> }>();
    for (const { pointId, slots } of inside)
      for (let i = 0; i < slots.length; i++) {
        const minute = slots.start + i * MINUTE;
        const start = spanStart(minute, HOUR);
        const key = keyOf({ pointId, start });
        const hour = hours.get(key) ?? { pointId, start, quarters: new Set<number>() };
        hour.quarters.add(spanStart(minute, QUARTER));
        hours.set(key, hour);
      }
    const pages = await this.pages.at('minutes', [...hours.values()]);
    const made: { pointId: number; slots: Slots }[] = [];
    for (const [key, { pointId, start, quarters }] of hours) {
      const { slots } = pages.get(key) ?? emptyHour(pointId, start);
      for (const one of inside) if (one.pointId === pointId) pasteSlots(slots, one.slots);
      for (const quarter of quarters)
        if (quarter >= from && quarter < to)
          made.push({ pointId, slots: coarsen(sliceSlots(slots, quarter, quarter + QUARTER), QUARTER) });
    }
    return made;
  }

  /** Slots of a corrected point: each stretch in which no line changes by itself. */
  private async corrected(pointId: number, from: number, to: number, longest: number): Promise<Blocks> {
    const parts = this.lines.partsOf(pointId);
    const ids = [...new Set([pointId, ...parts.map((p) => p.id)])];
    const changes = [this.lines.linesOf(pointId), ...parts.map((p) => p.lines)].flatMap((lines) =>
      lines.map((l) => l.validFrom),
    );
    const borders = [...new Set([from, ...changes.filter((t) => t > from && t < to), to])].sort(
      (a, b) => a - b,
    );
    const blocks: Blocks = [];
    for (let i = 0; i + 1 < borders.length; i++) {
      const [a, b] = [borders[i] as number, borders[i + 1] as number];
      const raw = await this.raw(ids, a, b, 'all', longest);
      const own = raw.get(pointId) ?? [];
      const line = lineAt(this.lines.linesOf(pointId), a);
      for (const [k, slots] of own.entries()) {
        const moved = parts.map((part) => ({ slots: (raw.get(part.id) as Blocks)[k] as Slots, part, at: a }));
        const straight = isIdentity(line) ? slots : correctSlots(slots, () => line);
        blocks.push(moved.length === 0 ? straight : moveByParts(straight, moved));
      }
    }
    return blocks;
  }

  /**
   * By how much what was counted from a power has to be multiplied, quarter by quarter, because the power is corrected:
   * corrected over raw power. Null where nothing is corrected.
   */
  async scaleOf(
    powerIds: readonly number[],
    from: number,
    to: number,
  ): Promise<((t: number) => number) | null> {
    if (!powerIds.some((id) => this.lines.isCorrected(id))) return null;
    const start = spanStart(await this.since(powerIds, from, to), QUARTER);
    const length = Math.max(0, (spanEnd(Math.min(to, Date.now()), QUARTER) - start) / QUARTER);
    const raw = new Float64Array(length);
    const corrected = new Float64Array(length);
    const add = (sums: Float64Array, found: Map<number, Blocks>) => {
      for (const blocks of found.values())
        for (const slots of blocks)
          for (let i = 0; i < slots.length; i++) {
            const k = slotAt({ start, step: QUARTER }, slots.start + i * slots.step);
            const weight = slots.covered[i] as number;
            if (weight > 0 && k >= 0 && k < length)
              sums[k] =
                (sums[k] as number) + ((slots.plus[i] as number) - (slots.minus[i] as number)) * weight;
          }
    };
    add(raw, await this.raw(powerIds, Math.max(from, start), to, 'flow'));
    add(corrected, await this.read(powerIds, Math.max(from, start), to, 'flow'));
    return (t) => {
      const k = slotAt({ start, step: QUARTER }, t);
      const [was, is] = [raw[k] ?? 0, corrected[k] ?? 0];
      // Where next to nothing flowed, or nothing is known of the power, its own line says by how much it is off.
      if (Math.abs(was) > MINUTE * powerIds.length) return is / was;
      return powerIds.length === 1 ? lineAt(this.lines.linesOf(powerIds[0] as number), t).gain : 1;
    };
  }

  /** Whether a point has a line of its own. */
  hasLine(pointId: number): boolean {
    return this.lines.linesOf(pointId).length > 0;
  }

  /** The gain of a counter's own correction at t. */
  gainOf(pointId: number, t: number): number {
    return lineAt(this.lines.linesOf(pointId), t).gain;
  }
}

function pasteCounts(into: Counts, from: Counts): void {
  const first = slotAt(into, from.start);
  const skip = Math.max(0, -first);
  const length = Math.min(from.length, into.length - first);
  if (length <= skip) return;
  into.increment.set(from.increment.subarray(skip, length), first + skip);
  into.covered.set(from.covered.subarray(skip, length), first + skip);
}
