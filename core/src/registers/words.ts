import { widthOf, type ByteOrder, type ValueType, type WordOrder } from './types.js';

/** Thrown when a value cannot be put into, or taken from, the registers it is said to lie in. */
export class RegisterValueError extends Error {
  override name = 'RegisterValueError';
  constructor(
    readonly code: 'too-few-words' | 'not-a-word' | 'out-of-range',
    message: string,
  ) {
    super(message);
  }
}

export interface WordLayout {
  type: ValueType;
  wordOrder: WordOrder;
  byteOrder: ByteOrder;
}

/**
 * The number that lies in the given 16-bit words (as they came over the wire, first word first).
 * Floats follow IEEE 754. 64-bit integers come back as a double: exact up to 2^53.
 * @throws RegisterValueError when there are fewer words than the type needs, or one is not a 16-bit word
 */
export function decodeWords(words: ArrayLike<number>, layout: WordLayout): number {
  return decodeAt(words, 0, layout);
}

/** All values are decoded one after the other, so one buffer serves them all. */
const view = new DataView(new ArrayBuffer(8));

/** As {@link decodeWords}, for a value that begins at a place among many words: nothing is copied. */
export function decodeAt(words: ArrayLike<number>, at: number, layout: WordLayout): number {
  const width = widthOf(layout.type);
  if (words.length - at < width)
    throw new RegisterValueError(
      'too-few-words',
      `${layout.type} needs ${width} registers, got ${Math.max(0, words.length - at)}`,
    );
  for (let i = 0; i < width; i++) {
    const word = words[at + i] as number;
    if (!Number.isInteger(word) || word < 0 || word > 0xffff)
      throw new RegisterValueError('not-a-word', `${word} is not a 16-bit word (0–65535)`);
    const place = layout.wordOrder === 'high-first' ? i : width - 1 - i;
    view.setUint16(place * 2, word, layout.byteOrder === 'low-first');
  }
  switch (layout.type) {
    case 'bool':
      return view.getUint16(0) === 0 ? 0 : 1;
    case 'uint16':
      return view.getUint16(0);
    case 'int16':
      return view.getInt16(0);
    case 'uint32':
      return view.getUint32(0);
    case 'int32':
      return view.getInt32(0);
    case 'float32':
      return view.getFloat32(0);
    case 'uint64':
      // The upper half is exact, so that the sum is rounded once, as the whole number would be.
      return view.getUint32(0) * 2 ** 32 + view.getUint32(4);
    case 'int64':
      return view.getInt32(0) * 2 ** 32 + view.getUint32(4);
    case 'float64':
      return view.getFloat64(0);
    case 'bcd16':
      return fromBcd(view.getUint16(0), 4);
    case 'bcd32':
      return fromBcd(view.getUint32(0), 8);
    case 'string':
      return NaN;
  }
}

/** The number that decimal digits in half bytes stand for; NaN where a half byte is no digit. */
function fromBcd(word: number, digits: number): number {
  let value = 0;
  for (let place = digits - 1; place >= 0; place--) {
    const digit = (word >>> (4 * place)) & 0xf;
    if (digit > 9) return NaN;
    value = 10 * value + digit;
  }
  return value;
}

/**
 * The characters that lie in words, two a word (ASCII, the first in the high byte unless the bytes are swapped);
 * what follows a zero byte does not count, nor do spaces at the end.
 */
export function decodeText(
  words: ArrayLike<number>,
  { wordOrder, byteOrder }: Omit<WordLayout, 'type'>,
): string {
  const list = Array.from(words);
  if (wordOrder === 'low-first') list.reverse();
  const bytes = list.flatMap((word) => {
    const pair = [(word >> 8) & 0xff, word & 0xff];
    return byteOrder === 'low-first' ? pair.reverse() : pair;
  });
  const end = bytes.indexOf(0);
  return String.fromCharCode(...(end < 0 ? bytes : bytes.slice(0, end)))
    .replace(/[^\x20-\x7e\xa0-\xff]/g, '')
    .trimEnd();
}

const RANGE: Partial<Record<ValueType, readonly [number, number]>> = {
  bool: [0, 1],
  uint16: [0, 0xffff],
  int16: [-0x8000, 0x7fff],
  uint32: [0, 0xffffffff],
  int32: [-0x80000000, 0x7fffffff],
  uint64: [0, Number.MAX_SAFE_INTEGER],
  int64: [Number.MIN_SAFE_INTEGER, Number.MAX_SAFE_INTEGER],
  bcd16: [0, 9999],
  bcd32: [0, 99_999_999],
};

/**
 * The words to send for a value; the inverse of {@link decodeWords}. Integers are rounded to the nearest.
 * @throws RegisterValueError when the value does not fit the type
 */
export function encodeWords(value: number, layout: WordLayout): number[] {
  const range = RANGE[layout.type];
  const whole = range ? Math.round(value) : value;
  if (range && !(whole >= range[0] && whole <= range[1]))
    throw new RegisterValueError(
      'out-of-range',
      `${value} does not fit ${layout.type} (${range[0]} to ${range[1]})`,
    );
  const view = new DataView(new ArrayBuffer(8));
  switch (layout.type) {
    case 'bool':
    case 'uint16':
      view.setUint16(0, whole);
      break;
    case 'int16':
      view.setInt16(0, whole);
      break;
    case 'uint32':
      view.setUint32(0, whole);
      break;
    case 'int32':
      view.setInt32(0, whole);
      break;
    case 'float32':
      view.setFloat32(0, whole);
      break;
    case 'uint64':
      view.setBigUint64(0, BigInt(whole));
      break;
    case 'int64':
      view.setBigInt64(0, BigInt(whole));
      break;
    case 'float64':
      view.setFloat64(0, whole);
      break;
    case 'bcd16':
      view.setUint16(0, parseInt(String(whole), 16));
      break;
    case 'bcd32':
      view.setUint32(0, parseInt(String(whole), 16));
      break;
    case 'string':
      throw new RegisterValueError('out-of-range', 'a text cannot be written as a number');
  }
  const width = widthOf(layout.type);
  return Array.from({ length: width }, (_, i) => {
    const place = layout.wordOrder === 'high-first' ? i : width - 1 - i;
    return view.getUint16(place * 2, layout.byteOrder === 'low-first');
  });
}
