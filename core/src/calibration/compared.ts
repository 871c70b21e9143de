import type { Capture } from './capture.js';
import type { CalibrationPoint } from './fit.js';
import type { Reference } from './reference.js';

/** What was read beside what it was compared with, as a point of a fit. */
export const comparedPoint = (
  { mean, deviation, count, step = 0 }: Capture,
  { value, own, key, shared }: Reference,
): CalibrationPoint => ({ raw: mean, deviation, count, step, reference: value, own, key, shared });
