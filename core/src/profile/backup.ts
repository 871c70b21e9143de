import { range } from 'd3-array';
import { HOUR, MINUTE, QUARTER } from '../series/index.js';
import type { PowerSpans } from './powerSpans.js';

/** What stands in for the supply. */
export interface BackupSource {
  /** What it gives for as long as its energy lasts, W. */
  continuous: number;
  /** What it gives for a short time, W; and for how long without a break, s. */
  peak: number;
  peakFor: number;
  /** What it stores when it is full, Wh. */
  energy: number;
  /** Of what it stores so much reaches the loads; above 0, at most 1. */
  efficiency: number;
  /** How full it is when the supply fails, above 0, at most 1. */
  charged: number;
}

/** What ends it: the store is empty, more than the continuous power for too long, more than the peak power, or nobody knows any further. */
export type BackupEnd = 'energy' | 'continuous' | 'peak' | 'unknown';

/** A failure of the supply, gone through on what was recorded. */
export interface Outage {
  /** UTC ms. */
  start: number;
  /** How long the source carries the loads, ms; where its end is not known, at least so long. */
  lasts: number;
  ends: BackupEnd;
  /** The load that had the greatest part in it, by its place in the list; null where it is not known. */
  by: number | null;
}

/** What some loads ask of a source together, in equal spans of time. */
export interface Drawn {
  start: number;
  step: number;
  length: number;
  /** W; NaN where one of them is not known. */
  mean: Float64Array;
  low: Float64Array;
  /** What was reached in any case: the one with the greatest swing at its highest, the others at their lowest. */
  top: Float64Array;
  /** What would be reached if the highest of all fell together. */
  together: Float64Array;
  last: Float64Array;
}

/** Longer than this is not looked for, ms. */
export const LONGEST_OUTAGE = 14 * 24 * HOUR;
/** So much of a gap is taken to go on as before, ms. */
const BRIDGED = 5 * MINUTE;

/** Sums loads over the same spans. What is given back is no charge: it counts as nothing. @throws RangeError without loads, or where their spans differ */
export function drawnBy(loads: readonly PowerSpans[]): Drawn {
  const [one] = loads;
  if (!one || loads.some((l) => l.start !== one.start || l.step !== one.step || l.length !== one.length))
    throw new RangeError('loads over the same spans of time are needed');
  const { start, step, length } = one;
  const column = () => new Float64Array(length);
  const drawn: Drawn = {
    start,
    step,
    length,
    mean: column(),
    low: column(),
    top: column(),
    together: column(),
    last: column(),
  };
  const bridged = loads.map(bridge);
  for (let i = 0; i < length; i++) {
    let [mean, low, high, last, swing] = [0, 0, 0, 0, 0];
    for (const load of bridged) {
      mean += taken(load.mean[i]);
      low += taken(load.min[i]);
      high += taken(load.max[i]);
      last += taken(load.last[i]);
      swing = Math.max(swing, taken(load.max[i]) - taken(load.min[i]));
    }
    drawn.mean[i] = mean;
    drawn.low[i] = low;
    drawn.top[i] = low + swing;
    drawn.together[i] = high;
    drawn.last[i] = last;
  }
  return drawn;
}

/** @param unknown what stands for a gap */
const taken = (w: number | undefined, unknown = NaN): number =>
  w === undefined || Number.isNaN(w) ? unknown : Math.max(0, w);

/** The load with its short gaps closed by what was before. */
function bridge(load: PowerSpans): PowerSpans {
  const most = Math.floor(BRIDGED / load.step);
  const [mean, min, max, last] = [load.mean.slice(), load.min.slice(), load.max.slice(), load.last.slice()];
  for (let i = 1; i < load.length; i++) {
    if (!Number.isNaN(mean[i]) || Number.isNaN(mean[i - 1])) continue;
    let end = i;
    while (end < load.length && Number.isNaN(mean[end])) end++;
    if (end - i <= most && end < load.length)
      for (const c of [mean, min, max, last])
        c.fill(c === last ? (c[i - 1] as number) : (mean[i - 1] as number), i, end);
    i = end;
  }
  return { ...load, mean, min, max, last };
}

/**
 * For how many seconds of a span more than a power was drawn, taken as if it were always at its lowest or at its highest: what
 * runs at one level within a minute does so.
 */
export function secondsAbove({ mean, low, top, step }: Drawn, i: number, watts: number): number {
  const [m, l, t] = [mean[i] as number, low[i] as number, top[i] as number];
  if (!(t > watts)) return 0;
  if (l > watts || t <= l) return step / 1000;
  return (Math.min(1, Math.max(0, (m - l) / (t - l))) * step) / 1000;
}

/**
 * Span by span, why a source could not go on through it by its power alone. What is above its continuous power at the end of a
 * span goes on into the next.
 */
export function overloads(
  drawn: Drawn,
  source: Pick<BackupSource, 'continuous' | 'peak' | 'peakFor'>,
): ('continuous' | 'peak' | null)[] {
  const { length, top, last } = drawn;
  let held = 0;
  return Array.from({ length }, (_, i) => {
    const above = secondsAbove(drawn, i, source.continuous);
    held = above > 0 ? held + above : 0;
    const why = (top[i] as number) > source.peak ? 'peak' : held > source.peakFor ? 'continuous' : null;
    if (!((last[i] as number) > source.continuous)) held = 0;
    return why;
  });
}

/**
 * What each span takes out of the store, Wh: below zero where the sun puts some in, NaN where it is not known. The sun serves the
 * loads first; what goes in and what comes out loses each its share.
 */
export function takenOut(
  { mean, step }: Drawn,
  { efficiency }: Pick<BackupSource, 'efficiency'>,
  sun: Float64Array | null,
): Float64Array {
  return mean.map((watts, i) => {
    const net = ((watts - taken(sun?.[i] ?? 0, 0)) * step) / HOUR;
    return net > 0 ? net / efficiency : net * efficiency;
  });
}

/**
 * Fails the supply at every quarter-hour, and runs the loads on the source from there over what was recorded.
 * @param sun what charges it over the same spans, W above zero
 */
export function outages(
  loads: readonly PowerSpans[],
  source: BackupSource,
  sun: Float64Array | null = null,
): Outage[] {
  const drawn = drawnBy(loads);
  const { start, step } = drawn;
  const { energy } = source;
  const out = takenOut(drawn, source, sun);
  const stops = overloads(drawn, source);
  // Where each start ends at the latest: at what stops it, at a gap, or at the end.
  const latest = nextOf(out, (i) => stops[i] !== null || Number.isNaN(out[i]));
  const medians = loads.map(({ mean }) => medianOf(mean));
  const most = LONGEST_OUTAGE / step;
  return quarters(drawn).flatMap((from): Outage[] => {
    if (Number.isNaN(out[from])) return [];
    const end = Math.min(latest[from] as number, from + most);
    let [left, before, i] = [energy * source.charged, 0, from];
    for (; i < end; i++) {
      before = left;
      left -= out[i] as number;
      if (left < 0) break;
      if (left > energy) left = energy;
    }
    const at = { start: start + from * step };
    if (i < end) {
      const lasts = Math.round((i - from + before / (before - left)) * step);
      return [{ ...at, lasts, ends: 'energy', by: mostTaken(loads, from, i) }];
    }
    const why = i < from + most ? (stops[i] ?? null) : null;
    return [
      {
        ...at,
        lasts: (i - from) * step,
        ends: why ?? 'unknown',
        by: why ? mostAbove(loads, medians, i) : null,
      },
    ];
  });
}

/** The spans at which quarter-hours begin. */
export function quarters({ start, step, length }: Pick<Drawn, 'start' | 'step' | 'length'>): number[] {
  return range((Math.ceil(start / QUARTER) * QUARTER - start) / step, length, Math.max(1, QUARTER / step));
}

/** For each span the next one, itself or later, at which something is so; the length where there is none. */
function nextOf(values: Float64Array, isSo: (i: number) => boolean): Int32Array {
  const next = new Int32Array(values.length);
  for (let i = values.length - 1, at = values.length; i >= 0; i--) {
    if (isSo(i)) at = i;
    next[i] = at;
  }
  return next;
}

/** One outage span by span: what is drawn, W, and what is left, Wh, at the end of each, as far as it goes. */
export interface OutageCourse {
  start: number;
  step: number;
  watts: number[];
  top: number[];
  left: number[];
}

/** @param lasts ms; one span beyond it is told, so that what ends it is seen */
export function courseOf(
  loads: readonly PowerSpans[],
  source: BackupSource,
  sun: Float64Array | null,
  { start, lasts }: Pick<Outage, 'start' | 'lasts'>,
): OutageCourse {
  const drawn = drawnBy(loads);
  const out = takenOut(drawn, source, sun);
  const first = Math.round((start - drawn.start) / drawn.step);
  const end = Math.min(drawn.length, first + Math.floor(lasts / drawn.step) + 1);
  const course: OutageCourse = { start, step: drawn.step, watts: [], top: [], left: [] };
  let left = source.energy * source.charged;
  for (let i = first; i < end && !Number.isNaN(out[i]); i++) {
    left = Math.min(source.energy, Math.max(0, left - (out[i] as number)));
    course.watts.push(drawn.mean[i] as number);
    course.top.push(drawn.top[i] as number);
    course.left.push(left);
  }
  return course;
}

const medianOf = (values: Float64Array): number => {
  const sorted = values.filter((v) => !Number.isNaN(v)).sort();
  return sorted[sorted.length >> 1] ?? 0;
};

/** The load that was furthest above what it mostly takes. */
function mostAbove(loads: readonly PowerSpans[], medians: readonly number[], i: number): number {
  const above = loads.map(({ max }, k) => (max[i] as number) - (medians[k] as number));
  return above.indexOf(Math.max(...above));
}

function mostTaken(loads: readonly PowerSpans[], from: number, to: number): number {
  const taken = loads.map(({ mean }) => {
    let sum = 0;
    for (let i = from; i <= to; i++) sum += Math.max(0, mean[i] as number) || 0;
    return sum;
  });
  return taken.indexOf(Math.max(...taken));
}
