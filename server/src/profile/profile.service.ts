import type { PlaceProfile } from '@loka/contract/profile';
import { powerSpans, type PowerSpans } from '@loka/core/profile';
import { HOUR, MINUTE, QUARTER } from '@loka/core/series';
import { Injectable } from '@nestjs/common';
import { DeviceBook } from '../book/deviceBook.js';
import { InstallationBook } from '../book/installationBook.js';
import { powerPointsOf } from '../book/nodePoints.js';
import { invalidField, notFound, Problem } from '../problem/errors.js';
import { SlotReader } from '../series/slotReader.js';
import { SiteService } from '../site/site.service.js';
import { ProfileThread } from './profileThread.js';

/** Of longer periods quarter-hours are looked at, ms. */
const BY_MINUTES = 62 * 24 * HOUR;
const LONGEST = 366 * 24 * HOUR;
/** Told with when each began; the figures are of all. */
const MOST_RUNS = 2000;

/** What loads do, found from their power. */
@Injectable()
export class ProfileService {
  constructor(
    private readonly slots: SlotReader,
    private readonly book: DeviceBook,
    private readonly tree: InstallationBook,
    private readonly sites: SiteService,
    private readonly thread: ProfileThread,
  ) {}

  /** @throws Problem where the place is not there, nothing measures it, or the period lies in the future or is too long */
  async of(nodeId: number, from: number, to: number): Promise<PlaceProfile> {
    if (!this.tree.node(nodeId)) throw notFound('place in the installation', nodeId);
    if (from >= Date.now()) throw invalidField('from', 'That lies in the future: nothing was read yet.');
    if (to - from > LONGEST) throw invalidField('to', 'A profile is made of a year at most.');
    const points = powerPointsOf(this.book.allPoints().filter((p) => p.nodeId === nodeId));
    if (points.length === 0)
      throw new Problem('nothing-measured', 'Nothing measures the power of this place.');
    const { timeZone } = await this.sites.require();
    const spans = await this.spans(
      points.map((p) => p.id),
      from,
      to,
    );
    const profile = await this.thread.work(spans, timeZone);
    const { runs, carpet } = profile;
    return {
      ...profile,
      nodeId,
      runs: runs && { ...runs, list: runs.list.slice(-MOST_RUNS) },
      carpet: {
        ...carpet,
        watts: Array.from(carpet.watts, (w) => (Number.isNaN(w) ? null : Math.round(10 * w) / 10)),
      },
    };
  }

  /** The power by minutes, of a long period by quarter-hours; whole ones, nothing later than now. */
  private async spans(pointIds: number[], from: number, to: number): Promise<PowerSpans> {
    const step = to - from > BY_MINUTES ? QUARTER : MINUTE;
    const start = Math.ceil(from / step) * step;
    const end = Math.max(start, Math.floor(Math.min(to, Date.now()) / step) * step);
    const read = await this.slots.read(pointIds, start, end, 'all', step);
    const ofPoints = pointIds.map((id) => (read.get(id) ?? []).filter((slots) => slots.step === step));
    return powerSpans(ofPoints, start, step, (end - start) / step);
  }
}
