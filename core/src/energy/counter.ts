export interface CounterStep {
  increment: number;
  event: 'none' | 'rolled-over' | 'reset';
}

export interface CounterLimits {
  /** One more than the largest reading, e.g. 65536 or 100000; null for a counter that does not roll over. */
  modulus: number | null;
  /** The largest increment that can be true between the two readings (power rating · time). */
  largest: number;
}

/**
 * What was counted between two readings of a counter that only rises. A fall is a roll-over when the way
 * through the modulus is a possible increment, else a reset, after which at most the new reading was counted.
 */
export function counterStep(before: number, after: number, { modulus, largest }: CounterLimits): CounterStep {
  if (after >= before) return { increment: after - before, event: 'none' };
  const through = modulus === null ? Infinity : modulus - before + after;
  if (through <= largest) return { increment: through, event: 'rolled-over' };
  return { increment: after <= largest ? after : 0, event: 'reset' };
}
