import type { PlaceProfile } from '@loka/contract/profile';

const DAY = 86_400_000;
const QUARTER = 900_000;

/** What one place is told by, beside others. Null is what cannot be told of it. */
export interface PlaceFigures {
  /** Wh a day of what was read. */
  aDay: number;
  /** Days that were read, and the share of the period that is. */
  days: number;
  read: number;
  /** W. */
  standby: number | null;
  /** Highest quarter-hour, W. */
  highest: number | null;
  loadFactor: number | null;
  /** Starts a day, and how long its most frequent kind of run lasts, ms. */
  starts: number | null;
  run: number | null;
}

/** The figures of a place over a period; null where nothing of it was read. */
export function figuresOf(profile: PlaceProfile): PlaceFigures | null {
  const { known, from, to, energy, levels, demand, duration, runs } = profile;
  if (known <= 0) return null;
  const [lowest] = levels.levels;
  return {
    aDay: (energy / known) * DAY,
    days: known / DAY,
    read: known / Math.max(1, to - from),
    standby: lowest && !lowest.varies && lowest.watts >= -levels.floor ? Math.max(0, lowest.watts) : null,
    highest: demand.find((d) => d.block === QUARTER)?.highest?.watts ?? null,
    loadFactor: duration?.loadFactor ?? null,
    starts: runs?.figures?.perDay ?? null,
    run: runs?.kinds[0]?.on.median ?? null,
  };
}
