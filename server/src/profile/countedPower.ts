import { emptySpans, type PowerSpans } from '@loka/core/profile';
import { HOUR, QUARTER } from '@loka/core/series';
import { Injectable } from '@nestjs/common';
import { DeviceBook } from '../book/deviceBook.js';
import { counterPointsOf } from '../book/nodePoints.js';
import { EnergyService } from '../energy/energy.service.js';
import { PlacePower } from './placePower.js';

/** A quarter-hour known for less than this share has no power. */
const KNOWN = 0.9;

/** The power of a place of which only a counter is read: what it counted in each quarter-hour. */
@Injectable()
export class CountedPower {
  constructor(
    private readonly energy: EnergyService,
    private readonly book: DeviceBook,
    private readonly power: PlacePower,
  ) {}

  isCounted(nodeId: number): boolean {
    const own = this.book.allPoints().filter((p) => p.nodeId === nodeId);
    return counterPointsOf(own, 'energy-import').length > 0;
  }

  /**
   * Whole quarter-hours of [from, to); the mean of each alone is known.
   * @throws Problem where the period lies in the future or is too long
   */
  async spans(nodeId: number, from: number, to: number): Promise<PowerSpans> {
    this.power.checkPeriod(from, to);
    const start = Math.ceil(from / QUARTER) * QUARTER;
    const end = Math.max(start, Math.floor(Math.min(to, Date.now()) / QUARTER) * QUARTER);
    const spans = emptySpans(start, QUARTER, (end - start) / QUARTER);
    if (end === start) return spans;
    const { borders, nodes } = await this.energy.calendar(start, end, 'quarter', [nodeId]);
    const own = nodes.find((n) => n.nodeId === nodeId);
    own?.net.forEach((net, i) => {
      const [at, until] = [borders[i] as number, borders[i + 1] as number];
      if (net === null || until - at !== QUARTER || (own.coverage[i] as number) < KNOWN) return;
      const watts = (net * HOUR) / QUARTER;
      for (const column of [spans.mean, spans.min, spans.max, spans.last])
        column[(at - start) / QUARTER] = watts;
    });
    return spans;
  }
}
