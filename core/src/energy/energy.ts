/** Milliseconds in an hour. */
const HOUR = 3_600_000;

/** Energy in Wh of a mean power in W over the covered milliseconds. */
export const energyOfMean = (meanWatts: number, coveredMs: number): number => (meanWatts * coveredMs) / HOUR;

export interface EnergyTotal {
  /** Wh over the covered part. */
  energy: number;
  /** Share of the span for which the power is known, 0–1. */
  coverage: number;
}

/** Energy over a span from its rollups; what is not covered is left out, and said by the coverage. */
export function energyOfRollups(
  rollups: readonly { mean: number; covered: number }[],
  spanMs: number,
): EnergyTotal {
  const energy = rollups.reduce((sum, r) => sum + energyOfMean(r.mean, r.covered), 0);
  const covered = rollups.reduce((sum, r) => sum + r.covered, 0);
  return { energy, coverage: spanMs > 0 ? Math.min(1, covered / spanMs) : 0 };
}
