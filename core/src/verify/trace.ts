import { mean } from 'd3-array';

/** The readings of one value over a window; instants (UTC ms) rise. */
export interface Trace {
  readonly t: readonly number[];
  readonly v: readonly number[];
}

export const NO_TRACE: Trace = { t: [], v: [] };

/** A mean over a bracket of readings, and how far it may be off by their scatter. */
export interface Level {
  mean: number;
  /** Standard deviation of one reading. */
  spread: number;
  count: number;
}

/** The part of the moves that is taken for scatter; larger ones may be steps. */
const QUIET = 0.8;
/** Mean of the smallest 80 % of |z| of a normal deviate: (φ(0) − φ(1.2816)) · 2 / 0.8. */
const QUIET_MEAN = 0.5586;

/**
 * The scatter of one reading about its level (a standard deviation), robust against steps: from the moves between
 * neighbours, the largest fifth left out. Not less than what the resolution of the readings hides (step/√12, GUM
 * F.2.2.1). 0 where nothing ever moves.
 */
export function scatterOf(values: readonly number[]): number {
  // Every trace of every place is looked at again and again: numbers that sort by themselves are four times as quick.
  const moves = new Float64Array(Math.max(0, values.length - 1));
  for (let i = 0; i < moves.length; i++)
    moves[i] = Math.abs((values[i + 1] as number) - (values[i] as number));
  if (moves.length === 0) return 0;
  moves.sort();
  const quiet = moves.subarray(0, Math.max(1, Math.round(moves.length * QUIET)));
  const fromMoves = quiet.reduce((a, b) => a + b, 0) / quiet.length / (QUIET_MEAN * Math.SQRT2);
  const first = moves.findIndex((m) => m > 0);
  // What hardly ever moves has told nothing of its resolution: its moves are what happened.
  const seen = first < 0 ? 0 : moves.length - first;
  const resolution = seen > moves.length * (1 - QUIET) ? (moves[first] as number) : 0;
  return Math.max(fromMoves, resolution / Math.sqrt(12));
}

/** The middle of a few values; NaN of none. */
export function middle(values: readonly number[]): number {
  const sorted = Float64Array.from(values).sort();
  const half = sorted.length >> 1;
  if (sorted.length === 0) return NaN;
  return sorted.length % 2 === 1
    ? (sorted[half] as number)
    : ((sorted[half - 1] as number) + (sorted[half] as number)) / 2;
}

/** The level in a bracket of time (from, to]; null with fewer than `least` readings. */
export function levelBetween({ t, v }: Trace, from: number, to: number, least = 3): Level | null {
  const [a, b] = [after(t, from), after(t, to)];
  if (b - a < least) return null;
  const values = v.slice(a, b);
  return { mean: mean(values) as number, spread: scatterOf(values), count: values.length };
}

/** The part of a trace within (from, to]. */
export function partOf({ t, v }: Trace, from: number, to: number): Trace {
  const [a, b] = [after(t, from), after(t, to)];
  return { t: t.slice(a, b), v: v.slice(a, b) };
}

/** How far apart two readings usually are, ms; null with fewer than two. */
export function paceOf({ t }: Trace): number | null {
  const gaps = t.slice(1).map((at, i) => at - (t[i] as number));
  return gaps.length === 0 ? null : middle(gaps);
}

/** Index of the first instant after `at`. */
function after(t: readonly number[], at: number): number {
  let [low, high] = [0, t.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((t[middle] as number) <= at) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Traces added up on the instants of the first, each other one as it was last; null where one has nothing. */
export function sumOfTraces(traces: readonly Trace[], factor = 1): Trace | null {
  const [first, ...others] = traces;
  if (!first || traces.some((trace) => trace.v.length === 0)) return null;
  const at = others.map(() => 0);
  return {
    t: first.t,
    v: first.t.map((t, i) =>
      others.reduce(
        (sum, other, k) => {
          while ((other.t[(at[k] as number) + 1] ?? Infinity) <= t) (at[k] as number)++;
          return sum + factor * (other.v[at[k] as number] as number);
        },
        factor * (first.v[i] as number),
      ),
    ),
  };
}
