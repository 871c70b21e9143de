import { mean as meanOf, median } from 'd3-array';
import { siteClock, type TimeSpan } from '../time/index.js';
import { runRule } from './cycles.js';
import { levelAt, levelsOf } from './levels.js';
import type { PowerSpans } from './powerSpans.js';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;

/** What is done about a load. */
export type LoadChange =
  | { kind: 'none' }
  /** It is switched off where it stands by. */
  | { kind: 'standby' }
  /** It runs so many hours a day. */
  | { kind: 'hours'; hours: number }
  /** All that it does comes so many hours later; earlier where that is below zero. */
  | { kind: 'later'; hours: number }
  /** Another load stands in its place: what that takes over the same spans, W. */
  | { kind: 'instead'; watts: Float64Array };

/** Why a load cannot be changed so. */
export class CannotChange extends Error {
  constructor(
    readonly why: 'no-standby' | 'no-runs',
    message: string,
  ) {
    super(message);
  }
}

/** Power of the load after the change, W; NaN where it is not known. @throws CannotChange where it has no standby, or nothing tells when it runs */
export function changed(load: PowerSpans, days: readonly TimeSpan[], change: LoadChange): Float64Array {
  switch (change.kind) {
    case 'none':
      return load.mean;
    case 'standby':
      return withoutStandby(load);
    case 'hours':
      return runningFor(load, days, change.hours);
    case 'later':
      return later(load, change.hours);
    case 'instead':
      return change.watts;
  }
}

function withoutStandby(load: PowerSpans): Float64Array {
  const found = levelsOf(load);
  const [first, ...above] = found.levels;
  if (!first || above.length === 0 || first.varies || first.watts < found.floor / 3)
    throw new CannotChange('no-standby', 'It has no standby that could be taken away.');
  const at = levelAt(found);
  return load.mean.map((w) => (at(w) === 0 ? 0 : w));
}

/**
 * Each day it runs for so long: of what it ran more the last is left out, what is missing is added behind its last run, at the
 * mean power of its runs. On a day on which it did not run it begins when it begins as a rule. Of a day that is known in part
 * it is that part.
 */
function runningFor(load: PowerSpans, days: readonly TimeSpan[], hours: number): Float64Array {
  const { start, step, length, mean } = load;
  const rule = runRule(levelsOf(load), load);
  const running = rule ? Array.from(mean, (w) => rule.runs(w)) : [];
  if (!rule || !running.some(Boolean))
    throw new CannotChange(
      'no-runs',
      'Nothing tells when it runs, so nothing can be said of longer or shorter runs.',
    );
  const idle = rule.waiting[0]?.watts ?? 0;
  const watts = meanOf(mean.filter((_, i) => running[i] === true)) as number;
  const rows = days.map((day) => {
    const first = Math.max(0, Math.ceil((day.start - start) / step));
    const last = Math.min(length, Math.ceil((day.end - start) / step));
    const known = Array.from({ length: Math.max(0, last - first) }, (_, k) => first + k).filter(
      (i) => !Number.isNaN(mean[i]),
    );
    return { day, known, runs: known.filter((i) => running[i] === true) };
  });
  const begins = rows.flatMap(({ day, runs }) =>
    runs[0] === undefined ? [] : [start + runs[0] * step - day.start],
  );
  const usually = median(begins) as number;
  const out = mean.slice();
  for (const { day, known, runs } of rows) {
    const wanted = Math.round((hours * HOUR * known.length * step) / DAY / step);
    for (const i of runs.slice(wanted)) out[i] = idle;
    if (runs.length >= wanted) continue;
    const from = runs.at(-1) ?? (day.start + usually - start) / step;
    const idleOnes = known.filter((i) => running[i] !== true);
    const behind = idleOnes.filter((i) => i >= from);
    const before = idleOnes.filter((i) => i < from).reverse();
    for (const i of [...behind, ...before].slice(0, wanted - runs.length)) out[i] = watts;
  }
  return out;
}

/** What falls out at one end of the period comes in at the other, so that nothing is lost. */
function later({ step, length, mean }: PowerSpans, hours: number): Float64Array {
  const by = Math.round((hours * HOUR) / step);
  return mean.map((_, i) => mean[(((i - by) % length) + length) % length] as number);
}

/** A store that takes what would be given to the supply, and gives what would be taken from it. */
export interface Store {
  /** Wh that it gives when it is full. */
  capacity: number;
  /** W in either direction. */
  power: number;
  /** Of what goes in so much comes out; above 0, at most 1. */
  efficiency: number;
}

/**
 * What is left to the supply with a store beside it, W; below zero where power is given. It begins empty. Over a gap it stays as it is.
 * @returns how much it gave, Wh, as well
 */
export function withStore(
  watts: Float64Array,
  step: number,
  { capacity, power, efficiency }: Store,
): { watts: Float64Array; gave: number } {
  let [held, gave] = [0, 0];
  const hours = step / HOUR;
  const left = watts.map((w) => {
    if (Number.isNaN(w)) return w;
    if (w < 0) {
      const into = Math.min(-w, power, (capacity - held) / (efficiency * hours));
      held = Math.min(capacity, held + into * efficiency * hours);
      return w + into;
    }
    const out = Math.min(w, power, held / hours);
    held = Math.max(0, held - out * hours);
    gave += out * hours;
    return w - out;
  });
  return { watts: left, gave };
}

/** Hours of a year without a leap day. */
export const HOURS_OF_YEAR = 8760;
const FIRST_DAYS = [0, 31, 59, 90, 120, 151, 181, 212, 243, 273, 304, 334];
const QUARTER = 900_000;

/**
 * What a plant gives over spans, W, by what one gives in each hour of a year from 1 January; 29 February is as the 28th.
 * @param hours W
 * @param zone the site's, by whose clock the hours are
 */
export function sunOfHours(
  { start, step, length }: Pick<PowerSpans, 'start' | 'step' | 'length'>,
  hours: readonly number[],
  zone: string,
): Float64Array {
  let [quarter, watts] = [NaN, NaN];
  return Float64Array.from({ length }, (_, i) => {
    const t = start + i * step;
    // No clock is off by less than a quarter of an hour.
    if (Math.floor(t / QUARTER) !== quarter) {
      quarter = Math.floor(t / QUARTER);
      const [month, day, hour] = siteClock(zone, t, 'L d H').split(' ').map(Number) as [
        number,
        number,
        number,
      ];
      const ofYear = (FIRST_DAYS[month - 1] as number) + Math.min(day, month === 2 ? 28 : 31) - 1;
      watts = hours[24 * ofYear + hour] ?? NaN;
    }
    return watts;
  });
}
