import type { PointDefinition } from './definition.js';
import { UNSCALED } from '../points/scaling.js';

/**
 * A value in registers as it begins: one unscaled 16-bit holding register at 0, counted from 0, high word and byte
 * first as the protocol has them, read every second, of which nothing is said yet but what `known` says.
 */
export const newPoint = (
  known: Partial<PointDefinition> & Pick<PointDefinition, 'key'>,
): PointDefinition => ({
  name: known.key,
  kind: 'holding',
  address: '0',
  counting: 'from-0',
  type: 'uint16',
  wordOrder: 'high-first',
  byteOrder: 'high-first',
  scaling: UNSCALED,
  unit: '',
  quantity: 'other',
  phase: null,
  access: 'read',
  intervalMs: 1000,
  ...known,
});
