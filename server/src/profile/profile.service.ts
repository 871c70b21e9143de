import type { PlaceProfile } from '@loka/contract/profile';
import type { PowerSpans } from '@loka/core/profile';
import { Injectable } from '@nestjs/common';
import { SiteService } from '../site/site.service.js';
import { PlacePower } from './placePower.js';
import { ProfileThread } from './profileThread.js';

/** Told with when each began; the figures are of all. */
const MOST_RUNS = 2000;
const MOST_UNUSUAL = 20;

/** What loads do, found from their power. */
@Injectable()
export class ProfileService {
  constructor(
    private readonly power: PlacePower,
    private readonly sites: SiteService,
    private readonly thread: ProfileThread,
  ) {}

  /** @throws Problem where the place is not there, nothing measures it, or the period lies in the future or is too long */
  async of(nodeId: number, from: number, to: number): Promise<PlaceProfile> {
    const parts = this.power.partsOf(nodeId);
    const [spans] = await this.power.spans([nodeId], from, to);
    const { timeZone, closedDays, holidays } = await this.sites.require();
    const profile = await this.thread.work('profile', {
      spans: spans as PowerSpans,
      zone: timeZone,
      closing: { closedDays, holidays },
    });
    const { runs, carpet } = profile;
    return {
      ...profile,
      nodeId,
      summed: parts.some((p) => p.nodeId !== nodeId) ? parts.map((p) => p.nodeId) : null,
      runs: runs && {
        ...runs,
        list: runs.list.slice(-MOST_RUNS),
        unusual: runs.unusual.slice(0, MOST_UNUSUAL),
      },
      carpet: {
        ...carpet,
        watts: Array.from(carpet.watts, (w) => (Number.isNaN(w) ? null : Math.round(10 * w) / 10)),
      },
    };
  }
}
