import { MINUTE, QUALITY, rollUp, type Sample, type Slots } from '@loka/core/series';
import { Injectable } from '@nestjs/common';
import { DerivedPoints } from './derivedPoints.js';
import { IntervalBook } from './intervalBook.js';
import { Journal } from './journal.js';
import { VerdictBook } from './verdictBook.js';

/** A row of readings that cannot be true, and so do not count until somebody says that they do. */
export interface Implausible {
  t: number;
  until: number;
  /** The one farthest from zero. */
  value: number;
  readings: number;
}

/** What a stretch of minutes of a point comes to. */
export interface Rolled {
  slots: Slots;
  implausible: Implausible[];
  /** The samples of a derived point, computed; null for one that is read. */
  computed: Sample[] | null;
}

/** Rolls stretches of minutes up out of what is stored, or out of the inputs of what is computed; writes nothing. */
@Injectable()
export class MinuteRoller {
  constructor(
    private readonly journal: Journal,
    private readonly intervals: IntervalBook,
    private readonly verdicts: VerdictBook,
    private readonly derived: DerivedPoints,
  ) {}

  /** @param from, to on full minutes; @param until nothing is known from here on */
  async roll(
    pointIds: readonly number[],
    from: number,
    to: number,
    until: number,
  ): Promise<Map<number, Rolled>> {
    const rolled = new Map<number, Rolled>();
    const read = pointIds.filter((id) => !this.derived.isDerived(id));
    const stored = await this.journal.readManyWithCarry(read, from, to);
    for (const id of read) rolled.set(id, this.rollOne(id, stored.get(id) ?? [], from, to, until, null));
    for (const id of pointIds.filter((p) => this.derived.isDerived(p))) {
      const computed = await this.derived.compute(id, from, Math.min(to, until));
      const carry = (await this.journal.readManyWithCarry([id], from, from)).get(id) ?? [];
      rolled.set(id, this.rollOne(id, [...carry, ...computed], from, to, until, computed));
    }
    return rolled;
  }

  /** As {@link roll}, of one stretch as a single slot of any length. */
  async rollStretch(
    pointIds: readonly number[],
    from: number,
    to: number,
    until: number,
  ): Promise<Map<number, Slots>> {
    const slots = new Map<number, Slots>();
    if (to <= from) return slots;
    const read = pointIds.filter((id) => !this.derived.isDerived(id));
    const stored = await this.journal.readManyWithCarry(read, from, to);
    const plan = { start: from, step: to - from, length: 1, until };
    for (const id of pointIds) {
      let samples = stored.get(id) ?? [];
      if (this.derived.isDerived(id)) {
        const carry = (await this.journal.readManyWithCarry([id], from, from)).get(id) ?? [];
        samples = [...carry, ...(await this.derived.compute(id, from, Math.min(to, until)))];
      }
      slots.set(id, rollUp(this.verdicts.judged(id, samples), { ...plan, hold: this.intervals.hold(id) }));
    }
    return slots;
  }

  private rollOne(
    id: number,
    samples: Sample[],
    from: number,
    to: number,
    until: number,
    computed: Sample[] | null,
  ): Rolled {
    const plan = { start: from, step: MINUTE, length: (to - from) / MINUTE, until };
    return {
      slots: rollUp(this.verdicts.judged(id, samples), { ...plan, hold: this.intervals.hold(id) }),
      implausible: stretchesOf(samples, from),
      computed,
    };
  }
}

/** The rows of implausible readings among samples from an instant on. */
export function stretchesOf(samples: readonly Sample[], from: number): Implausible[] {
  const stretches: Implausible[] = [];
  let open = false;
  for (const { t, v, q } of samples) {
    if (t < from) continue;
    if (q !== QUALITY.implausible || v === null) {
      open = false;
      continue;
    }
    const last = open ? stretches.at(-1) : undefined;
    if (last) {
      last.until = t;
      last.readings++;
      if (Math.abs(v) > Math.abs(last.value)) last.value = v;
    } else stretches.push({ t, until: t, value: v, readings: 1 });
    open = true;
  }
  return stretches;
}
