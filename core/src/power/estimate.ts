import { sumFactor, type SupplySystem } from '../installation/system.js';

/** The power of a way of which only currents are measured. */
export interface EstimatedPower {
  /** W. */
  watts: number;
  /** It lies between these, W. */
  low: number;
  high: number;
  /** What was not measured, in words. */
  assumed: string[];
}

/** A supply's voltage lies within ±10 % of its nominal value (EN 50160). */
export const SUPPLY_TOLERANCE = 0.1;
/** Power factors that loads of unknown kind have (trade). */
const FACTORS = { low: 0.6, usual: 0.9, high: 1 };
/** A power factor by the plate is that of full load (trade). */
const PLATE = 0.05;

/**
 * Active power from currents: V · I · PF line by line, with what follows from what is not measured.
 * @param lines amperes of each line, and its voltage against neutral; null where none is measured near it
 * @param powerFactor by the plate; null where nobody knows
 */
export function estimatePower(
  lines: readonly { amperes: number; volts: number | null }[],
  { nominal, powerFactor, system }: { nominal: number; powerFactor: number | null; system: SupplySystem },
): EstimatedPower {
  // What flows between two lines is counted in both.
  const factor = 1 / sumFactor(lines.length, system);
  const sum = (share: (measured: boolean) => number) =>
    lines.reduce(
      (total, { amperes, volts }) => total + amperes * (volts ?? nominal) * share(volts !== null),
      0,
    ) * factor;
  const assumed = [
    ...(lines.some((l) => l.volts === null) ? [`${nominal} V`] : []),
    powerFactor === null ? 'its power factor' : 'the power factor of its plate',
  ];
  const [low, usual, high] =
    powerFactor === null
      ? [FACTORS.low, FACTORS.usual, FACTORS.high]
      : [Math.max(0, powerFactor - PLATE), powerFactor, Math.min(1, powerFactor + PLATE)];
  return {
    watts: sum(() => 1) * usual,
    low: sum((measured) => (measured ? 1 : 1 - SUPPLY_TOLERANCE)) * low,
    high: sum((measured) => (measured ? 1 : 1 + SUPPLY_TOLERANCE)) * high,
    assumed,
  };
}
