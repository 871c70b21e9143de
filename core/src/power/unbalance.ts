import { voltageAngles, type Line, type SupplySystem } from '../installation/system.js';

/** A line conductor with what flows in it. */
export interface LineCurrent {
  line: Line;
  /** A, not negative. */
  amperes: number;
  /** How much it lags its voltage, degrees; 0 where nobody knows. */
  lag: number;
}

/**
 * Current in the neutral, A: the sum of the line currents as phasors, each behind its voltage by its own lag (Kirchhoff). Of
 * the fundamental alone: third harmonics add up in it, and are not seen here.
 */
export function neutralCurrent(lines: readonly LineCurrent[], system: SupplySystem): number {
  const angles = voltageAngles(system);
  let [re, im] = [0, 0];
  for (const { line, amperes, lag } of lines) {
    const angle = ((angles[line] - lag) * Math.PI) / 180;
    re += amperes * Math.cos(angle);
    im += amperes * Math.sin(angle);
  }
  return Math.hypot(re, im);
}

/**
 * Unbalance of lines, 0–1: the greatest distance of one of them from their mean, over that mean (as NEMA MG 1 defines it for
 * voltages); null with fewer than two, or nothing flowing.
 */
export function unbalance(values: readonly number[]): number | null {
  if (values.length < 2) return null;
  const mean = values.reduce((a, b) => a + b, 0) / values.length;
  return mean > 0 ? Math.max(...values.map((v) => Math.abs(v - mean))) / mean : null;
}

/** The lag of a current by its power factor, degrees; without one 0. @param powerFactor its sign says nothing here */
export const lagOf = (powerFactor: number | null): number =>
  powerFactor === null ? 0 : (Math.acos(Math.min(1, Math.abs(powerFactor))) * 180) / Math.PI;
