import type { Span } from './definition.js';
import type { RegisterKind } from './types.js';

const READ_FUNCTION: Record<RegisterKind, number> = { coil: 1, discrete: 2, holding: 3, input: 4 };

/** The bytes of a read request without its transport header (Modbus Application Protocol V1.1b3, 6.1–6.4). */
export function readRequestBytes({ kind, start, count }: Span): number[] {
  return [READ_FUNCTION[kind], start >> 8, start & 0xff, count >> 8, count & 0xff];
}

/** The bytes of a write request: one coil (05), one register (06) or several registers (16). */
export function writeRequestBytes(
  kind: 'coil' | 'holding',
  start: number,
  words: readonly number[],
): number[] {
  const head = [start >> 8, start & 0xff];
  if (kind === 'coil') return [5, ...head, words[0] ? 0xff : 0, 0];
  const data = words.flatMap((word) => [word >> 8, word & 0xff]);
  if (words.length === 1) return [6, ...head, ...data];
  return [16, ...head, words.length >> 8, words.length & 0xff, data.length, ...data];
}

/** Bytes as a table prints them: "03 00 6B 00 03". */
export const hexBytes = (bytes: readonly number[]): string =>
  bytes.map((byte) => byte.toString(16).toUpperCase().padStart(2, '0')).join(' ');

/** One word as a table prints it: "4366". */
export const hexWord = (word: number): string => word.toString(16).toUpperCase().padStart(4, '0');
