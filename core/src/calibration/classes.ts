import type { Quantity } from '../quantities/index.js';

/** Accuracy classes: of meters for active energy (IEC 62053-21 and -22), and of current transformers (IEC 61869-2). */
export const ACCURACY_CLASSES = ['0.2S', '0.5S', '1', '2', 'ct-0.5', 'ct-1'] as const;
export type AccuracyClass = (typeof ACCURACY_CLASSES)[number];

export const CLASS_LABELS: Readonly<Record<AccuracyClass, string>> = {
  '0.2S': 'class 0.2 S, IEC 62053-22',
  '0.5S': 'class 0.5 S, IEC 62053-22',
  '1': 'class 1, IEC 62053-21',
  '2': 'class 2, IEC 62053-21',
  'ct-0.5': 'transformer class 0.5, IEC 61869-2',
  'ct-1': 'transformer class 1, IEC 61869-2',
};

/** From which share of the rated current on a limit holds, and how much it is, percent. */
export type Limit = readonly [from: number, percent: number];

/** The tables' lines at unity power factor, and at 0.5 inductive (recalled). The last share is where the class ends. */
const TABLES: Readonly<
  Record<AccuracyClass, { unity: readonly Limit[]; inductive: readonly Limit[]; to: number }>
> = {
  '0.2S': {
    unity: [
      [0.01, 0.4],
      [0.05, 0.2],
    ],
    inductive: [
      [0.02, 0.5],
      [0.1, 0.3],
    ],
    to: Infinity,
  },
  '0.5S': {
    unity: [
      [0.01, 1],
      [0.05, 0.5],
    ],
    inductive: [
      [0.02, 1],
      [0.1, 0.6],
    ],
    to: Infinity,
  },
  '1': {
    unity: [
      [0.05, 1.5],
      [0.1, 1],
    ],
    inductive: [
      [0.1, 1.5],
      [0.2, 1],
    ],
    to: Infinity,
  },
  '2': {
    unity: [
      [0.05, 2.5],
      [0.1, 2],
    ],
    inductive: [
      [0.1, 2.5],
      [0.2, 2],
    ],
    to: Infinity,
  },
  // Limits are given at 5, 20, 100 and 120 % of the rated current; between two of them that of the lower one holds (common practice).
  'ct-0.5': {
    unity: [
      [0.05, 1.5],
      [0.2, 0.75],
      [1, 0.5],
    ],
    inductive: [],
    to: 1.2,
  },
  'ct-1': {
    unity: [
      [0.05, 3],
      [0.2, 1.5],
      [1, 1],
    ],
    inductive: [],
    to: 1.2,
  },
};

/** Phase displacement of a transformer, minutes, from the same shares on (IEC 61869-2, recalled). */
const DISPLACEMENT: Readonly<Partial<Record<AccuracyClass, readonly Limit[]>>> = {
  'ct-0.5': [
    [0.05, 90],
    [0.2, 45],
    [1, 30],
  ],
  'ct-1': [
    [0.05, 180],
    [0.2, 90],
    [1, 60],
  ],
};

/** The classes that say something of a quantity: those of transformers are of currents alone. */
export const classesOf = (quantity: Quantity): readonly AccuracyClass[] =>
  quantity === 'current' ? ACCURACY_CLASSES : ACCURACY_CLASSES.filter((c) => !c.startsWith('ct-'));

/**
 * The load of which a class counts shares: the rated current, or the active power that it is at the nominal voltage and power
 * factor 1. Null where no rating is known, and of quantities that have no class.
 * @param amperes rated current of the place; @param volts nominal voltage against neutral; @param lines how many the point sums up
 */
export function ratedLoad(
  quantity: Quantity,
  amperes: number | null,
  volts: number,
  lines: number,
): number | null {
  if (amperes === null) return null;
  if (quantity === 'current') return amperes;
  return quantity === 'active-power' ? amperes * volts * lines : null;
}

/** The lines of a class, from which share of the rated current on each holds. */
export const limitsOf = (accuracy: AccuracyClass, inductive = false): readonly Limit[] =>
  TABLES[accuracy][inductive ? 'inductive' : 'unity'];

/**
 * Percent that a class allows at a load; null where it says nothing: below its lowest current, above its highest.
 * @param load share of the reference current: the basic current I_b of IEC 62053-21, the rated one of the others
 * @param inductive at power factor 0.5 inductive instead of 1
 */
export function classLimit(accuracy: AccuracyClass, load: number, inductive = false): number | null {
  if (load > TABLES[accuracy].to) return null;
  return limitsOf(accuracy, inductive).findLast(([from]) => from <= load)?.[1] ?? null;
}

/** Minutes by which a transformer of a class may displace the phase at a load; null where nothing is said. */
export function displacementLimit(accuracy: AccuracyClass, load: number): number | null {
  if (load > TABLES[accuracy].to) return null;
  return DISPLACEMENT[accuracy]?.findLast(([from]) => from <= load)?.[1] ?? null;
}

/**
 * Error of a power, percent, that comes of a phase displaced by so many minutes: cos(φ − δ) / cos φ − 1, near δ · tan φ.
 * @param minutes positive where the current is read as leading by that, as transformers do
 */
export function phaseError(minutes: number, powerFactor: number): number {
  const angle = Math.acos(powerFactor);
  return 100 * (Math.cos(angle - (minutes / 60) * (Math.PI / 180)) / powerFactor - 1);
}
