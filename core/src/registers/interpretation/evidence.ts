import { widthOf, type ValueType } from '../types.js';
import type { Knowledge } from './knowledge.js';

/** How values read one after the other move. */
export type Movement = 'still' | 'wanders' | 'rises' | 'jumps';

/** What jumps by more between two reads is not one steady value; a counter does not rise by so much of itself in seconds. */
const JUMP = 0.05;
const RISE = 0.01;
const RISE_COUNTS = 100;

/** @param values at least one, the oldest first */
export function movementOf(values: readonly number[]): Movement {
  const [first, last] = [values[0] as number, values.at(-1) as number];
  const [low, high] = [Math.min(...values), Math.max(...values)];
  if (low === high) return 'still';
  const size = Math.abs(values.reduce((a, b) => a + b, 0) / values.length) || 1;
  const falls = values.some((v, i) => i > 0 && v < (values[i - 1] as number));
  return !falls && last - first <= Math.max(RISE_COUNTS, RISE * Math.abs(last))
    ? 'rises'
    : high - low > JUMP * size
      ? 'jumps'
      : 'wanders';
}

/** The smallest step by which a value of a type can differ, in its own unit. */
export function stepOf(type: ValueType, raw: number): number {
  if (type === 'float32') return Math.max(Math.abs(raw) * 2 ** -23, 1e-38);
  if (type === 'float64') return Math.max(Math.abs(raw) * 2 ** -52, 1e-300);
  return 1;
}

// The shares below are estimates from practice (trade); the figures in the tests show what they are worth.

/**
 * Logarithm (to 10) of how often words that have nothing to do with what is looked for would be these: many registers are empty
 * or hold a small number, the others anything.
 */
export function byChance(words: readonly number[]): number {
  return words.reduce((sum, w) => {
    const small = w > 0 && w < 1000 ? 0.2 / (w * Math.log(1000)) : 0;
    return sum + Math.log10((w === 0 ? 0.4 : 0) + small + 0.4 / 65_536);
  }, 0);
}

/** How often the least significant word of a value stands still while a more significant one moves: it is another value. */
const LOWEST_STILL = 0.02;
/** Of a float that counts in whole numbers it may. */
const LOWEST_OF_FLOAT_STILL = 0.3;

/** @param reads the words of a value, read one after the other @param lowest which of them is the least significant */
export function wordsMove(reads: readonly (readonly number[])[], lowest: number, isFloat: boolean): number {
  const differs = (i: number) => reads.some((words) => words[i] !== reads[0]?.[i]);
  const isStill = !differs(lowest) && (reads[0] ?? []).some((_, i) => differs(i));
  return isStill ? (isFloat ? LOWEST_OF_FLOAT_STILL : LOWEST_STILL) : 1;
}

/** A counter of a load that stays on rises evenly, to within a count, and by no more than some hundreds of counts in seconds. */
const UNEVEN = 0.25;
const MANY_COUNTS = 300;

/** How well a rise is that of a counter, 0 to 1. @param step the smallest one, in the unit of the values */
export function risesLikeCounter(values: readonly number[], step: number): number {
  const rises = values.slice(1).map((v, i) => v - (values[i] as number));
  if (rises.length === 0) return 1;
  const [low, high] = [Math.min(...rises), Math.max(...rises)];
  const mean = rises.reduce((a, b) => a + b, 0) / rises.length;
  const even = high - low <= Math.max(1.5 * step, 0.5 * mean) ? 1 : UNEVEN;
  return even * Math.min(1, MANY_COUNTS / Math.max(1, high));
}

/** How often a value that has nothing to do with it moves so, by how many reads there were. */
export function movesByChance(movement: Movement, reads: number): number {
  if (reads < 2) return 1;
  if (movement === 'still') return 0.6;
  if (movement === 'jumps') return 0.2;
  // Of n values that wander one in n! goes steadily up.
  const rising = 0.2 / factorial(Math.min(reads, 8));
  return movement === 'rises' ? rising + 0.002 : 0.2;
}

const factorial = (n: number): number => (n < 2 ? 1 : n * factorial(n - 1));

/**
 * How often what is looked for moves so.
 * @param coarse whether a step of it is so large that a steady value often stays the same
 */
export function movesWhenRight(
  knowledge: Knowledge,
  movement: Movement,
  reads: number,
  coarse: boolean,
): number {
  if (reads < 2) return 1;
  if (knowledge.about === 'counter') return { still: 0.15, rises: 0.8, wanders: 0, jumps: 0 }[movement];
  if (movement === 'still') return coarse ? 0.7 : 0.25;
  return movement === 'jumps' ? 0.01 : 0.65;
}

const bell = (x: number): number => Math.exp(-0.5 * x * x) / Math.sqrt(2 * Math.PI);
/** Mass of a bell in a step of it; a step may be wider than the bell. */
const inStep = (off: number, sigma: number, step: number): number => {
  const wide = Math.hypot(sigma, 0.29 * step);
  return Math.min(1, (step / wide) * bell(off / wide));
};

/** A mean that is known to within `sigma`, seldom less well; null where it is further off than `most` (all of the value sought). */
const near = (value: number, sought: number, step: number, sigma: number, most: number): number | null => {
  const off = Math.abs(value - sought) / Math.abs(sought);
  if (off > most) return null;
  const relative = step / Math.abs(sought);
  return 0.9 * inStep(off, sigma, relative) + (0.1 * relative) / (2 * most);
};

/**
 * How often what is looked for would have this value, to within a step of it.
 * @param value the last one read, base unit @param step base unit
 * @returns null where it cannot be
 */
export function valueWhenRight(knowledge: Knowledge, value: number, step: number): number | null {
  if (!Number.isFinite(value)) return null;
  switch (knowledge.about) {
    case 'near-nominal':
      // EN 50160 (recalled): a supply lies within ±10 % of its voltage and ±1 % of its frequency nearly always.
      return knowledge.quantity === 'voltage'
        ? near(value, knowledge.nominal, step, 0.03, 0.15)
        : near(value, knowledge.nominal, step, 0.001, 0.03);
    case 'instrument':
      // A handheld, and a load that wanders a little: 1.5 % (trade). Which way it is clamped is not known.
      return knowledge.value === 0
        ? null
        : near(Math.abs(value), Math.abs(knowledge.value), step, 0.015, 0.1);
    case 'power-factor': {
      const size = Math.abs(value);
      if (size > 1.0005 || size < 0.05) return null;
      const density = size > 0.5 ? 0.7 / 0.5 : 0.1 / 0.45;
      // A heater has 1, as closely as is told.
      return (value < 0 ? 0.1 : 0.9) * (density * step + (1 - size <= step / 2 ? 0.2 : 0));
    }
    case 'counter': {
      if (value < 1 || value > MOST_COUNTS) return null;
      return Math.min(1, step / (value * Math.log(MOST_COUNTS)));
    }
  }
}
/** What a counter may have counted: any size is as likely as any other. */
const MOST_COUNTS = 1e10;

/** Codes of one and of two words with which devices say that there is no value; of a float the one that is no number. */
const NO_VALUE: readonly (readonly [name: string, words: readonly number[]])[] = [
  ['0xFFFFFFFF', [0xffff, 0xffff]],
  ['0x80000000', [0x8000, 0x0000]],
  ['0x7FFFFFFF', [0x7fff, 0xffff]],
  ['0x7FC00000', [0x7fc0, 0x0000]],
  ['0xFFC00000', [0xffc0, 0x0000]],
  ['0xFFFF', [0xffff]],
  ['0x8000', [0x8000]],
  ['0x7FFF', [0x7fff]],
];

/** The code for "not available" in words; null where there is none. Of two words either may come first. */
export function noValueIn(words: readonly number[]): string | null {
  const is = (code: readonly number[]) => code.every((w, i) => words[i] === w);
  const found = NO_VALUE.find(
    ([, code]) => words.length >= code.length && (is(code) || is(code.toReversed())),
  );
  return found?.[0] ?? null;
}

/** Whether a value of a type would be such a code itself. */
export const saysNoValue = (type: ValueType, words: readonly number[]): boolean => {
  const width = widthOf(type);
  const code = noValueIn(words.slice(0, width));
  return code !== null && (width === 1 || code.length > 6);
};
