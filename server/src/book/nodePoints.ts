import type { Quantity } from '@loka/core/quantities';
import { isReadable } from '@loka/core/points';
import { isFormula } from '@loka/core/definitions';
import type { KnownPoint } from './deviceBook.js';

/** The points whose sum is the power of a place: its total where a meter gives one, else its phases; a virtual meter only where nothing is measured. */
export function powerPointsOf(points: readonly KnownPoint[]): KnownPoint[] {
  const all = points.filter((p) => p.definition.quantity === 'active-power' && isReadable(p.definition));
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
      isReadable(p.definition),
  );

/**
 * The counters whose sum is what a place has taken, or given: its total where a meter counts one, else one for each line
 * conductor; those of a DC side only where there is nothing else.
 */
export function counterPointsOf(
  points: readonly KnownPoint[],
  quantity: 'energy-import' | 'energy-export',
): KnownPoint[] {
  const all = points.filter((p) => p.definition.quantity === quantity && isReadable(p.definition));
  const total = all.find((p) => p.phase === 'total' || p.phase === null);
  if (total) return [total];
  const lines = (['L1', 'L2', 'L3'] as const).flatMap((line) => all.find((p) => p.phase === line) ?? []);
  return lines.length > 0 ? lines : all.slice(0, 1);
}

/** What else the same device reads at the same place on the same conductor; undefined where it reads no such quantity. */
export const besideOnConductor = (
  points: readonly KnownPoint[],
  point: KnownPoint,
  quantity: Quantity,
): KnownPoint | undefined =>
  point.deviceId === null
    ? undefined
    : points.find(
        (p) =>
          p.deviceId === point.deviceId &&
          p.nodeId === point.nodeId &&
          p.phase === point.phase &&
          p.definition.quantity === quantity,
      );
