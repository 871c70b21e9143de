import type { Line } from '../series/index.js';
import type { AccuracyClass } from './accuracy.js';

/**
 * What sits before the meter on a circuit, as it was fitted: it turns what the device gives into what flows in the
 * conductor. A stage of its own, before any correction.
 */
export interface Sensing {
  /** What it is; null where nobody has said. */
  kind: Transducer | null;
  /**
   * Primary over secondary, where the device does not know it: 100 A : 50 mA is 2000, and a meter that is set for 100 : 5
   * behind a transformer of 200 : 5 wants 2. Of a clamp with a voltage output and of a shunt the amperes for a volt
   * (100 A : 0.333 V is 300); of a Hall sensor the amperes at the end of its signal; of a voltage transformer or divider
   * the volts for a volt.
   */
  ratio: number;
  /** Turns of the conductor through the window: each one adds the current once more. */
  turns: number;
  /** The arrow points away from the load. */
  reversed: boolean;
  /** Ω across the secondary, where the device gives its voltage and not its current; null otherwise. */
  burden: number | null;
  /** V that stand in where no voltage is measured; null: the site's. */
  nominalVoltage: number | null;
  /** A that are printed on it; null when nobody knows. */
  ratedCurrent: number | null;
  accuracyClass: AccuracyClass | null;
  /** How a Hall sensor tells its current; null for all others, and where the device gives amperes. */
  signal: HallSignal | null;
}

/** What may sit before a meter. `direct`: the current itself passes through it. */
export const TRANSDUCERS = [
  'direct',
  'current-transformer',
  'voltage-clamp',
  'hall',
  'shunt',
  'voltage-transformer',
] as const;
export type Transducer = (typeof TRANSDUCERS)[number];

/** Signals of a Hall sensor, mA: a live zero, a dead zero, both directions. */
export const HALL_SIGNALS = ['4-20', '0-20', '±20'] as const;
export type HallSignal = (typeof HALL_SIGNALS)[number];

/** Of each signal what stands for no current, and from there to the end of it, A. */
const SIGNAL: Record<HallSignal, { zero: number; span: number }> = {
  '4-20': { zero: 0.004, span: 0.016 },
  '0-20': { zero: 0, span: 0.02 },
  '±20': { zero: 0, span: 0.02 },
};

/** A clamp as the device takes it: one turn, arrow towards the load. */
export const PLAIN_SENSING: Sensing = {
  kind: null,
  ratio: 1,
  turns: 1,
  reversed: false,
  burden: null,
  nominalVoltage: null,
  ratedCurrent: null,
  accuracyClass: null,
  signal: null,
};

/** Thrown for a transducer that cannot be. */
export class SensingError extends Error {
  override name = 'SensingError';
  constructor(
    readonly field: keyof Sensing,
    message: string,
  ) {
    super(message);
  }
}

/**
 * The straight line that sensing is: reading = ratio / (turns · burden) · what the device gives, negative when reversed.
 * From I₂ = I₁ · turns / ratio and U = I₂ · burden. Of a Hall sensor the signal runs from its zero over its span to the
 * ratio: 12 mA of 4–20 mA and 50 A are 25 A.
 * @throws SensingError
 */
export function sensingLine({ kind, ratio, turns, reversed, burden, signal }: Sensing): Line {
  if (!(Number.isFinite(ratio) && ratio > 0))
    throw new SensingError(
      'ratio',
      `a ratio of ${ratio} is not possible; it is 1 where the device applies it`,
    );
  if (!(Number.isInteger(turns) && turns >= 1))
    throw new SensingError(
      'turns',
      `${turns} turns are not possible; the conductor goes through at least once`,
    );
  if (burden !== null && !(Number.isFinite(burden) && burden > 0))
    throw new SensingError(
      'burden',
      `a burden of ${burden} Ω is none; leave it out where the device gives amperes`,
    );
  if (kind === 'hall' && signal === null && ratio !== 1)
    throw new SensingError(
      'signal',
      'a Hall sensor gives its current as a signal; choose which, for example 4–20 mA',
    );
  const { zero, span } = kind === 'hall' && signal ? SIGNAL[signal] : { zero: 0, span: 1 };
  const perSignal = ratio / span / turns;
  const direction = reversed ? -1 : 1;
  // What is left of a zero that is none must not be minus nought.
  return {
    gain: (direction * perSignal) / (burden ?? 1),
    offset: zero === 0 ? 0 : -direction * perSignal * zero,
  };
}

/** Quantities that grow with the current and so go through its transducer. */
export const SENSED = [
  'current',
  'active-power',
  'reactive-power',
  'apparent-power',
  'maximum-demand',
] as const;

/** Whether a quantity goes through a transducer: voltage through one of voltages, all others through one of currents. */
export const isSensed = (quantity: string, kind: Transducer | null = null): boolean =>
  kind === 'voltage-transformer' ? quantity === 'voltage' : (SENSED as readonly string[]).includes(quantity);
