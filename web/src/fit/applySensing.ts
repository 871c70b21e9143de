import { isReadable } from '@loka/core/points';
import type { Point } from '@loka/contract/points';
import type { SensingVersion } from '@loka/contract/sensing';
import { isSensed, PLAIN_SENSING, type Sensing } from '@loka/core/sensing';
import { api } from '../api/client.js';
import { serverNow } from '../api/clock.js';

/** What was asked while fitting that changes the reading. */
export type FittedSensing = Pick<Sensing, 'kind' | 'ratedCurrent' | 'turns' | 'reversed'>;

/** The values that go through the transducer. */
export const sensedOf = (points: readonly Point[]): Point[] =>
  points.filter((p) => isReadable(p.definition) && isSensed(p.definition.quantity));

/**
 * Has what was asked while fitting be known of the readings, from now on: what it is, its rating, the turns through it.
 * @returns how to take it back
 */
export async function applySensing(
  points: readonly Point[],
  { kind, ratedCurrent, turns, reversed }: FittedSensing,
): Promise<() => Promise<unknown>> {
  const sensed = sensedOf(points);
  if (sensed.length === 0 || (kind === null && turns === 1 && !reversed)) return () => Promise.resolve();
  const made = await api<SensingVersion[]>('/sensing', 'POST', {
    ...PLAIN_SENSING,
    pointIds: sensed.map((p) => p.id),
    validFrom: serverNow(),
    kind,
    ratedCurrent,
    turns,
    reversed,
  });
  return () => api(`/sensing/${made.map((v) => v.id).join(',')}`, 'DELETE');
}
