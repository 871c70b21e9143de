import { decodeWords } from '../words.js';
import { widthOf, type RegisterKind } from '../types.js';
import { readingsAt, unusualness, type Reading } from './candidates.js';
import { agreement, quantityOf, type Knowledge } from './knowledge.js';

/** Words of one kind of register from `start` on, read several times, the oldest first. */
export interface Snapshots {
  kind: RegisterKind;
  start: number;
  reads: number[][];
}

/** A way to read the registers that agrees with what is known, with the reasons. */
export interface Interpretation extends Reading {
  /** Newest value, base unit. */
  value: number;
  score: number;
  /** Weak: few counts or many oddities, it may be chance. */
  confidence: 'strong' | 'fair' | 'weak';
  reasons: string[];
}

/** Words that have to be read around an address: one before, and a 64-bit value that begins one after. */
export const WORDS_BEFORE = 1;
export const WORDS_AFTER = 5;

/**
 * Ranks the ways in which the value that somebody looks for may lie at an address, best first. The same value
 * read in another way (a 32-bit number whose upper half is empty is the 16-bit number beside it) is told once.
 * Empty when nothing fits: then the value is not there, or what is known of it is not so.
 */
export function findInterpretations(
  asked: { kind: RegisterKind; address: number },
  snapshots: readonly Snapshots[],
  knowledge: Knowledge,
): Interpretation[] {
  const found: Interpretation[] = [];
  for (const snapshot of snapshots)
    for (const reading of readingsAt(snapshot.kind, asked.address, quantityOf(knowledge))) {
      const values = valuesOf(reading, snapshot);
      const fit = values && agreement(knowledge, values);
      if (!values || !fit) continue;
      const steady = steadiness(values);
      const score = fit.score + steady.score + chance(reading, values) - unusualness(reading, asked);
      found.push({
        ...reading,
        value: values.at(-1) as number,
        score,
        confidence: confidenceOf(score),
        reasons: [fit.reason, ...steady.reasons, ...differences(reading, asked)],
      });
    }
  if (saysSize(knowledge))
    for (const one of found)
      if (found.some((float) => sharesWords(one, float))) {
        one.score -= OF_A_FLOAT;
        one.confidence = confidenceOf(one.score);
      }
  found.sort((a, b) => b.score - a.score);
  return found
    .filter((one, i) => !found.slice(0, i).some((better) => sameValue(better.value, one.value)))
    .slice(0, 8);
}

/**
 * The same over a range of addresses, when one knows that the value is somewhere in it: what fits best of all of them.
 * Nothing is looked for beside the range, and each place is told once.
 */
export function findInRange(
  asked: { kind: RegisterKind; first: number; last: number },
  snapshots: readonly Snapshots[],
  knowledge: Knowledge,
): Interpretation[] {
  const best = new Map<string, Interpretation>();
  for (let address = asked.first; address <= asked.last; address++)
    for (const found of findInterpretations({ kind: asked.kind, address }, snapshots, knowledge)) {
      const place = `${found.kind} ${found.address}`;
      if (found.address !== address || (best.get(place)?.score ?? -Infinity) >= found.score) continue;
      best.set(place, found);
    }
  return [...best.values()].sort((a, b) => b.score - a.score).slice(0, 12);
}

const confidenceOf = (score: number): Interpretation['confidence'] =>
  score >= 1.5 ? 'strong' : score >= 0 ? 'fair' : 'weak';

/**
 * What a whole number loses when a float over one of its words fits too. The low word of a float runs through all its
 * values within one volt, so that it looks like some scaled voltage every tenth time, alone or with an empty word
 * beside it; that the word beside a real whole number makes a float of the wanted size of it comes to about one in
 * a thousand. Only where the size is known: a float of some size is found over any words.
 */
const OF_A_FLOAT = 2;
const saysSize = ({ about }: Knowledge): boolean => about === 'near-nominal' || about === 'instrument';
const sharesWords = (one: Reading, float: Reading): boolean =>
  !one.type.startsWith('float') &&
  float.type.startsWith('float') &&
  one.kind === float.kind &&
  one.address < float.address + widthOf(float.type) &&
  float.address < one.address + widthOf(one.type);

function valuesOf(reading: Reading, { start, reads }: Snapshots): number[] | null {
  const from = reading.address - start;
  const width = widthOf(reading.type);
  if (from < 0 || reads.length === 0 || reads.some((words) => words.length < from + width)) return null;
  return reads.map((words) => decodeWords(words.slice(from, from + width), reading) * reading.factor);
}

/** A measured value wanders a little from read to read; what jumps is not one, and what never moves tells little. */
function steadiness(values: number[]): { score: number; reasons: string[] } {
  const mean = values.reduce((sum, v) => sum + v, 0) / values.length;
  const spread = (Math.max(...values) - Math.min(...values)) / (Math.abs(mean) || 1);
  if (spread > 0.05) return { score: -6, reasons: ['jumps between reads'] };
  if (spread === 0) return { score: 0, reasons: [] };
  return { score: 0.5, reasons: ['moves a little, as a measured value does'] };
}

/**
 * How little likely it is that words that mean something else would fall here by chance: a float with a full
 * mantissa in the wanted range is strong evidence, a small whole number is weak.
 */
function chance({ type, factor }: Reading, values: number[]): number {
  if (type.startsWith('float')) return values.every((v) => Math.fround(v) !== 0) ? 3 : 0;
  const counts = Math.abs((values.at(-1) as number) / factor);
  return counts < 5 ? -4 : Math.min(3, Math.log10(counts) - 0.5);
}

function differences(reading: Reading, asked: { kind: RegisterKind; address: number }): string[] {
  const reasons: string[] = [];
  if (reading.kind !== asked.kind) reasons.push(`in ${reading.kind} registers`);
  if (reading.address < asked.address) reasons.push('one address lower: the table counts from 1');
  if (reading.address > asked.address) reasons.push('one address higher');
  if (widthOf(reading.type) > 1 && reading.wordOrder === 'low-first') reasons.push('low word first');
  if (reading.byteOrder === 'low-first') reasons.push('low byte first');
  return reasons;
}

const sameValue = (a: number, b: number): boolean =>
  Math.abs(a - b) <= 1e-6 * Math.max(Math.abs(a), Math.abs(b));
