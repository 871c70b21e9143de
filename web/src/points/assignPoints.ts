import type { PlacedPoint, Point } from '@loka/contract/points';
import { mutate } from 'swr';
import { api } from '../api/client.js';

/** Where a point is now, for an undo: the conductor only where it is not the one that the map says. */
export const placeOfPoint = ({ id, nodeId, phase, definition }: Point): PlacedPoint => ({
  id,
  nodeId,
  phase: phase === definition.phase ? null : phase,
});

/** Gives points their places, all or none, and has the lists read again that show them. */
export async function assignPoints(points: readonly PlacedPoint[]): Promise<void> {
  if (points.length > 0) await api('/points/assignments', 'PUT', { points });
  await Promise.all([mutate('/points'), mutate('/installation')]);
}
