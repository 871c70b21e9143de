import { MINUTE } from '../series/index.js';
import type { TimeSpan } from '../time/index.js';
import type { PowerSpans } from './powerSpans.js';

/** Means over so long are what EN 50160 looks at, ms. */
export const TEN_MINUTES = 10 * MINUTE;
/**
 * The supply voltage of low-voltage networks by EN 50160 (its figures recalled from memory): in each week 95 % of the ten-minute
 * means lie within ±10 % of the nominal voltage, and all of them within +10 % and −15 %.
 */
export const BAND = { low: 0.9, high: 1.1, lowest: 0.85, share: 0.95 } as const;
/** Of ten minutes so much has to be known. */
const KNOWN = 0.9;
/** Of a week so much, to say of it what the standard asks. */
const WHOLE_WEEK = 0.95;
/** A week in which the clock is put forward is an hour shorter, ms. */
const A_WEEK = 167 * 60 * MINUTE;

/** A voltage spans by spans: columns as of a power, in V. */
export type VoltageSpans = PowerSpans;

/** A time in which readings lay below the band, or above it. Of a minute only its lowest and highest reading are known. */
export interface Excursion {
  /** UTC ms: minutes in which there was such a reading. */
  start: number;
  end: number;
  /** The one furthest out, V. */
  volts: number;
}

/** Shares of the ten-minute means of a stretch of time. */
export interface VoltageShares {
  /** Ten-minute means that are known, and how many there could be. */
  known: number;
  possible: number;
  /** Within ±10 %, and within +10 % and −15 %; of those known. */
  within: number;
  withinWide: number;
}

export interface VoltageFigures extends VoltageShares {
  /** Ten-minute means, V; NaN where too little is known. The first begins at {@link start}. */
  means: Float64Array;
  start: number;
  lowest: { volts: number; at: number } | null;
  highest: { volts: number; at: number } | null;
  /** Readings below and above the band. */
  dips: Excursion[];
  swells: Excursion[];
  weeks: (TimeSpan & VoltageShares & { keeps: boolean | null })[];
}

/**
 * How a voltage keeps to its band.
 * @param spans by the minute
 * @param nominal V, line to neutral
 * @param weeks of the site's calendar; `keeps` of one is null where it is cut off, or too little of it is known
 */
export function voltageFigures(
  spans: VoltageSpans,
  nominal: number,
  weeks: readonly TimeSpan[],
): VoltageFigures {
  const each = TEN_MINUTES / spans.step;
  const first = Math.ceil(spans.start / TEN_MINUTES) * TEN_MINUTES;
  const offset = (first - spans.start) / spans.step;
  const count = Math.max(0, Math.floor((spans.length - offset) / each));
  const means = new Float64Array(count).map((_, i) => meanOf(spans.mean, offset + i * each, each));
  const at = (i: number) => ({ volts: means[i] as number, at: first + i * TEN_MINUTES });
  const extreme = (beyond: (a: number, b: number) => boolean) => {
    let best = -1;
    means.forEach((v, i) => {
      if (!Number.isNaN(v) && (best < 0 || beyond(v, means[best] as number))) best = i;
    });
    return best < 0 ? null : at(best);
  };
  return {
    ...sharesOf(means, nominal),
    means,
    start: first,
    lowest: extreme((a, b) => a < b),
    highest: extreme((a, b) => a > b),
    dips: excursions(spans, (i) => (spans.min[i] as number) < BAND.low * nominal, spans.min, Math.min),
    swells: excursions(spans, (i) => (spans.max[i] as number) > BAND.high * nominal, spans.max, Math.max),
    weeks: weeks.map(({ start, end }) => {
      const part = means.subarray(
        Math.max(0, Math.ceil((start - first) / TEN_MINUTES)),
        Math.max(0, Math.floor((end - first) / TEN_MINUTES)),
      );
      const shares = { ...sharesOf(part, nominal), possible: Math.round((end - start) / TEN_MINUTES) };
      const keeps = shares.within >= BAND.share && shares.withinWide === 1;
      return {
        start,
        end,
        ...shares,
        keeps: end - start < A_WEEK || shares.known < WHOLE_WEEK * shares.possible ? null : keeps,
      };
    }),
  };
}

function meanOf(values: Float64Array, from: number, count: number): number {
  let [sum, known] = [0, 0];
  for (let i = from; i < from + count; i++) {
    const v = values[i] as number;
    if (Number.isNaN(v)) continue;
    sum += v;
    known++;
  }
  return known < KNOWN * count ? NaN : sum / known;
}

function sharesOf(means: Float64Array, nominal: number): VoltageShares {
  const known = means.filter((v) => !Number.isNaN(v));
  const share = (low: number) =>
    known.length === 0
      ? NaN
      : known.filter((v) => v >= low * nominal && v <= BAND.high * nominal).length / known.length;
  return {
    known: known.length,
    possible: means.length,
    within: share(BAND.low),
    withinWide: share(BAND.lowest),
  };
}

/** Minutes that follow one another in which something was so. */
function excursions(
  { start, step, length }: VoltageSpans,
  isOut: (i: number) => boolean,
  values: Float64Array,
  further: (a: number, b: number) => number,
): Excursion[] {
  const list: Excursion[] = [];
  for (let i = 0; i < length; i++) {
    if (!isOut(i)) continue;
    const last = list.at(-1);
    const t = start + i * step;
    if (last?.end === t) {
      last.end = t + step;
      last.volts = further(last.volts, values[i] as number);
    } else list.push({ start: t, end: t + step, volts: values[i] as number });
  }
  return list;
}
