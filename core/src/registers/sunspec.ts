import type { Phase, Quantity } from '../quantities/index.js';
import type { PointDefinition } from './definition.js';
import { newPoint } from './newPoint.js';
import { decodeText } from './words.js';

// The open SunSpec information models, layouts recalled from the SunSpec Alliance's model definitions (2015 edition):
// the common model 1, meters 201–204 (integers with scale factors) and 211–214 (floats).

/** "SunS": the two registers with which the chain of models begins. */
export const SUNSPEC_MARKER = [0x5375, 0x6e53] as const;
/** Where the marker may stand, on the wire. */
export const SUNSPEC_BASES = [40000, 50000, 0] as const;
/** The model number that ends the chain. */
export const SUNSPEC_END = 0xffff;

export const isSunspecMarker = (words: ArrayLike<number>): boolean =>
  words[0] === SUNSPEC_MARKER[0] && words[1] === SUNSPEC_MARKER[1];

/** A model of the chain: its number, where its data begin (after number and length), and how many registers they take. */
export interface SunspecBlock {
  model: number;
  start: number;
  length: number;
}

const KINDS: Record<number, string> = {
  1: 'common',
  2: 'two-wire',
  3: 'three-wire',
  4: 'four-wire star',
};

/** What a meter model measures, in words; null for models that are no meters. */
export function sunspecMeter(model: number): string | null {
  const words: Record<number, string> = {
    1: 'single-phase meter',
    2: 'split-phase meter',
    3: 'three-phase meter, star',
    4: 'three-phase meter, delta',
  };
  return model > 200 && model < 215 && model % 10 in KINDS ? (words[model % 10] ?? null) : null;
}

/** Maker, model, version and serial number as the common model gives them. @param words its data registers */
export function sunspecCommon(words: readonly number[]): {
  maker: string;
  model: string;
  version: string;
  serial: string;
} {
  const text = (start: number, count: number) =>
    decodeText(words.slice(start, start + count), { wordOrder: 'high-first', byteOrder: 'high-first' });
  return { maker: text(0, 16), model: text(16, 16), version: text(40, 8), serial: text(48, 16) };
}

interface Value {
  key: string;
  name: string;
  quantity: Quantity;
  phase: Phase | null;
  /** Register within the block: of the integer model, its scale factor, and of the float model. */
  at: number;
  factorAt: number;
  floatAt: number;
  type: 'int16' | 'uint16' | 'uint32';
  unit: string;
}

const PHASES: [Phase, string, string][] = [
  ['total', '', ''],
  ['L1', ' L1', '-l1'],
  ['L2', ' L2', '-l2'],
  ['L3', ' L3', '-l3'],
];

/** Four values in a row: total (or mean) and the three lines. */
function four(
  stem: string,
  name: string,
  quantity: Quantity,
  unit: string,
  [at, factorAt, floatAt]: [number, number, number],
  type: Value['type'] = 'int16',
): Value[] {
  const width = type === 'uint32' ? 2 : 1;
  return PHASES.map(([phase, suffix, ending], i) => ({
    key: `${stem}${ending}`,
    name: `${name}${suffix}`,
    quantity,
    phase,
    at: at + i * width,
    factorAt,
    floatAt: floatAt + 2 * i,
    type,
    unit,
  }));
}

const VALUES: Value[] = [
  ...four('current', 'Current', 'current', 'A', [0, 4, 0]),
  ...four('voltage', 'Voltage', 'voltage', 'V', [5, 13, 8]),
  {
    key: 'frequency',
    name: 'Frequency',
    quantity: 'frequency',
    phase: null,
    at: 14,
    factorAt: 15,
    floatAt: 24,
    type: 'int16',
    unit: 'Hz',
  },
  ...four('power', 'Active power', 'active-power', 'W', [16, 20, 26]),
  ...four('apparent-power', 'Apparent power', 'apparent-power', 'VA', [21, 25, 34]),
  ...four('reactive-power', 'Reactive power', 'reactive-power', 'var', [26, 30, 42]),
  ...four('power-factor', 'Power factor', 'power-factor', '%', [31, 35, 50]),
  ...four('energy-export', 'Energy exported', 'energy-export', 'Wh', [36, 52, 58], 'uint32'),
  ...four('energy-import', 'Energy imported', 'energy-import', 'Wh', [44, 52, 66], 'uint32'),
];

/** Registers that the data of a meter model take, integers with scale factors and floats. */
const LENGTH = { integer: 105, float: 124 };

/** What each model has: a two-wire meter has no L2 and L3. */
const hasPhase = (model: number, phase: Phase | null): boolean =>
  phase === null ||
  phase === 'total' ||
  phase === 'L1' ||
  (phase === 'L2' && model % 10 >= 2) ||
  (phase === 'L3' && model % 10 >= 3);

/**
 * The points of a meter model at the place where it was found. A value that the device does not implement
 * (0x8000, NaN, a counter that is 0) is left out.
 * @param words the data registers of the block, as read once
 */
export function sunspecPoints({ model, start }: SunspecBlock, words: readonly number[]): PointDefinition[] {
  const float = model >= 211;
  if (words.length < (float ? LENGTH.float : LENGTH.integer)) return [];
  return VALUES.filter((value) => hasPhase(model, value.phase) && isThere(value, float, words)).map((value) =>
    newPoint({
      key: value.key,
      name: value.name,
      address: String(start + (float ? value.floatAt : value.at)),
      type: float ? 'float32' : value.type,
      unit: value.quantity === 'power-factor' && float ? '' : value.unit,
      quantity: value.quantity,
      phase: value.phase,
      intervalMs: value.quantity.startsWith('energy') ? 5000 : 1000,
      ...(float ? {} : { companion: { role: 'exponent' as const, address: String(start + value.factorAt) } }),
    }),
  );
}

function isThere({ at, factorAt, floatAt, type }: Value, float: boolean, words: readonly number[]): boolean {
  if (float) return !(((words[floatAt] as number) & 0x7f80) === 0x7f80);
  if (words[factorAt] === 0x8000) return false;
  if (type === 'uint32') return words[at] !== 0 || words[at + 1] !== 0;
  return words[at] !== 0x8000 && words[at] !== 0xffff + 1;
}
