import type { AnyDefinition } from '@loka/core/definitions';
import type { KnownPoint } from '../../src/book/deviceBook.js';

/** A point as the server knows it, with what a test does not care about filled in. */
export const knownPoint = (
  id: number,
  deviceId: number,
  definition: AnyDefinition,
  more: Partial<KnownPoint> = {},
): KnownPoint => ({
  id,
  deviceId,
  deviceName: `Device ${deviceId}`,
  linkId: 1,
  unit: deviceId,
  topic: '',
  key: definition.key,
  definition,
  availability: null,
  nodeId: null,
  phase: null,
  counter: { modulus: null, resolution: null, largestPower: null },
  ...more,
});
