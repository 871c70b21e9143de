import type { PlaceProfile } from '@loka/contract/profile';
import { Injectable } from '@nestjs/common';
import { SiteService } from '../site/site.service.js';
import { CountedPower } from './countedPower.js';
import { PlacePower, type PlaceSum } from './placePower.js';
import { ProfileThread } from './profileThread.js';

/** Told with when each began; the figures are of all. */
const MOST_RUNS = 2000;
const MOST_UNUSUAL = 20;
/** What steps of a counter do not tell. */
const NOT_BY_COUNTING = {
  levels: { levels: [], between: 1, betweenEnergy: 1, floor: 0 },
  recurring: [],
} satisfies Partial<PlaceProfile>;

/** What loads do, found from their power. */
@Injectable()
export class ProfileService {
  constructor(
    private readonly power: PlacePower,
    private readonly counted: CountedPower,
    private readonly sites: SiteService,
    private readonly thread: ProfileThread,
  ) {}

  /** @throws Problem where the place is not there, nothing measures it, or the period lies in the future or is too long */
  async of(nodeId: number, from: number, to: number): Promise<PlaceProfile> {
    const isCounted = !this.power.isMeasured(nodeId) && this.counted.isCounted(nodeId);
    const { spans, parts, without } = isCounted
      ? { spans: await this.counted.spans(nodeId, from, to), parts: [], without: [] }
      : ((await this.power.sums([nodeId], from, to))[0] as PlaceSum);
    const { timeZone, closedDays, holidays } = await this.sites.require();
    const profile = await this.thread.work('profile', {
      spans,
      zone: timeZone,
      closing: { closedDays, holidays },
    });
    const { runs, carpet } = profile;
    return {
      ...profile,
      ...(isCounted && NOT_BY_COUNTING),
      nodeId,
      source: isCounted ? 'counter' : 'power',
      summed: parts.some((p) => p.nodeId !== nodeId) ? parts.map((p) => p.nodeId) : null,
      without: without.map((p) => p.nodeId),
      runs:
        !isCounted && runs
          ? {
              ...runs,
              list: runs.list.slice(-MOST_RUNS),
              unusual: runs.unusual.slice(0, MOST_UNUSUAL),
            }
          : null,
      carpet: {
        ...carpet,
        watts: Array.from(carpet.watts, (w) => (Number.isNaN(w) ? null : Math.round(10 * w) / 10)),
      },
    };
  }
}
