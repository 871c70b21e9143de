import type { Quantity } from '../../quantities/index.js';
import {
  isBitKind,
  widthOf,
  type ByteOrder,
  type RegisterKind,
  type ValueType,
  type WordOrder,
} from '../types.js';

/** Raw numbers from 0 to `raw` that stand for values from `low` to `high` (base unit). */
export interface RawSpan {
  raw: number;
  low: number;
  high: number;
}

/** A way in which a value may lie in registers. */
export interface Reading {
  kind: RegisterKind;
  /** On the wire. */
  address: number;
  type: ValueType;
  wordOrder: WordOrder;
  byteOrder: ByteOrder;
  /** From the number in the registers to the base unit; of a span its slope. */
  factor: number;
  /** Where raw counts stand for a span of values. */
  span?: RawSpan;
}

/** The value (base unit) of a number in the registers. */
export const scaled = ({ factor, span }: Pick<Reading, 'factor' | 'span'>, raw: number): number =>
  factor * raw + (span?.low ?? 0);

/**
 * How usual each way is before anything has been read (trade): how often of all devices of which somebody asks. The weights of a
 * list add up to 1, so that trying many unusual ways does not make any of them likelier.
 */
type Weighted<T> = readonly (readonly [T, number])[];

const TYPES: Weighted<ValueType> = [
  ['float32', 0.345],
  ['uint16', 0.21],
  ['int16', 0.12],
  ['uint32', 0.12],
  ['int32', 0.09],
  ['float64', 0.03],
  ['uint64', 0.015],
  ['int64', 0.01],
  ['bcd16', 0.03],
  ['bcd32', 0.03],
];
/** A counter of 16 bits would be full within hours. */
const COUNTER_TYPES: Weighted<ValueType> = [
  ['uint32', 0.42],
  ['float32', 0.16],
  ['int32', 0.14],
  ['bcd32', 0.08],
  ['uint64', 0.06],
  ['uint16', 0.05],
  ['float64', 0.04],
  ['int64', 0.03],
  ['int16', 0.01],
  ['bcd16', 0.01],
];
const WIDE_ORDERS: Weighted<[WordOrder, ByteOrder]> = [
  [['high-first', 'high-first'], 0.66],
  [['low-first', 'high-first'], 0.23],
  [['high-first', 'low-first'], 0.06],
  [['low-first', 'low-first'], 0.05],
];
const ONE_WORD_ORDERS: Weighted<[WordOrder, ByteOrder]> = [
  [['high-first', 'high-first'], 0.94],
  [['high-first', 'low-first'], 0.06],
];
/** By how much the address on the wire differs from the one that was typed: tables that count from 1 are common. */
const SHIFTS: Weighted<number> = [
  [0, 0.75],
  [-1, 0.22],
  [1, 0.03],
];
const SAME_KIND = 0.8;

/** Factors in use for whole numbers: decimals, and makers that count in kW or kWh. */
const WHOLE: Partial<Record<Quantity, Weighted<number>>> = {
  voltage: [
    [0.1, 0.5],
    [0.01, 0.25],
    [1, 0.15],
    [0.001, 0.04],
  ],
  current: [
    [0.01, 0.3],
    [0.001, 0.35],
    [0.1, 0.25],
    [1, 0.1],
  ],
  frequency: [
    [0.01, 0.55],
    [0.1, 0.25],
    [0.001, 0.1],
    [1, 0.02],
  ],
  'power-factor': [
    [0.001, 0.5],
    [0.01, 0.38],
    [0.0001, 0.1],
    [0.1, 0.02],
  ],
  'energy-import': [[1, 1]],
};
const WHOLE_OTHER: Weighted<number> = [
  [1, 0.45],
  [0.1, 0.3],
  [0.01, 0.08],
  [0.001, 0.03],
  [10, 0.06],
  [1000, 0.08],
];
/** Floats come unscaled, or in kW and kWh. */
const FLOATING: Partial<Record<Quantity, Weighted<number>>> = {
  voltage: [[1, 1]],
  current: [
    [1, 0.95],
    [0.001, 0.05],
  ],
  frequency: [[1, 1]],
  'power-factor': [
    [1, 0.95],
    [0.01, 0.05],
  ],
  'energy-import': [[1, 1]],
};
const FLOATING_OTHER: Weighted<number> = [
  [1, 0.8],
  [1000, 0.2],
];
/** Spans of transducers: so many counts for so many volts or hertz. Together as usual as the weight says. */
const FULL_COUNTS = [9999, 10_000, 4095, 32_767];
const RANGES: Partial<Record<Quantity, [low: number, high: number][]>> = {
  frequency: [
    [45, 65],
    [45, 55],
  ],
  voltage: [
    [0, 144],
    [0, 150],
    [0, 288],
    [0, 300],
    [0, 500],
  ],
};
const SPANS = 0.06;

/** A way, and the logarithm (to 10) of how usual it is. */
export interface Candidate extends Reading {
  usual: number;
}

/** Every way worth trying for a value at, or one beside, an address. */
export function* readingsAt(
  kind: RegisterKind,
  asked: { kind: RegisterKind; address: number },
  quantity: Quantity,
): Generator<Candidate> {
  if (isBitKind(kind)) return;
  const ofKind = kind === asked.kind ? SAME_KIND : 1 - SAME_KIND;
  for (const [shift, ofShift] of SHIFTS) {
    const address = asked.address + shift;
    if (address < 0) continue;
    for (const [type, ofType] of quantity === 'energy-import' ? COUNTER_TYPES : TYPES)
      for (const [[wordOrder, byteOrder], ofOrder] of widthOf(type) === 1 ? ONE_WORD_ORDERS : WIDE_ORDERS) {
        const place = { kind, address, type, wordOrder, byteOrder };
        const weight = ofKind * ofShift * ofType * ofOrder;
        for (const [factor, ofFactor] of factorsOf(type, quantity))
          yield { ...place, factor, usual: Math.log10(weight * ofFactor) };
        if (type === 'uint16' || type === 'int16')
          for (const [span, ofSpan] of spansOf(quantity))
            yield {
              ...place,
              factor: (span.high - span.low) / span.raw,
              span,
              usual: Math.log10(weight * ofSpan),
            };
      }
  }
}

const factorsOf = (type: ValueType, quantity: Quantity): Weighted<number> =>
  type.startsWith('float') ? (FLOATING[quantity] ?? FLOATING_OTHER) : (WHOLE[quantity] ?? WHOLE_OTHER);

function spansOf(quantity: Quantity): Weighted<RawSpan> {
  const ranges = RANGES[quantity] ?? [];
  const each = SPANS / (ranges.length * FULL_COUNTS.length);
  return ranges.flatMap(([low, high]) => FULL_COUNTS.map((raw) => [{ raw, low, high }, each] as const));
}
