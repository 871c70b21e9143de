import { bisectLeft, bisectRight, greatest, median } from 'd3-array';

/** The steps that are a load's own among those of a place. */
export interface OwnSteps {
  /** W, in the median. */
  height: number;
  /** How much of what lies at that height is its own, 0 to 1. */
  share: number;
}

/** A plate is good to a tenth (IEC 60335-1, recalled), and so many watts: within that the steps of a load are looked for. */
export const PLATE = 0.1;
export const PLATE_WATTS = 8;
/** Its own steps lie so near to one another: a share of them, and so many watts (common practice). */
export const NEAR = 0.03;
export const NEAR_WATTS = 8;
/** How often steps of others come at such heights is seen from this part of the height to so many times it. */
const AROUND = [0.8, 1.25] as const;
/** Where none is seen at all so many are expected nevertheless. */
const LEAST_EXPECTED = 0.05;
/** Chance has to bring as many about less often than this before a load is taken to make them. */
const CHANCE = 0.01;
/** From so much below a height to so much above it. */
export const around = (watts: number, share: number, more: number): [number, number] => [
  watts - share * watts - more,
  watts + share * watts + more,
];

/** How many of ascending values lie in [from, to]. */
export const countBetween = (sorted: Float64Array, from: number, to: number): number =>
  bisectRight(sorted, to) - bisectLeft(sorted, from);

/**
 * The height about which most steps near a load's plate lie together, against how many others would by chance lie so: steps come
 * at heights near it as often as around it (Poisson). What comes goes again, so ups and downs tell the same twice; the side that
 * tells more is taken.
 * @param watts by its plate, or a test; @param ups and downs the heights of all steps, W, ascending
 * @returns null where chance would bring about as many
 */
export function ownSteps(watts: number, ups: Float64Array, downs: Float64Array): OwnSteps | null {
  const [best] = [ups, downs]
    .flatMap((side) => onOneSide(watts, side) ?? [])
    .sort((a, b) => a.chance - b.chance);
  // Two sides were looked at.
  return best && 2 * best.chance < CHANCE ? { height: best.height, share: best.share } : null;
}

function onOneSide(watts: number, heights: Float64Array): (OwnSteps & { chance: number }) | null {
  const [low, high] = around(watts, PLATE, PLATE_WATTS);
  const near = heights.subarray(bisectLeft(heights, low), bisectRight(heights, high));
  const at = (h: number) => around(h, NEAR, NEAR_WATTS);
  const densest = greatest(near, (a, b) => countBetween(heights, ...at(a)) - countBetween(heights, ...at(b)));
  if (densest === undefined) return null;
  const [from, to] = at(densest);
  const count = countBetween(heights, from, to);
  const height = median(heights.subarray(bisectLeft(heights, from), bisectRight(heights, to))) as number;
  const wide = [AROUND[0] * height, AROUND[1] * height] as const;
  const others = countBetween(heights, ...wide) - count;
  const rest = Math.max(to - from, wide[1] - wide[0] - (to - from));
  const expected = Math.max(LEAST_EXPECTED, (others * (to - from)) / rest);
  // As many narrow windows lie in the wide one.
  const places = Math.max(1, (high - low) / (to - from));
  return { height, share: Math.max(0, 1 - expected / count), chance: places * atLeast(count, expected) };
}

/** The chance that at least so many come where so many are expected (Poisson). */
function atLeast(count: number, expected: number): number {
  let [term, below] = [Math.exp(-expected), 0];
  for (let k = 0; k < count; k++) {
    below += term;
    term *= expected / (k + 1);
  }
  return Math.max(0, 1 - below);
}
