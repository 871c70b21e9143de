import { median } from 'd3-array';

/** A trace of single readings, in order of time. */
export interface FastTrace {
  /** ms; from any origin. */
  t: readonly number[];
  /** Base unit; null where it was not read. */
  v: readonly (number | null)[];
}

/** How something went up: a motor's starting current, as a rule. */
export interface Ramp {
  /** Median of what was before. */
  before: number;
  /** When it began to rise: at a tenth of the way, between two readings in proportion; ms. */
  startedAt: number;
  peak: number;
  peakAt: number;
  /** From the start to the peak, ms; it is known to one reading. */
  timeToPeak: number;
  /** Median of the last quarter of the trace, of what lies a second or more after it had come nearly to the peak; null where that is nothing. */
  settled: number | null;
  /** Peak over what it settled at; null where that is not known, or nearly nothing. */
  ratio: number | null;
  /** Median spacing of the readings, ms: a peak between two of them is not seen. */
  spacing: number;
}

/** A rise of less than this many times the noise before it is none. */
const NOISE = 6;
const LEAST_SETTLING = 1000;
/** Nearly the peak. What stays up has its highest reading anywhere, by the noise alone. */
const NEARLY = 0.95;

/** The greatest rise of a trace; null where there is none, or too little to tell. */
export function rampOf({ t, v }: FastTrace): Ramp | null {
  const known = t.flatMap((at, i) => {
    const value = v[i];
    return value == null ? [] : [{ t: at, v: value }];
  });
  if (known.length < 8) return null;
  const spacing = median(known.slice(1).map((p, i) => p.t - (known[i] as { t: number }).t)) as number;
  const top = known.reduce((best, p) => (p.v > best.v ? p : best));
  const peak = known.indexOf(top);
  const low = Math.min(...known.slice(0, peak + 1).map((p) => p.v));
  // What was before ends where it is last seen in the lowest tenth.
  const foot = known.findLastIndex((p, i) => i < peak && p.v <= low + 0.1 * (top.v - low));
  if (foot < 0) return null;
  const earlier = known.slice(0, foot + 1).map((p) => p.v);
  const before = median(earlier) as number;
  const noise = median(earlier.map((x) => Math.abs(x - before))) as number;
  const height = top.v - before;
  if (!(height > NOISE * noise) || !(height > 0.02 * Math.abs(before)) || height <= 0) return null;
  const level = before + 0.1 * height;
  const over = known.findIndex((p, i) => i > foot && p.v >= level);
  const [a, b] = [known[over - 1], known[over]] as [{ t: number; v: number }, { t: number; v: number }];
  const share = b.v > a.v ? Math.min(1, Math.max(0, (level - a.v) / (b.v - a.v))) : 1;
  const startedAt = a.t + share * (b.t - a.t);
  const last = known.at(-1) as { t: number };
  const first = known[0] as { t: number };
  const up = known.find((p, i) => i > foot && p.v >= before + NEARLY * height) ?? top;
  const tail = known.filter((p) => p.t >= last.t - (last.t - first.t) / 4 && p.t > up.t + LEAST_SETTLING);
  const settled = tail.length >= 3 ? (median(tail.map((p) => p.v)) as number) : null;
  return {
    before,
    startedAt,
    peak: top.v,
    peakAt: top.t,
    timeToPeak: Math.max(0, top.t - startedAt),
    settled,
    ratio: settled !== null && settled > 0.02 * top.v ? top.v / settled : null,
    spacing,
  };
}
