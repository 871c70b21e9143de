import type { Phase, Quantity } from '../quantities/index.js';
import { unitFactor } from '../quantities/index.js';
import { wireAddress, type Counting } from './address.js';
import { scale, unscale, type Scaling } from './scaling.js';
import {
  isBitKind,
  widthOf,
  type ByteOrder,
  type RegisterKind,
  type ValueType,
  type WordOrder,
} from './types.js';
import { decodeWords, encodeWords } from './words.js';

export const ACCESSES = ['read', 'write', 'read-write'] as const;
export type Access = (typeof ACCESSES)[number];

/** One value of a device as its register map describes it. */
export interface PointDefinition {
  /** Stable name within its map; the identity of the point when its other fields are edited. */
  key: string;
  name: string;
  kind: RegisterKind;
  /** The address as the maker's table prints it; `counting` says how that table counts. */
  address: string;
  counting: Counting;
  type: ValueType;
  wordOrder: WordOrder;
  byteOrder: ByteOrder;
  scaling: Scaling;
  /** Unit that the scaling yields, e.g. kW; stored values are in the quantity's base unit. */
  unit: string;
  quantity: Quantity;
  phase: Phase | null;
  access: Access;
  /** Milliseconds between polls. */
  intervalMs: number;
}

export const isReadable = (definition: Pick<PointDefinition, 'access'>): boolean =>
  definition.access !== 'write';
export const isWritable = (definition: Pick<PointDefinition, 'access'>): boolean =>
  definition.access !== 'read';

/** A span of registers or bits on the wire. */
export interface Span {
  kind: RegisterKind;
  start: number;
  count: number;
}

/** Where a definition lies on the wire; null while its address is not a valid one. */
export function spanOf(
  definition: Pick<PointDefinition, 'kind' | 'address' | 'counting' | 'type'>,
): Span | null {
  const result = wireAddress(definition.kind, definition.address, definition.counting);
  if (!result.ok) return null;
  return {
    kind: definition.kind,
    start: result.wire,
    count: isBitKind(definition.kind) ? 1 : widthOf(definition.type),
  };
}

/**
 * The value in base units that lies in the given words (or bits, 0 and 1) of a point.
 * @throws RegisterValueError, ScalingError
 */
export function valueOf(definition: PointDefinition, words: ArrayLike<number>): number {
  const raw = isBitKind(definition.kind) ? (words[0] ? 1 : 0) : decodeWords(words, definition);
  return scale(definition.scaling, raw) * (unitFactor(definition.quantity, definition.unit) ?? 1);
}

/** The words to send so that {@link valueOf} gives back `value` (base units). @throws RegisterValueError, ScalingError */
export function wordsFor(definition: PointDefinition, value: number): number[] {
  const raw = unscale(definition.scaling, value / (unitFactor(definition.quantity, definition.unit) ?? 1));
  return isBitKind(definition.kind) ? [raw ? 1 : 0] : encodeWords(raw, definition);
}
