import type { Happening } from '@loka/contract/happenings';
import { isBad, MINUTE, qualityInWords, QUARTER } from '@loka/core/series';
import { Injectable } from '@nestjs/common';
import { DeviceBook } from '../book/deviceBook.js';
import { currentPointsOf, powerPointsOf } from '../book/nodePoints.js';
import { ReadingsReader } from '../series/readingsReader.js';
import { SlotReader } from '../series/slotReader.js';

const DAY = 86_400_000;
/** Over longer periods gaps are looked for by quarter-hours. */
const BY_MINUTES = 3 * DAY;
const LISTED = 60;
/** So many readings at the start of a gap are looked at for its reason. */
const LOOKED_AT = 5;

/** When nothing was known of a place, and why. */
@Injectable()
export class GapsService {
  constructor(
    private readonly book: DeviceBook,
    private readonly slots: SlotReader,
    private readonly reader: ReadingsReader,
  ) {}

  /** Gaps in the power of a place, or in its current, within [from, to); the longest ones where there are many. */
  async of(nodeId: number, from: number, to: number): Promise<Happening[]> {
    const own = this.book.allPoints().filter((p) => p.nodeId === nodeId);
    const point = powerPointsOf(own)[0] ?? currentPointsOf(own)[0];
    if (!point) return [];
    const first = (await this.slots.firstAt([point.id])) ?? to;
    const [start, end] = [Math.max(from, first), Math.min(to, Date.now())];
    if (end <= start) return [];
    const step = end - start <= BY_MINUTES ? MINUTE : QUARTER;
    const blocks = (await this.slots.read([point.id], start, end, 'flow', step)).get(point.id) ?? [];
    const gaps: [number, number][] = [];
    for (const slots of blocks)
      for (let i = 0; i < slots.length; i++) {
        const at = slots.start + i * slots.step;
        const until = Math.min(at + slots.step, end);
        // Less than half of it known is a gap; the minute that is under way is not over.
        if ((slots.covered[i] as number) >= (until - at) / 2 || until > end - 2 * MINUTE) continue;
        const last = gaps.at(-1);
        if (last && at - last[1] < MINUTE) last[1] = until;
        else gaps.push([at, until]);
      }
    const shown = gaps.sort((a, b) => b[1] - b[0] - (a[1] - a[0])).slice(0, LISTED);
    return Promise.all(
      shown.map(async ([t, until]): Promise<Happening> => {
        const reason = await this.reason(point.id, t, until);
        return {
          kind: 'gap',
          t,
          until,
          says: `No readings of “${point.definition.name}”${reason ? `: ${reason}` : ''}`,
          who: null,
          level: 'warn',
          commentId: null,
        };
      }),
    );
  }

  private async reason(pointId: number, from: number, to: number): Promise<string | null> {
    const readings = await this.reader.list(pointId, from, to, LOOKED_AT);
    const bad = readings.find((r) => isBad(r.q));
    return bad ? qualityInWords(bad.q).replace('bad: ', '') : null;
  }
}
