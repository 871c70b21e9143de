import { median } from 'd3-array';
import type { Cycle } from './cycles.js';
import { spreadOf, type Spread } from './spread.js';

/** Runs that last about as long: warm-ups are one kind, what holds the heat another. */
export interface RunKind {
  count: number;
  /** ms and Wh. */
  on: Spread;
  energy: Spread;
  shortest: number;
  longest: number;
  /** On so many days of the site one or more began. */
  days: number;
  /** Minute of the day about which they begin; null where they begin at any time. */
  clock: number | null;
  /** The last one. */
  last: Cycle;
}

export interface RunKinds {
  /** The most frequent one first. */
  kinds: RunKind[];
  /** Runs longer than any kind, the longest first. */
  unusual: Cycle[];
}

/** Of runs by their length, two that follow one another are of different kinds where one is so many times as long; and longer by so many spans, to which lengths are known. */
const APART = 1.5;
const SPANS = 2;
/** Fewer are no kind. */
const LEAST = 3;
/** Of fewer runs none is unusual. */
const LEAST_RUNS = 12;
/** Half of the runs begin within so many minutes of one time of day. */
const NEAR = 20;
const DAY_MINUTES = 1440;

/**
 * Sorts runs by how long they last into kinds, with a gap between one and the next.
 * @param step of the spans from which they were found, ms
 * @param minuteOfDay and dayOf of an instant by the site's clock
 */
export function kindsOf(
  cycles: readonly Cycle[],
  step: number,
  minuteOfDay: (t: number) => number,
  dayOf: (t: number) => number,
): RunKinds {
  const length = (c: Cycle) => c.end - c.start;
  const sorted = [...cycles].sort((a, b) => length(a) - length(b));
  const groups: Cycle[][] = [];
  for (const c of sorted) {
    const group = groups.at(-1);
    const before = group?.at(-1);
    if (group && before && length(c) <= Math.max(APART * length(before), length(before) + SPANS * step))
      group.push(c);
    else groups.push([c]);
  }
  const kinds = groups
    .filter((g) => g.length >= LEAST)
    .map((g): RunKind => {
      const inTime = [...g].sort((a, b) => a.start - b.start);
      return {
        count: g.length,
        on: spreadOf(g.map(length)),
        energy: spreadOf(g.map((c) => c.energy)),
        shortest: length(g[0] as Cycle),
        longest: length(g.at(-1) as Cycle),
        days: new Set(g.map((c) => dayOf(c.start))).size,
        clock: clockOf(g.map((c) => minuteOfDay(c.start))),
        last: inTime.at(-1) as Cycle,
      };
    });
  const most = Math.max(...kinds.map((k) => k.longest));
  return {
    kinds: kinds.sort((a, b) => b.count - a.count),
    unusual:
      kinds.length === 0 || cycles.length < LEAST_RUNS
        ? []
        : sorted.filter((c) => length(c) > most).reverse(),
  };
}

/** The time of day about which most of some lie, by their mean as directions on a clock; null where they lie anywhere. */
function clockOf(minutes: readonly number[]): number | null {
  const angle = (m: number) => (2 * Math.PI * m) / DAY_MINUTES;
  const sum = (of: (a: number) => number) => minutes.reduce((s, m) => s + of(angle(m)), 0);
  const mean = (Math.atan2(sum(Math.sin), sum(Math.cos)) / (2 * Math.PI)) * DAY_MINUTES;
  const off = minutes.map((m) => ((m - mean + 1.5 * DAY_MINUTES) % DAY_MINUTES) - DAY_MINUTES / 2);
  const middle = median(off) as number;
  if ((median(off, (o) => Math.abs(o - middle)) as number) > NEAR) return null;
  return (Math.round(mean + middle) + DAY_MINUTES) % DAY_MINUTES;
}
