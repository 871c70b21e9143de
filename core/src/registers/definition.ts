import { unitFactor } from '../quantities/index.js';
import type { PointBasics } from '../points/basics.js';
import { wireAddress, type Counting } from './address.js';
import { scalingLine, unscale } from '../points/scaling.js';
import {
  isBitKind,
  widthOf,
  type ByteOrder,
  type RegisterKind,
  type ValueType,
  type WordOrder,
} from './types.js';
import { decodeAt, decodeText, encodeWords } from './words.js';

export { ACCESSES, isReadable, isSetting, isWritable, type Access } from '../points/basics.js';

/**
 * A second register that a value needs, counted as the value's own address is and of the same kind: the digits
 * behind the decimal point (integer and decimals registers), or a signed power of ten.
 */
export type Companion =
  { role: 'decimals'; address: string; digits: number } | { role: 'exponent'; address: string };
export const COMPANION_ROLES = ['decimals', 'exponent'] as const;

/** One value of a device as its register map describes it. */
export interface PointDefinition extends PointBasics {
  kind: RegisterKind;
  /** The address as the maker's table prints it; `counting` says how that table counts. */
  address: string;
  counting: Counting;
  type: ValueType;
  wordOrder: WordOrder;
  byteOrder: ByteOrder;
  /** The bit of the word that a bool takes, 0 the lowest; missing: any bit that is set counts. */
  bit?: number;
  /** A bool that reads 0 when the state is on. */
  inverted?: boolean;
  /** Registers that a string takes. */
  length?: number;
  companion?: Companion;
  /** What the registers hold, as one number without a sign, where the device has no value: 0x8000, say. */
  noValue?: number;
  /** Some devices take a single coil or register only by the requests for several (functions 15 and 16). */
  writeMultiple?: boolean;
}

/** A span of registers or bits on the wire. */
export interface Span {
  kind: RegisterKind;
  start: number;
  count: number;
}

type Placed = Pick<PointDefinition, 'kind' | 'address' | 'counting' | 'type' | 'length'>;

/** Where a definition's own value lies on the wire; null while its address is not a valid one. */
export function spanOf(definition: Placed): Span | null {
  const result = wireAddress(definition.kind, definition.address, definition.counting);
  if (!result.ok) return null;
  const width = definition.type === 'string' ? (definition.length ?? 1) : widthOf(definition.type);
  return { kind: definition.kind, start: result.wire, count: isBitKind(definition.kind) ? 1 : width };
}

/** Where the register that a value needs besides its own lies; null without one, or while its address is not valid. */
export function companionAddress({
  kind,
  counting,
  companion,
}: Pick<PointDefinition, 'kind' | 'counting' | 'companion'>): number | null {
  const result = companion ? wireAddress(kind, companion.address, counting) : null;
  return result?.ok ? result.wire : null;
}

/** What has to be read for a definition: its own span, stretched to its companion, so that both come at one instant. */
export function readSpanOf(definition: Placed & Pick<PointDefinition, 'companion'>): Span | null {
  const own = spanOf(definition);
  const other = companionAddress(definition);
  if (!own || other === null) return definition.companion ? null : own;
  const start = Math.min(own.start, other);
  return { kind: own.kind, start, count: Math.max(own.start + own.count, other + 1) - start };
}

/** A value's own words of those of its {@link readSpanOf}: a second register, with its decimals say, is read with them. */
export function ownWords(
  definition: Placed & Pick<PointDefinition, 'companion'>,
  words: readonly number[],
): readonly number[] {
  const [own, read] = [spanOf(definition), readSpanOf(definition)];
  return own && read ? words.slice(own.start - read.start, own.start - read.start + own.count) : words;
}

/** How a definition is read out of words: what can be worked out once is, because it is done many times a second. */
export interface Reader {
  /** What has to be read; see {@link readSpanOf}. */
  span: Span;
  /**
   * The value in base units out of words of which the span's first one stands at `at`; NaN for a text and for digits
   * that are none.
   * @throws RegisterValueError
   */
  read(words: ArrayLike<number>, at: number): number;
}

/** The reader of a definition; null while its addresses are not valid ones. @throws ScalingError */
export function readerOf(definition: PointDefinition): Reader | null {
  const span = readSpanOf(definition);
  const own = spanOf(definition);
  if (!span || !own) return null;
  const { slope, intercept } = scalingLine(definition.scaling);
  const factor = unitFactor(definition.quantity, definition.unit) ?? 1;
  const raw = rawReader(definition, own.start - span.start, span.start);
  return { span, read: (words, at) => (slope * raw(words, at) + intercept) * factor };
}

/** Numbers without a sign of so many words. */
const UNSIGNED: Record<number, ValueType> = { 1: 'uint16', 2: 'uint32', 4: 'uint64' };

type RawReader = (words: ArrayLike<number>, at: number) => number;

/** @param offset of the value's own words in what is read, which begins at `start` */
function rawReader(definition: PointDefinition, offset: number, start: number): RawReader {
  const read = presentReader(definition, offset, start);
  const { noValue } = definition;
  const type = UNSIGNED[widthOf(definition.type)];
  if (noValue === undefined || !type) return read;
  const whole = { ...definition, type };
  return (words, at) => (decodeAt(words, at + offset, whole) === noValue ? NaN : read(words, at));
}

/** As {@link rawReader}, of a device that has a value. */
function presentReader(definition: PointDefinition, offset: number, start: number): RawReader {
  const { kind, type, bit, inverted, companion } = definition;
  const flip = (on: boolean): number => (on !== (inverted ?? false) ? 1 : 0);
  if (isBitKind(kind)) return (words, at) => flip(words[at] !== 0);
  if (type === 'bool') {
    const word = { ...definition, type: 'uint16' as const };
    const mask = bit === undefined ? 0xffff : 1 << bit;
    return (words, at) => flip((decodeAt(words, at, word) & mask) !== 0);
  }
  if (!companion) return (words, at) => decodeAt(words, at, definition);
  const other = (companionAddress(definition) as number) - start;
  const wordAt = (words: ArrayLike<number>, at: number): number => words[at + other] ?? NaN;
  if (companion.role === 'decimals') {
    const parts = 10 ** companion.digits;
    return (words, at) => {
      const whole = decodeAt(words, at + offset, definition);
      return whole + (whole < 0 ? -1 : 1) * (wordAt(words, at) / parts);
    };
  }
  return (words, at) => {
    const word = wordAt(words, at);
    return decodeAt(words, at + offset, definition) * 10 ** (word > 0x7fff ? word - 0x10000 : word);
  };
}

/**
 * The value in base units that lies in the words (or bits, 0 and 1) of a point's {@link readSpanOf}; NaN for a text,
 * for digits that are none, and while the addresses are not valid.
 * @throws RegisterValueError, ScalingError
 */
export const valueOf = (definition: PointDefinition, words: ArrayLike<number>): number =>
  readerOf(definition)?.read(words, 0) ?? NaN;

/** The text that lies in the words of a point of type string. */
export const textOf = (definition: PointDefinition, words: ArrayLike<number>): string =>
  decodeText(words, definition);

/** The words to send so that {@link valueOf} gives back `value` (base units). @throws RegisterValueError, ScalingError */
export function wordsFor(definition: PointDefinition, value: number): number[] {
  const scaled = unscale(definition.scaling, value / (unitFactor(definition.quantity, definition.unit) ?? 1));
  const raw = definition.inverted ? (scaled ? 0 : 1) : scaled;
  return isBitKind(definition.kind) ? [raw ? 1 : 0] : encodeWords(raw, definition);
}
