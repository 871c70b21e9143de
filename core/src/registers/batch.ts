import { quantityInfo, unitFactor } from '../quantities/index.js';
import { readerOf, spanOf, type PointDefinition, type Reader } from './definition.js';
import { scalingLine } from '../points/scaling.js';
import { isBitKind } from './types.js';
import { RegisterValueError } from './words.js';

/** How a value is made of its words; everything that is not simple goes through a reader of its own. */
const OTHER = 0;
const CODES = { uint16: 1, int16: 2, uint32: 3, int32: 4, float32: 5 } as const;
const isSimple = (type: string): type is keyof typeof CODES => type in CODES;

/** All values are decoded one after the other, so one buffer serves them all. */
const view = new DataView(new ArrayBuffer(4));
const swapped = (word: number): number => ((word & 0xff) << 8) | (word >> 8);

/**
 * Reads all values of one request. What each needs lies in a few arrays side by side: a link reads thousands of values a
 * second, each some milliseconds after the one before, and what lies far apart in memory has to be fetched again each time.
 */
export class BatchReader {
  private readonly at: Int32Array;
  private readonly code: Uint8Array;
  /** 1: the low word first; 2: the low byte first. */
  private readonly order: Uint8Array;
  /** Slope, intercept and unit factor, and the lowest and highest value that can be, of one value after the other. */
  private readonly line: Float64Array;
  private readonly others = new Map<number, Reader>();
  private readonly start: number;

  /**
   * @param definitions values whose addresses are valid
   * @param start first register (or bit) of the request
   */
  constructor(definitions: readonly PointDefinition[], start: number) {
    const count = definitions.length;
    this.start = start;
    this.at = new Int32Array(count);
    this.code = new Uint8Array(count);
    this.order = new Uint8Array(count);
    this.line = new Float64Array(5 * count);
    definitions.forEach((definition, i) => {
      const { type, kind, companion, scaling, quantity, unit, wordOrder, byteOrder } = definition;
      const simple = isSimple(type) && !isBitKind(kind) && !companion;
      this.at[i] = (spanOf(definition)?.start ?? start) - start;
      this.code[i] = simple ? CODES[type] : OTHER;
      this.order[i] = (wordOrder === 'low-first' ? 1 : 0) | (byteOrder === 'low-first' ? 2 : 0);
      const { slope, intercept } = scalingLine(scaling);
      this.line.set(
        [slope, intercept, unitFactor(quantity, unit) ?? 1, ...quantityInfo(quantity).possible],
        5 * i,
      );
      const reader = simple ? null : readerOf(definition);
      if (reader) this.others.set(i, reader);
    });
  }

  /** Value `i` in base units, out of the words of the request; NaN where they hold none. */
  value(i: number, words: ArrayLike<number>): number {
    const code = this.code[i] as number;
    if (code === OTHER) return this.other(i, words);
    const at = this.at[i] as number;
    const order = this.order[i] as number;
    const first = wordAt(words, at, order);
    const second = code < CODES.uint32 ? 0 : wordAt(words, at + 1, order);
    if (first < 0 || second < 0) return NaN;
    const high = order & 1 ? second : first;
    const low = order & 1 ? first : second;
    let raw: number;
    if (code === CODES.uint16) raw = first;
    else if (code === CODES.int16) raw = (first << 16) >> 16;
    else if (code === CODES.uint32) raw = high * 0x10000 + low;
    else if (code === CODES.int32) raw = (high << 16) | low;
    else {
      view.setUint16(0, high);
      view.setUint16(2, low);
      raw = view.getFloat32(0);
    }
    const { line } = this;
    const l = 5 * i;
    return ((line[l] as number) * raw + (line[l + 1] as number)) * (line[l + 2] as number);
  }

  /** Whether a value (base units) can be true at all. */
  isPossible(i: number, value: number): boolean {
    return value >= (this.line[5 * i + 3] as number) && value <= (this.line[5 * i + 4] as number);
  }

  private other(i: number, words: ArrayLike<number>): number {
    const reader = this.others.get(i);
    try {
      return reader ? reader.read(words, reader.span.start - this.start) : NaN;
    } catch (error) {
      // One odd value must not take the others of its request with it.
      if (error instanceof RegisterValueError) return NaN;
      throw error;
    }
  }
}

/** A word with its bytes in their order; −1 where there is none, or what is there is no word. */
function wordAt(words: ArrayLike<number>, at: number, order: number): number {
  const word = words[at];
  if (word === undefined || (word & 0xffff) !== word) return -1;
  return order & 2 ? swapped(word) : word;
}
