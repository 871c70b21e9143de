import { decodeWords } from '../words.js';
import { widthOf, type RegisterKind } from '../types.js';
import { readingsAt, scaled, type Candidate, type Reading } from './candidates.js';
import {
  byChance,
  movementOf,
  movesByChance,
  movesWhenRight,
  noValueIn,
  risesLikeCounter,
  saysNoValue,
  stepOf,
  valueWhenRight,
  wordsMove,
  type Movement,
} from './evidence.js';
import { agreesWith, quantityOf, type Knowledge } from './knowledge.js';

/** Words of one kind of register from `start` on, read several times, the oldest first. */
export interface Snapshots {
  kind: RegisterKind;
  start: number;
  reads: number[][];
}

/** A way to read the registers that agrees with what is known, with the reasons. */
export interface Interpretation extends Reading {
  /** From the last read, in the base unit. */
  value: number;
  /** Logarithm (to 10) of how many times likelier the words are with it than with something unrelated, its own rarity taken off. */
  score: number;
  /** Whether it may be relied on: never strong while another one explains the words about as well. */
  confidence: 'strong' | 'fair' | 'weak';
  /** How many others with another value explain the words about as well. */
  rivals: number;
  reasons: string[];
}

/** Words that have to be read around an address: one before, and a 64-bit value that begins one after. */
export const WORDS_BEFORE = 1;
export const WORDS_AFTER = 5;

/** Likelier than chance, with all ways that were tried counted in (their weights add up to 1): less is no finding. */
const FITS = 0.1;
const STRONG = 2;
const STRONG_SHARE = 0.9;
/** Others that are at least so likely against the best are said. */
const RIVAL = 1 / 4;
const TOLD = 8;

/**
 * Ranks the ways in which the value that somebody looks for may lie at an address, best first. The same value
 * read in another way (a 32-bit number whose upper half is empty is the 16-bit number beside it) is told once.
 * Those that chance would bring about as well are weak; empty when nothing agrees at all.
 */
export function findInterpretations(
  asked: { kind: RegisterKind; address: number },
  snapshots: readonly Snapshots[],
  knowledge: Knowledge,
): Interpretation[] {
  return judged(scoredAt(asked, snapshots, knowledge)).slice(0, TOLD);
}

/**
 * The same over a range of addresses, when one knows that the value is somewhere in it: what fits best of all of them.
 * Nothing is looked for beside the range, each place is told once, and the more places there are the more a finding must say.
 */
export function findInRange(
  asked: { kind: RegisterKind; first: number; last: number },
  snapshots: readonly Snapshots[],
  knowledge: Knowledge,
): Interpretation[] {
  const places = asked.last - asked.first + 1;
  const all: Scored[] = [];
  for (let address = asked.first; address <= asked.last; address++)
    for (const one of scoredAt({ kind: asked.kind, address }, snapshots, knowledge))
      if (one.address === address) all.push({ ...one, score: one.score - Math.log10(places) });
  return ofEachPlace(all).slice(0, 12);
}

/** What explains a word is not explained again: of readings that share words the best, judged against the others. */
function ofEachPlace(all: Scored[]): Interpretation[] {
  const left = [...all].sort((a, b) => b.score - a.score);
  const told: Interpretation[] = [];
  while (left.length > 0) {
    const best = left[0] as Scored;
    const sharing = left.filter((one) => shareWords(best, one));
    told.push(judged(sharing)[0] as Interpretation);
    for (const one of sharing) left.splice(left.indexOf(one), 1);
  }
  return told;
}

/** What at an address says that there is no value, as 0x8000 does in many devices; null where there is something else. */
export function noValueAt(address: number, snapshots: readonly Snapshots[]): string | null {
  for (const { start, reads } of snapshots) {
    const words = reads.map((read) => read.slice(address - start, address - start + 2));
    const [first] = words;
    if (address < start || !first || first.length === 0) continue;
    if (words.some((w) => w.join() !== first.join())) continue;
    const code = noValueIn(first);
    if (code !== null) return code;
  }
  return null;
}

type Scored = Candidate & { value: number; score: number; reasons: string[] };

function scoredAt(
  asked: { kind: RegisterKind; address: number },
  snapshots: readonly Snapshots[],
  knowledge: Knowledge,
): Scored[] {
  const found: Scored[] = [];
  for (const snapshot of snapshots) {
    let place: Place | null = null;
    for (const candidate of readingsAt(snapshot.kind, asked, quantityOf(knowledge))) {
      // The factors for a place come one after the other: its words are decoded once for all of them.
      if (!place || !isSamePlace(place.of, candidate)) place = placeOf(candidate, snapshot);
      const { words, raws } = place;
      if (!words) continue;
      const values = raws.map((raw) => scaled(candidate, raw));
      const evidence = evidenceOf(candidate, knowledge, place, values);
      if (evidence === null) continue;
      found.push({
        ...candidate,
        value: values.at(-1) as number,
        score: evidence.score + candidate.usual,
        reasons: [
          agreesWith(knowledge, values.at(-1) as number),
          ...movesInWords(evidence.movement, knowledge, raws),
          ...differences(candidate, asked),
        ],
      });
    }
  }
  return found;
}

/** What lies at a place, in one type and one order of its words. */
interface Place {
  of: Reading;
  /** Of each read; null where nothing was read, or where it is a code for "not available". */
  words: number[][] | null;
  raws: number[];
  /** How often words are these by chance, log10. */
  chance: number;
}

function placeOf(reading: Reading, snapshot: Snapshots): Place {
  const words = wordsOf(reading, snapshot);
  const last = words?.at(-1) ?? [];
  if (!words || saysNoValue(reading.type, last)) return { of: reading, words: null, raws: [], chance: 0 };
  return {
    of: reading,
    words,
    raws: words.map((w) => decodeWords(w, reading)),
    chance: byChance(last),
  };
}

const isSamePlace = (one: Reading, other: Reading): boolean =>
  one.kind === other.kind &&
  one.address === other.address &&
  one.type === other.type &&
  one.wordOrder === other.wordOrder &&
  one.byteOrder === other.byteOrder;

/** How much likelier these words are with the reading than without, log10; null where it cannot be. */
function evidenceOf(
  reading: Reading,
  knowledge: Knowledge,
  { words: reads, raws, chance }: Place,
  values: number[],
): { score: number; movement: Movement } | null {
  if (!reads || !values.every(Number.isFinite)) return null;
  const [raw, value] = [raws.at(-1) as number, values.at(-1) as number];
  const step = stepOf(reading.type, raw) * Math.abs(reading.factor);
  const right = valueWhenRight(knowledge, value, step);
  if (right === null || right <= 0) return null;
  const movement = movementOf(values);
  const lowest = reading.wordOrder === 'high-first' ? widthOf(reading.type) - 1 : 0;
  const moves =
    movesWhenRight(knowledge, movement, values.length, step > COARSE * Math.abs(value)) *
    wordsMove(reads, lowest, reading.type.startsWith('float')) *
    (knowledge.about === 'counter' && movement === 'rises' ? risesLikeCounter(values, step) : 1);
  if (moves <= 0) return null;
  const byAccident = chance + Math.log10(movesByChance(movement, values.length));
  return { score: Math.log10(right) + Math.log10(moves) - byAccident, movement };
}
/** A steady value of which a step is larger often reads the same. */
const COARSE = 0.0005;

/** Ranked, each value once, with how far each may be relied on. */
function judged(all: readonly Scored[]): Interpretation[] {
  const sorted = [...all].sort((a, b) => b.score - a.score);
  const best = sorted.filter(
    (one, i) => !sorted.slice(0, i).some((other) => sameValue(other.value, one.value)),
  );
  const weight = (one: Scored) => 10 ** one.score;
  // Nothing of what is known of it lies here: as likely as one way that explains no more than chance.
  const total = 1 + best.reduce((sum, one) => sum + weight(one), 0);
  return best.map(({ usual: _, ...one }) => {
    const rivals = best.filter(
      (other) => !sameValue(other.value, one.value) && weight(other as Scored) >= RIVAL * 10 ** one.score,
    ).length;
    const confidence =
      one.score < FITS
        ? 'weak'
        : one.score >= STRONG && rivals === 0 && 10 ** one.score >= STRONG_SHARE * total
          ? 'strong'
          : 'fair';
    return { ...one, confidence, rivals };
  });
}

function wordsOf({ address, type }: Reading, { start, reads }: Snapshots): number[][] | null {
  const from = address - start;
  const width = widthOf(type);
  if (from < 0 || reads.length === 0 || reads.some((words) => words.length < from + width)) return null;
  return reads.map((words) => words.slice(from, from + width));
}

const shareWords = (one: Reading, other: Reading): boolean =>
  one.kind === other.kind &&
  one.address < other.address + widthOf(other.type) &&
  other.address < one.address + widthOf(one.type);

function movesInWords(movement: Movement, { about }: Knowledge, raws: readonly number[]): string[] {
  if (raws.length < 2) return [];
  if (about === 'counter') {
    const by = (raws.at(-1) as number) - (raws[0] as number);
    return [
      movement === 'rises' ? `rises by ${Number(by.toPrecision(4))}, and never falls` : 'does not rise',
    ];
  }
  if (movement === 'still') return [];
  return [movement === 'jumps' ? 'jumps between reads' : 'moves a little, as a measured value does'];
}

function differences(reading: Reading, asked: { kind: RegisterKind; address: number }): string[] {
  const reasons: string[] = [];
  if (reading.kind !== asked.kind) reasons.push(`in ${reading.kind} registers`);
  if (reading.address < asked.address) reasons.push('one address lower: the table counts from 1');
  if (reading.address > asked.address) reasons.push('one address higher');
  if (widthOf(reading.type) > 1 && reading.wordOrder === 'low-first') reasons.push('low word first');
  if (reading.byteOrder === 'low-first') reasons.push('low byte first');
  if (reading.span)
    reasons.push(`0–${reading.span.raw} stand for ${reading.span.low} to ${reading.span.high}`);
  return reasons;
}

const sameValue = (a: number, b: number): boolean =>
  Math.abs(a - b) <= 1e-6 * Math.max(Math.abs(a), Math.abs(b));
