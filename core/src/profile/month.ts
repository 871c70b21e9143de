import { deviation, mean } from 'd3-array';
import { coverageFactor, effectiveDegrees } from '../calibration/index.js';

/** What a month would take if its days were like those that were seen, Wh. */
export interface MonthEstimate {
  energy: number;
  /** Between these it lies 95 times in 100. */
  low: number;
  high: number;
  /** Whole days seen. */
  working: number;
  closed: number;
}

/** Days of a month. */
const MONTH = 365.25 / 12;
/**
 * A month out of a few days: of each kind of day its mean, as often as it comes in a month. The range holds both how far the means
 * are not known and what days differ by; its degrees of freedom are those of Welch and Satterthwaite, rounded down. Where no day
 * of one kind was seen the other stands for all.
 * @param working energies of whole days, Wh
 * @param closed those of closed days and holidays
 * @param share of the days that are worked, by the week
 * @returns null where no kind has two days
 */
export function monthEstimate(
  working: readonly number[],
  closed: readonly number[],
  share = 5 / 7,
): MonthEstimate | null {
  const both = working.length > 0 && closed.length > 0;
  const kinds = [
    { days: working, times: MONTH * (both ? share : 1) },
    { days: closed, times: MONTH * (both ? 1 - share : 1) },
  ].filter(({ days }) => days.length > 0);
  if (kinds.length === 0 || kinds.some(({ days }) => days.length < 2)) return null;
  const sum = (of: (kind: (typeof kinds)[0]) => number) => kinds.reduce((s, k) => s + of(k), 0);
  const energy = sum(({ days, times }) => times * (mean(days) as number));
  const parts = kinds.map(({ days, times }) => ({
    u: (deviation(days) as number) * Math.sqrt(times ** 2 / days.length + times),
    degrees: days.length - 1,
  }));
  const free = Math.max(1, Math.floor(effectiveDegrees(parts)));
  const by = coverageFactor(free) * Math.hypot(...parts.map((p) => p.u));
  // What only takes does not give in a month to come.
  const takes = [...working, ...closed].every((wh) => wh >= 0);
  return {
    energy,
    low: takes ? Math.max(0, energy - by) : energy - by,
    high: energy + by,
    working: working.length,
    closed: closed.length,
  };
}
