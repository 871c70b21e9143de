import type { Phase, Quantity } from '../quantities/index.js';

const MINUTE = 60_000;
/**
 * How long a quantity may read exactly the same, ms (common practice): the mains are never still, a load that runs is not
 * either. What may stand still for good (a counter, a contact, a temperature, a state of charge) is not judged.
 */
const STILL: Partial<Record<Quantity, number>> = {
  voltage: 10 * MINUTE,
  frequency: 10 * MINUTE,
  current: 30 * MINUTE,
  'active-power': 30 * MINUTE,
  'reactive-power': 30 * MINUTE,
  'apparent-power': 30 * MINUTE,
};
/** A reading of coarser steps than this part of its value may stay in one step for long. */
const FINE = 0.0005;

/**
 * Whether a reading that is not moving cannot be one.
 * @param phase on which conductor it is
 * @param value base unit; at zero a load is off, and nothing is judged
 * @param step smallest change of the reading, base unit; 0 where it has none
 * @param sameForMs for how long it has read exactly this, over many readings
 */
export function isStuck(
  { quantity, phase }: { quantity: Quantity; phase: Phase | null },
  value: number,
  step: number,
  sameForMs: number,
): boolean {
  const still = STILL[quantity];
  // A battery at rest is still.
  if (phase === 'DC') return false;
  return still !== undefined && value !== 0 && step <= FINE * Math.abs(value) && sameForMs >= still;
}
