import type { Slots } from '../series/index.js';

/** For how long something ran, and how often it started. */
export interface Running {
  /** Milliseconds for which it was on. */
  runMs: number;
  starts: number;
  /** Milliseconds for which that is known. */
  knownMs: number;
}

/** A reading, and until when it speaks. */
export interface SpokenValue {
  t: number;
  /** Null where nothing is known. */
  v: number | null;
  until: number;
}

/** It is off only when it falls below this share of the threshold, so that noise around it is no start. */
const OFF_SHARE = 0.5;

/**
 * Run time and starts from single readings. A start is seen where it was known to be off before; what comes back out of a gap is none.
 * @param threshold above it something runs, base unit
 */
export function runningOf(
  values: Iterable<SpokenValue>,
  threshold: number,
  from: number,
  to: number,
): Running {
  const found: Running = { runMs: 0, starts: 0, knownMs: 0 };
  let state: boolean | null = null;
  let before: SpokenValue | null = null;
  const spend = (value: SpokenValue, end: number) => {
    const ms = Math.min(end, value.until, to) - Math.max(value.t, from);
    if (ms <= 0 || state === null) return;
    found.knownMs += ms;
    if (state) found.runMs += ms;
  };
  for (const value of values) {
    if (before) {
      spend(before, value.t);
      if (before.until < value.t) state = null;
    }
    const next: boolean | null = value.v === null ? null : isOn(Math.abs(value.v), threshold, state);
    if (next === true && state === false && value.t >= from && value.t < to) found.starts++;
    state = next;
    before = value;
  }
  if (before) spend(before, Infinity);
  return found;
}

const isOn = (size: number, threshold: number, before: boolean | null): boolean =>
  before === true ? size > threshold * OFF_SHARE : size > threshold;

/**
 * The same from rolled-up minutes, for what is too long to be read value by value: within a minute that holds both, the mean says for how much of it
 * it was on; starts closer together than that are seen as one, so they are at least so many.
 * @param carried whether it was on at the end of what came before; null where that is not known
 * @returns with the state at the end, for the next stretch
 */
export function runningOfSlots(
  slots: Slots,
  threshold: number,
  carried: boolean | null = null,
): Running & { state: boolean | null } {
  const found = { runMs: 0, starts: 0, knownMs: 0, state: carried };
  for (let i = 0; i < slots.length; i++) {
    const covered = slots.covered[i] as number;
    if (covered === 0) {
      found.state = null;
      continue;
    }
    const [low, high] = [slots.min[i] as number, slots.max[i] as number]
      .map(Math.abs)
      .sort((a, b) => a - b) as [number, number];
    const mean = Math.abs((slots.plus[i] as number) - (slots.minus[i] as number));
    found.knownMs += covered;
    if (low > threshold) {
      if (found.state === false) found.starts++;
      found.runMs += covered;
      found.state = true;
    } else if (high <= threshold) found.state = false;
    else {
      found.runMs += covered * Math.min(1, Math.max(0, (mean - low) / (high - low)));
      if (found.state === false) found.starts++;
      // By the last value of the minute it is known on which side it ended.
      const last = Math.abs(slots.last[i] as number);
      found.state = Number.isNaN(last) ? null : last > threshold;
    }
  }
  return found;
}

/** Share of the plate's power, or of the highest that was read, above which something runs (trade). */
const RUNNING_SHARE = 0.1;
/** Less than this is standby, W (trade). */
const STANDBY = 5;

/** Above what something is taken to run, W. @param plate its power by the plate, null where nobody knows */
export const runningThreshold = (plate: number | null, highest: number | null): number =>
  Math.max(STANDBY, RUNNING_SHARE * (plate ?? highest ?? 0));
