import type { Counts, Slots } from '../series/index.js';

/** Milliseconds in an hour. */
const HOUR = 3_600_000;

/** Energy in Wh of a mean power in W over the covered milliseconds. */
export const energyOfMean = (meanWatts: number, coveredMs: number): number => (meanWatts * coveredMs) / HOUR;

/**
 * Energy over a span. Three things are kept apart: what came in, what went out, and the difference. What is not covered
 * is left out, and said by the coverage.
 */
export interface Energy {
  /** Wh, not negative; null where nothing tells. */
  import: number | null;
  /** Wh, not negative; null where nothing tells. */
  export: number | null;
  /** Import less export, Wh. */
  net: number | null;
  /** Milliseconds for which it is known. */
  covered: number;
  /** Part of import and export together that is spread or counted by estimate, Wh. */
  estimated: number;
}

/** Nothing is known. */
export const NO_ENERGY: Energy = { import: null, export: null, net: null, covered: 0, estimated: 0 };

/**
 * Energy part by part, column by column: as {@link Energy}, with NaN in the place of null. A month of hours of sixty
 * places is no heap of objects this way.
 */
export interface EnergyParts {
  length: number;
  import: Float64Array;
  export: Float64Array;
  net: Float64Array;
  covered: Float64Array;
  estimated: Float64Array;
}

/** Parts of which nothing is known. */
export function unknownParts(length: number): EnergyParts {
  const column = (value: number) => new Float64Array(length).fill(value);
  return {
    length,
    import: column(NaN),
    export: column(NaN),
    net: column(NaN),
    covered: column(0),
    estimated: column(0),
  };
}

const orNull = (value: number): number | null => (Number.isNaN(value) ? null : value);

/** Part i by itself. */
export const energyAt = (parts: EnergyParts, i: number): Energy => ({
  import: orNull(parts.import[i] as number),
  export: orNull(parts.export[i] as number),
  net: orNull(parts.net[i] as number),
  covered: parts.covered[i] as number,
  estimated: parts.estimated[i] as number,
});

const plus = (a: number, b: number): number => (Number.isNaN(a) ? b : Number.isNaN(b) ? a : a + b);

/** Of two conductors at the same time: the sum is known as long as both are. */
export function addBeside(a: EnergyParts, b: EnergyParts): EnergyParts {
  const sum = unknownParts(a.length);
  for (let i = 0; i < a.length; i++) {
    const net = (a.net[i] as number) + (b.net[i] as number);
    if (Number.isNaN(net)) continue;
    sum.net[i] = net;
    sum.import[i] = plus(a.import[i] as number, b.import[i] as number);
    sum.export[i] = plus(a.export[i] as number, b.export[i] as number);
    sum.covered[i] = Math.min(a.covered[i] as number, b.covered[i] as number);
    sum.estimated[i] = (a.estimated[i] as number) + (b.estimated[i] as number);
  }
  return sum;
}

/**
 * What counters of the two directions say together, each of which has told its net. A count below zero, which a reversed
 * transducer makes when it is set right, belongs to the other direction. Without a counter of what flows out, that is not
 * known, and the net is what came in.
 */
export function bothDirections(incoming: EnergyParts | null, outgoing: EnergyParts | null): EnergyParts {
  const length = incoming?.length ?? outgoing?.length ?? 0;
  const both = unknownParts(length);
  for (let i = 0; i < length; i++) {
    const into = incoming ? (incoming.net[i] as number) : NaN;
    const out = outgoing ? (outgoing.net[i] as number) : NaN;
    const [knowsIn, knowsOut] = [!Number.isNaN(into), !Number.isNaN(out)];
    if (!knowsIn && !knowsOut) continue;
    const [in0, out0] = [knowsIn ? into : 0, knowsOut ? out : 0];
    if (knowsIn || out0 < 0) both.import[i] = Math.max(0, in0) + Math.max(0, -out0);
    if (knowsOut || in0 < 0) both.export[i] = Math.max(0, out0) + Math.max(0, -in0);
    both.net[i] = in0 - out0;
    both.covered[i] = Math.min(
      knowsIn ? ((incoming as EnergyParts).covered[i] as number) : Infinity,
      knowsOut ? ((outgoing as EnergyParts).covered[i] as number) : Infinity,
    );
    both.estimated[i] =
      (knowsIn ? ((incoming as EnergyParts).estimated[i] as number) : 0) +
      (knowsOut ? ((outgoing as EnergyParts).estimated[i] as number) : 0);
  }
  return both;
}

/** Energy of a power from its slots, part by part. A slot belongs to the part in which it begins. @param borders ascending */
export function energyOfSlots(blocks: readonly Slots[], borders: readonly number[]): EnergyParts {
  const parts = unknownParts(borders.length - 1);
  for (const { start, step, length, plus, minus, covered } of blocks)
    eachPart(start, step, length, borders, (part, first, last) => {
      let [into, out, known] = [0, 0, 0];
      for (let i = first; i < last; i++) {
        const ms = covered[i] as number;
        into += (plus[i] as number) * ms;
        out += (minus[i] as number) * ms;
        known += ms;
      }
      if (known > 0) addTo(parts, part, into / HOUR, out / HOUR, known);
    });
  return parts;
}

/**
 * What a counter has counted, part by part, as `import` and `net`; less than nothing where its power is corrected to flow
 * the other way. Of the increment over a gap the whole is known; how much of it fell into a part of the gap is not, unless
 * the counter has stood still.
 * @param gaps increments over gaps, `sure` where the total is
 * @param factor by how much what was counted at t is to be multiplied; null for not at all
 */
export function energyOfCounts(
  blocks: readonly Counts[],
  gaps: readonly CountedGap[],
  borders: readonly number[],
  factor: ((t: number) => number) | null,
): EnergyParts {
  const parts = unknownParts(borders.length - 1);
  for (const { start, step, length, increment, covered } of blocks)
    eachPart(start, step, length, borders, (part, first, last) => {
      let [sum, known] = [0, 0];
      for (let i = first; i < last; i++) {
        const counted = increment[i] as number;
        sum += factor ? counted * factor(start + i * step) : counted;
        known += covered[i] as number;
      }
      if (known > 0 || sum !== 0) addTo(parts, part, sum, NaN, known);
    });
  for (const { since, until, increment, sure } of gaps)
    for (let part = 0; part < parts.length; part++) {
      const [a, b] = [borders[part] as number, borders[part + 1] as number];
      const overlap = Math.min(b, until) - Math.max(a, since);
      if (overlap <= 0) continue;
      const share = (increment * overlap) / (until - since);
      const value = factor ? share * factor(Math.max(a, since)) : share;
      const whole = sure && (increment === 0 || (since >= a && until <= b));
      if (value === 0 && !whole) continue;
      addTo(parts, part, value, NaN, whole ? overlap : 0);
      if (!whole) parts.estimated[part] = (parts.estimated[part] as number) + Math.abs(value);
    }
  return parts;
}

/** What somebody has said of the readings of a span. */
interface Said {
  from: number;
  to: number;
  counts: boolean;
}

/** A counter knows what happened in a gap, but not in one in which it was struck out: that time is not covered. */
export function leaveOut(parts: EnergyParts, borders: readonly number[], said: readonly Said[]): EnergyParts {
  const struck = said.filter(
    (s, i) =>
      !s.counts &&
      !said.slice(i + 1).some((later) => later.counts && later.from <= s.from && later.to >= s.to),
  );
  if (struck.length === 0) return parts;
  const covered = parts.covered.map((known, i) => {
    const [a, b] = [borders[i] as number, borders[i + 1] as number];
    const out = struck.reduce((sum, s) => sum + Math.max(0, Math.min(b, s.to) - Math.max(a, s.from)), 0);
    return Math.max(0, Math.min(known, b - a - out));
  });
  // Nothing is known of a part of which all was struck out; nought would be a figure.
  const known = (column: Float64Array) => column.map((v, i) => (covered[i] === 0 && v === 0 ? NaN : v));
  return {
    ...parts,
    covered,
    import: known(parts.import),
    export: known(parts.export),
    net: known(parts.net),
  };
}

/** An increment of a counter over a gap in its readings, spread evenly. */
export interface CountedGap {
  since: number;
  until: number;
  increment: number;
  /** Whether the total is sure, and only how it is spread is not. */
  sure: boolean;
}

/** The slots [first, last) that begin in each part; parts without any are left out. */
function eachPart(
  start: number,
  step: number,
  length: number,
  borders: readonly number[],
  take: (part: number, first: number, last: number) => void,
): void {
  const firstFrom = (t: number) => Math.min(length, Math.max(0, Math.ceil((t - start) / step)));
  let first = firstFrom(borders[0] as number);
  for (let part = 0; part + 1 < borders.length && first < length; part++) {
    const last = firstFrom(borders[part + 1] as number);
    if (last > first) take(part, first, last);
    first = last;
  }
}

function addTo(parts: EnergyParts, i: number, into: number, out: number, covered: number): void {
  parts.import[i] = plus(parts.import[i] as number, into);
  parts.export[i] = plus(parts.export[i] as number, out);
  parts.net[i] = plus(parts.net[i] as number, Number.isNaN(out) ? into : into - out);
  parts.covered[i] = (parts.covered[i] as number) + covered;
}
