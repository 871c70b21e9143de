import { compare, type Comparison } from './comparison.js';

/** Less than this over the period is no drift to act on (common practice: a third of what class 1 with its clamp may be off). */
const LEAST = 0.01;
/** Two meters on one conductor differ by no more than this about their ratio; else they measure different things. */
const ALIKE = 0.03;
/** A drift is told over so long at least, ms. */
const SHORTEST = 7 * 86_400_000;

/** A ratio of two points that has changed. */
export interface Drift {
  /** Change of the ratio over the period, and its expanded uncertainty, 95 %. */
  by: number;
  uncertainty: number;
  /** The period, ms. */
  over: number;
}

/**
 * Whether a point has drifted from one that measures the same: their ratio has changed by more than one percent, and by more
 * than twice what it is uncertain by. Null where it has not, where they do not measure the same, and where it is too early.
 */
export function driftBetween(
  t: readonly number[],
  own: readonly (number | null)[],
  neighbour: readonly (number | null)[],
): Drift | null {
  const comparison = compare(t, neighbour, own);
  if (!comparison?.drift || !isSame(t, own, neighbour, comparison)) return null;
  const known = t.filter((_, i) => own[i] != null && neighbour[i] != null);
  const over = (known.at(-1) as number) - (known[0] as number);
  if (over < SHORTEST) return null;
  const days = over / 86_400_000;
  const by = comparison.drift.perDay * days;
  const uncertainty = comparison.drift.uncertainty * days;
  return Math.abs(by) > LEAST && Math.abs(by) > 2 * uncertainty ? { by, uncertainty, over } : null;
}

/** Whether two points follow each other as two meters on one conductor do. */
function isSame(
  t: readonly number[],
  own: readonly (number | null)[],
  neighbour: readonly (number | null)[],
  { ratio, base, drift }: Comparison,
): boolean {
  if (ratio === null || drift === null || base === 0) return false;
  const known = t.flatMap((at, i) => (own[i] == null || neighbour[i] == null ? [] : [[at, i] as const]));
  const middle = known.reduce((a, [at]) => a + at, 0) / known.length;
  const squares = known.reduce((a, [at, i]) => {
    const x = neighbour[i] as number;
    return a + ((own[i] as number) - x * (ratio + (drift.perDay * (at - middle)) / 86_400_000)) ** 2;
  }, 0);
  return Math.sqrt(squares / known.length) <= ALIKE * Math.abs(base);
}
