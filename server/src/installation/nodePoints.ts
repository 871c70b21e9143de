import type { KnownPoint } from '../devices/deviceBook.js';

/** The points whose sum is the power of a place: its total where a meter gives one, else its phases. */
export function powerPointsOf(points: readonly KnownPoint[]): KnownPoint[] {
  const power = points.filter(
    (p) => p.definition.quantity === 'active-power' && p.definition.access !== 'write',
  );
  const total = power.find((p) => p.phase === 'total');
  return total ? [total] : power;
}

/** The points with the line currents of a place. */
export const currentPointsOf = (points: readonly KnownPoint[]): KnownPoint[] =>
  points.filter(
    (p) =>
      p.definition.quantity === 'current' &&
      p.phase !== 'total' &&
      p.phase !== 'N' &&
      p.definition.access !== 'write',
  );

/** The counter of imported energy of a place, where there is one. */
export const energyPointOf = (points: readonly KnownPoint[]): KnownPoint | undefined =>
  points.find((p) => p.definition.quantity === 'energy-import' && (p.phase === 'total' || p.phase === null));
