import type { PlaceDuration } from '@loka/contract/profile';
import {
  coincidenceOf,
  durationCurve,
  durationOfReadings,
  HeldReadings,
  type PowerSpans,
} from '@loka/core/profile';
import { Injectable } from '@nestjs/common';
import { InstallationBook } from '../book/installationBook.js';
import { ReadingsReader } from '../series/readingsReader.js';
import { PlacePower, type PlaceSum } from './placePower.js';

const DAY = 86_400_000;
const QUARTER = 900_000;
/** Of longer periods the means of minutes are taken: a week at one a second is 600 000 readings of each point. */
const BY_READINGS = 7 * DAY + 3_600_000;
/** More readings than this are not gone through one by one. */
const MOST_READINGS = 2_000_000;

/** For how much of the time a place took how much. */
@Injectable()
export class DurationService {
  constructor(
    private readonly power: PlacePower,
    private readonly tree: InstallationBook,
    private readonly readings: ReadingsReader,
  ) {}

  /** @throws Problem where the place is not there, nothing measures it, or the period lies in the future or is too long */
  async of(nodeId: number, from: number, to: number): Promise<PlaceDuration> {
    const behind = this.tree
      .childrenOf(nodeId)
      .flatMap((child) => this.power.measuredIn(child.id))
      .map((part) => part.nodeId);
    const [{ spans: own, parts }, ...loads] = (await this.power.sums([nodeId, ...behind], from, to)) as [
      PlaceSum,
      ...PlaceSum[],
    ];
    const points = parts.flatMap((part) => part.points);
    const { start, step, length } = own;
    const end = start + length * step;
    const held = await this.held(
      points.map((p) => p.id),
      start,
      end,
    );
    return {
      nodeId,
      from: start,
      to: end,
      step,
      byMeans: durationCurve(own),
      byReadings: held && durationOfReadings(held.watts, held.held),
      readings: held?.count ?? 0,
      highest: held?.highest ?? highestOf(own),
      readEvery: this.power.readEvery(points, from, to),
      // What gives power is no load that could coincide.
      coincidence: coincidenceOf(
        loads.map((load) => load.spans).filter((load) => !load.mean.some((w) => w < -1)),
        QUARTER,
      ),
    };
  }

  private async held(ids: readonly number[], from: number, to: number): Promise<HeldReadings | null> {
    if (to - from > BY_READINGS) return null;
    const held = new HeldReadings(ids, from, to);
    for await (const reading of this.readings.scan(ids, from, to, { carry: true, page: 20_000 })) {
      held.add(reading);
      if (held.count > MOST_READINGS) return null;
    }
    held.end();
    return held;
  }
}

/** The highest single reading by what the spans keep of it; the instant is that of the span. */
function highestOf({ max, start, step }: PowerSpans): PlaceDuration['highest'] {
  let best = -1;
  max.forEach((w, i) => {
    if (!Number.isNaN(w) && (best < 0 || w > (max[best] as number))) best = i;
  });
  return best < 0 ? null : { watts: max[best] as number, at: start + best * step };
}
