import { powerSpans, sumOfParts, type PowerSpans } from '@loka/core/profile';
import { HOUR, MINUTE, QUARTER } from '@loka/core/series';
import { Injectable } from '@nestjs/common';
import { DeviceBook, type KnownPoint } from '../book/deviceBook.js';
import { InstallationBook } from '../book/installationBook.js';
import { powerPointsOf } from '../book/nodePoints.js';
import { invalidField, notFound, Problem } from '../problem/errors.js';
import { IntervalBook } from '../series/intervalBook.js';
import { SlotReader } from '../series/slotReader.js';

/** Of longer periods quarter-hours are looked at, ms. */
export const BY_MINUTES = 62 * 24 * HOUR;
const LONGEST = 366 * 24 * HOUR;

/** A place that something measures, and the points whose sum is its power. */
export interface PowerPart {
  nodeId: number;
  points: KnownPoint[];
}

/** The power of a place over a period, and the parts that it is the sum of. */
export interface PlaceSum {
  spans: PowerSpans;
  parts: PowerPart[];
  /** Parts that were read for too little of the period to be part of the sum. */
  without: PowerPart[];
}

/** The power of places over a period. */
@Injectable()
export class PlacePower {
  constructor(
    private readonly slots: SlotReader,
    private readonly book: DeviceBook,
    private readonly tree: InstallationBook,
    private readonly intervals: IntervalBook,
  ) {}

  /**
   * The places whose power is that of a place: itself where something measures it, else those below it that something measures.
   * @throws Problem where the place is not there, or nothing is measured of it
   */
  partsOf(nodeId: number): PowerPart[] {
    const node = this.tree.node(nodeId);
    if (!node) throw notFound('place in the installation', nodeId);
    const parts = this.measuredIn(nodeId);
    if (parts.length === 0)
      throw new Problem(
        'nothing-measured',
        `Nothing measures the power of “${node.name}”, nor of what lies behind it.`,
      );
    return parts;
  }

  /** At how far an interval the slowest of some points was read in a period, ms. */
  readEvery(points: readonly KnownPoint[], from: number, to: number): number {
    return Math.max(...points.map((p) => this.intervals.slowest(p.id, from, to)));
  }

  /** When the power of a place was read for the first time, UTC ms; null where it never was. */
  firstAt(nodeId: number): Promise<number | null> {
    return this.slots.firstAt(this.partsOf(nodeId).flatMap((part) => part.points.map((p) => p.id)));
  }

  /** Whether something measures a place, or what hangs on it in its stead. */
  isMeasured(nodeId: number): boolean {
    return this.measuredIn(nodeId).length > 0;
  }

  /** Whether something measures the place itself. */
  isMeasuredItself(nodeId: number): boolean {
    return this.measuredIn(nodeId).some((part) => part.nodeId === nodeId);
  }

  /** A place where something measures it, else the nearest ones below it that something measures. */
  measuredIn(nodeId: number): PowerPart[] {
    const points = powerPointsOf(this.book.allPoints().filter((p) => p.nodeId === nodeId));
    return points.length > 0
      ? [{ nodeId, points }]
      : this.tree.childrenOf(nodeId).flatMap((child) => this.measuredIn(child.id));
  }

  /**
   * By minutes, of a long period by quarter-hours; whole ones, nothing later than now; over the same spans for all places.
   * @throws Problem where a place is not there, nothing measures it, or the period lies in the future or is too long
   */
  async spans(nodeIds: readonly number[], from: number, to: number): Promise<PowerSpans[]> {
    return (await this.sums(nodeIds, from, to)).map((sum) => sum.spans);
  }

  /** The same, with what each is made of. */
  async sums(nodeIds: readonly number[], from: number, to: number): Promise<PlaceSum[]> {
    const partsOf = nodeIds.map((id) => this.partsOf(id));
    const spans = await this.spansOf(
      partsOf.flat().map((part) => part.points.map((p) => p.id)),
      from,
      to,
    );
    return partsOf.map((parts) => {
      const sum = sumOfParts(spans.splice(0, parts.length));
      return {
        spans: sum.spans,
        parts: parts.filter((_, i) => !sum.without.includes(i)),
        without: sum.without.map((i) => parts[i] as PowerPart),
      };
    });
  }

  /** @throws Problem where the period lies in the future or is too long */
  checkPeriod(from: number, to: number): void {
    if (from >= Date.now()) throw invalidField('from', 'That lies in the future: nothing was read yet.');
    if (to - from > LONGEST) throw invalidField('to', 'Choose a year at most.');
  }

  /** The same of the sums of some points each. @throws Problem where the period lies in the future or is too long */
  async spansOf(ids: readonly number[][], from: number, to: number): Promise<PowerSpans[]> {
    this.checkPeriod(from, to);
    const step = to - from > BY_MINUTES ? QUARTER : MINUTE;
    const start = Math.ceil(from / step) * step;
    const end = Math.max(start, Math.floor(Math.min(to, Date.now()) / step) * step);
    const read = await this.slots.read([...new Set(ids.flat())], start, end, 'all', step);
    return ids.map((points) => {
      const ofPoints = points.map((id) => (read.get(id) ?? []).filter((slots) => slots.step === step));
      return powerSpans(ofPoints, start, step, (end - start) / step);
    });
  }
}
