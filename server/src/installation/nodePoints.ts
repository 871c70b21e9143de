import { isFormula } from '@loka/core/points';
import type { KnownPoint } from '../devices/deviceBook.js';

/** The points whose sum is the power of a place: its total where a meter gives one, else its phases; a virtual meter only where nothing is measured. */
export function powerPointsOf(points: readonly KnownPoint[]): KnownPoint[] {
  const all = points.filter(
    (p) => p.definition.quantity === 'active-power' && p.definition.access !== 'write',
  );
  // What a battery gives on its DC side comes out again on the AC side, which is what the circuit carries.
  const carried = all.some((p) => p.phase !== 'DC') ? all.filter((p) => p.phase !== 'DC') : all;
  const measured = carried.filter((p) => !isFormula(p.definition));
  const power = measured.length > 0 ? measured : carried.slice(0, 1);
  const total = power.find((p) => p.phase === 'total');
  return total ? [total] : power;
}

/** The points with the currents of a place's line conductors; those of a DC side are not what its protective device carries. */
export const currentPointsOf = (points: readonly KnownPoint[]): KnownPoint[] =>
  points.filter(
    (p) =>
      p.definition.quantity === 'current' &&
      p.phase !== 'total' &&
      p.phase !== 'N' &&
      p.phase !== 'DC' &&
      p.definition.access !== 'write',
  );

/** The counter of imported energy of a place, where there is one. */
export const energyPointOf = (points: readonly KnownPoint[]): KnownPoint | undefined =>
  points.find((p) => p.definition.quantity === 'energy-import' && (p.phase === 'total' || p.phase === null));
