import { applyLine, lineAt, MINUTE, spanStart, type Sample } from '@loka/core/series';
import { Injectable } from '@nestjs/common';
import { DerivedPoints } from './derivedPoints.js';
import { DueMarks } from './dueMarks.js';
import { IntervalBook } from './intervalBook.js';
import { Journal } from './journal.js';
import { addedOf, LineBook, type Part } from './lineBook.js';
import { VerdictBook } from './verdictBook.js';

/** A corrected reading of a point. */
export interface Reading {
  pointId: number;
  t: number;
  raw: number | null;
  v: number | null;
  q: number;
  /** How long it speaks when nothing comes after it, ms. */
  hold: number;
  /** How long it was under way, ms; null where it has its instant from its arrival. */
  lag: number | null;
}

export interface ScanOptions {
  /** The reading before the period as well, where there is one: it may reach into it. */
  carry?: boolean;
  /** Readings of a point that are read at a time. */
  page?: number;
}

/** The one way from raw samples to corrected readings, for drawings, exports, virtual meters and rehearsals. */
@Injectable()
export class ReadingsReader {
  constructor(
    private readonly journal: Journal,
    private readonly lines: LineBook,
    private readonly intervals: IntervalBook,
    private readonly verdicts: VerdictBook,
    private readonly derived: DerivedPoints,
    private readonly marks: DueMarks,
  ) {}

  /**
   * Corrected readings of points in [from, to), all together in time order (of the same instant, in the order of the
   * points). Read page by page, so that a year needs no more memory than an hour.
   */
  async *scan(
    pointIds: readonly number[],
    from: number,
    to: number,
    { carry = false, page = 5000 }: ScanOptions = {},
  ): AsyncGenerator<Reading> {
    const rows = pointIds.map((id) => this.one(id, from, to, carry, page));
    const heads = await Promise.all(rows.map((row) => row.next()));
    for (;;) {
      let first = -1;
      heads.forEach((head, i) => {
        if (!head.done && (first < 0 || head.value.t < (heads[first] as { value: Reading }).value.t))
          first = i;
      });
      if (first < 0) return;
      yield (heads[first] as { value: Reading }).value;
      heads[first] = await (rows[first] as AsyncGenerator<Reading>).next();
    }
  }

  /** All of {@link scan} of one point at once, at most `limit` of them. */
  async list(pointId: number, from: number, to: number, limit = Infinity, carry = false): Promise<Reading[]> {
    const found: Reading[] = [];
    for await (const reading of this.one(pointId, from, to, carry, Math.min(limit, 20_000))) {
      found.push(reading);
      if (found.length >= limit) break;
    }
    return found;
  }

  /** Raw samples as corrected readings; those of the meter's lines are needed for a total that moves with them. */
  private async *one(
    pointId: number,
    from: number,
    to: number,
    carry: boolean,
    page: number,
  ): AsyncGenerator<Reading> {
    const parts = this.lines.partsOf(pointId);
    // A meter's lines are read with its total, so they have samples at the same instants.
    const others = parts.map((p) => this.samples(p.id, from, to, true, page));
    const heads = await Promise.all(others.map((row) => row.next()));
    const newest: (Sample | null)[] = parts.map(() => null);
    const lines = this.lines.linesOf(pointId);
    const hold = this.intervals.hold(pointId);
    for await (const { t, v: raw, q, lag } of this.samples(pointId, from, to, carry, page)) {
      let v = raw === null ? null : applyLine(lineAt(lines, t), raw);
      for (let i = 0; i < parts.length; i++) {
        for (; !heads[i]?.done && (heads[i] as { value: Sample }).value.t <= t;) {
          newest[i] = (heads[i] as { value: Sample }).value;
          heads[i] = await (others[i] as (typeof others)[number]).next();
        }
        const part = newest[i];
        if (v === null || !part || part.v === null || t - part.t > hold(part.t)) continue;
        v += addedOf(parts[i] as Part, t, part.v);
      }
      yield { pointId, t, raw, v, q, hold: hold(t), lag: lag ?? null };
    }
  }

  /** Judged raw samples of a point, page by page; the end of a derived one, which is not stored yet, is computed. */
  private async *samples(
    pointId: number,
    from: number,
    to: number,
    carry: boolean,
    page: number,
  ): AsyncGenerator<Sample & { lag?: number | null }> {
    const verdicts = (list: Sample[]) => this.verdicts.judged(pointId, list);
    if (carry)
      yield* verdicts((await this.journal.readManyWithCarry([pointId], from, from)).get(pointId) ?? []);
    const end = this.derived.isDerived(pointId) ? await this.storedUntil(pointId, from, to) : to;
    for (let next = from; next < end;) {
      const found = await this.journal.page(pointId, next, end, page);
      yield* verdicts(found);
      const last = found.at(-1);
      if (!last || found.length < page) break;
      next = last.t + 1;
    }
    if (end < to) yield* verdicts(await this.derived.compute(pointId, end, Math.min(to, Date.now())));
  }

  /** Until when a derived point has been computed: the first of the minutes at its end that are due. */
  private async storedUntil(pointId: number, from: number, to: number): Promise<number> {
    const lately = Math.max(from, spanStart(Date.now(), MINUTE) - 10 * MINUTE);
    const due = await this.marks.within([pointId], lately, to, 100);
    const first = Math.min(...due.map((d) => d.minute), spanStart(Date.now(), MINUTE));
    return Math.max(from, Math.min(to, first));
  }
}
