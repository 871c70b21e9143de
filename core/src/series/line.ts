/** A place that a bent line goes through. */
export interface Knot {
  raw: number;
  value: number;
}

/** A straight line: value = gain · raw + offset; or one with bends, and with a floor below which nothing flows. */
export interface Line {
  gain: number;
  offset: number;
  /** Where it bends: straight from knot to knot, and on beyond the ends; two at least, by raw value, ascending. Gain and offset are then those of the straight line nearest to it. */
  knots?: readonly Knot[] | null;
  /** Values nearer to zero than this are none, base unit. */
  noLoad?: number | null;
}

/** Nothing changes anything. */
export const IDENTITY: Line = { gain: 1, offset: 0 };

export const isStraight = ({ knots, noLoad }: Line): boolean => !knots && !noLoad;

export const isIdentity = (line: Line): boolean => line.gain === 1 && line.offset === 0 && isStraight(line);

export function applyLine(line: Line, raw: number): number {
  const { knots, noLoad } = line;
  const { gain, offset } = knots ? pieceAt(knots, raw) : line;
  const value = gain * raw + offset;
  return noLoad && Math.abs(value) < noLoad ? 0 : value;
}

/**
 * The straight line to take for values that lie from `min` to `max`: the line itself where it is straight there, else the one
 * through both ends. Exact for the mean of what only comes and goes, and else off by no more than the bend is high in between.
 */
export function lineOver(line: Line, min: number, max: number): Line {
  if (isStraight(line)) return line;
  const [low, high] = [applyLine(line, min), applyLine(line, max)];
  const gain = max > min ? (high - low) / (max - min) : 0;
  // Of a bare step of the raw value the quotient would be noise.
  return Number.isFinite(gain) ? { gain, offset: low - gain * min } : { gain: 0, offset: low };
}

/** A bent line after a straight one: its knots in terms of what comes into both. */
export function bendAfter(first: Line, { knots }: Line): Knot[] | null {
  if (!knots) return null;
  const moved = knots.map(({ raw, value }) => ({ raw: (raw - first.offset) / first.gain, value }));
  return first.gain < 0 ? moved.reverse() : moved;
}

function pieceAt(knots: readonly Knot[], raw: number): { gain: number; offset: number } {
  const last = knots.length - 2;
  let i = 0;
  while (i < last && raw > (knots[i + 1] as Knot).raw) i++;
  const [a, b] = [knots[i] as Knot, knots[i + 1] as Knot];
  const gain = (b.value - a.value) / (b.raw - a.raw);
  return { gain, offset: a.value - gain * a.raw };
}
