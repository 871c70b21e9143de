import type { Quantity } from '../../quantities/index.js';
import {
  isBitKind,
  widthOf,
  type ByteOrder,
  type RegisterKind,
  type ValueType,
  type WordOrder,
} from '../types.js';

/** A way in which a value may lie in registers. */
export interface Reading {
  kind: RegisterKind;
  /** On the wire. */
  address: number;
  type: ValueType;
  wordOrder: WordOrder;
  byteOrder: ByteOrder;
  /** From the number in the registers to the base unit. */
  factor: number;
}

const TYPES: ValueType[] = ['float32', 'uint16', 'int16', 'uint32', 'int32', 'float64', 'uint64', 'int64'];
const ORDERS: [WordOrder, ByteOrder][] = [
  ['high-first', 'high-first'],
  ['low-first', 'high-first'],
  ['high-first', 'low-first'],
  ['low-first', 'low-first'],
];

/** Factors in use for whole numbers: decimals, and makers that count in kW or kWh (trade). */
const WHOLE: Partial<Record<Quantity, number[]>> = {
  voltage: [1, 0.1, 0.01, 0.001],
  current: [1, 0.1, 0.01, 0.001],
  frequency: [1, 0.1, 0.01, 0.001],
  'power-factor': [0.1, 0.01, 0.001, 0.0001],
  'energy-import': [1, 0.1, 10, 100, 1000],
};
const WHOLE_OTHER = [1, 0.1, 0.01, 0.001, 10, 1000];
/** Floats come unscaled, or in kW and kWh. */
const FLOATING: Partial<Record<Quantity, number[]>> = {
  voltage: [1],
  current: [1, 0.001],
  frequency: [1],
  'power-factor': [1, 0.01],
};
const FLOATING_OTHER = [1, 1000];

/** Every way worth trying for a value at, or one beside, an address. */
export function* readingsAt(kind: RegisterKind, address: number, quantity: Quantity): Generator<Reading> {
  if (isBitKind(kind)) return;
  for (const shift of [0, -1, 1]) {
    if (address + shift < 0) continue;
    for (const type of TYPES)
      for (const [wordOrder, byteOrder] of ORDERS) {
        if (widthOf(type) === 1 && wordOrder === 'low-first') continue;
        const floating = type.startsWith('float');
        const factors = floating ? (FLOATING[quantity] ?? FLOATING_OTHER) : (WHOLE[quantity] ?? WHOLE_OTHER);
        for (const factor of factors)
          yield { kind, address: address + shift, type, wordOrder, byteOrder, factor };
      }
  }
}

const TYPE_COST: Record<ValueType, number> = {
  bool: 9,
  float32: 0,
  uint16: 0.2,
  int16: 0.5,
  uint32: 0.6,
  int32: 0.8,
  float64: 1.2,
  uint64: 1.4,
  int64: 1.4,
  bcd16: 3,
  bcd32: 3,
  string: 9,
};

/**
 * How unusual a way is, before anything has been read (trade): the address as typed, the protocol's own order and
 * the common types come first. What is wider than it needs to be comes later.
 */
export function unusualness(reading: Reading, asked: { kind: RegisterKind; address: number }): number {
  const shift = reading.address === asked.address ? 0 : 1.6;
  const kind = reading.kind === asked.kind ? 0 : 1;
  const order =
    (widthOf(reading.type) > 1 && reading.wordOrder === 'low-first' ? 0.7 : 0) +
    (reading.byteOrder === 'low-first' ? 2 : 0);
  const decimals = reading.factor === 1 ? 0.1 : Math.abs(Math.log10(reading.factor)) * 0.1;
  return shift + kind + order + TYPE_COST[reading.type] + decimals;
}
