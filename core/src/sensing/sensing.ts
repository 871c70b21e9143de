import type { Line } from '../series/index.js';

/**
 * What sits before the meter on a circuit, as it was fitted: it turns what the device gives into what flows in the
 * conductor. A stage of its own, before any correction.
 */
export interface Sensing {
  /**
   * Primary over secondary of the transformer, where the device does not know it: 100 A : 50 mA is 2000, and a meter that
   * is set for 100 : 5 behind a transformer of 200 : 5 wants 2.
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
}

/** A clamp as the device takes it: one turn, arrow towards the load. */
export const PLAIN_SENSING: Sensing = {
  ratio: 1,
  turns: 1,
  reversed: false,
  burden: null,
  nominalVoltage: null,
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
 * From I₂ = I₁ · turns / ratio and U = I₂ · burden.
 * @throws SensingError
 */
export function sensingLine({ ratio, turns, reversed, burden }: Sensing): Line {
  if (!(Number.isFinite(ratio) && ratio > 0))
    throw new SensingError('ratio', `a ratio of ${ratio} is none; 1 where the device knows it`);
  if (!(Number.isInteger(turns) && turns >= 1))
    throw new SensingError('turns', `${turns} turns cannot be; the conductor goes through at least once`);
  if (burden !== null && !(Number.isFinite(burden) && burden > 0))
    throw new SensingError(
      'burden',
      `a burden of ${burden} Ω is none; leave it out where the device gives amperes`,
    );
  const gain = ratio / turns / (burden ?? 1);
  return { gain: reversed ? -gain : gain, offset: 0 };
}

/** Quantities that grow with the current and so go through its transducer. */
export const SENSED = [
  'current',
  'active-power',
  'reactive-power',
  'apparent-power',
  'maximum-demand',
] as const;
export const isSensed = (quantity: string): boolean => (SENSED as readonly string[]).includes(quantity);
