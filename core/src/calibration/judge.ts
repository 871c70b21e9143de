import type { Line } from '../series/index.js';
import { applyCorrection, type Correction } from './correction.js';
import { percentError } from './error.js';
import type { CalibrationPoint, Fit } from './fit.js';
import { DIGIT } from './reference.js';
import { coverageFactor, effectiveDegrees } from './student.js';
import type { JudgedLoad } from './verdict.js';

/** A point with whether it was left out of the fit, to check it. */
export interface CheckablePoint extends CalibrationPoint {
  check?: boolean;
}

/**
 * Expanded uncertainty, 95 %, with which the error of a corrected reading is known at a point, base unit: of the reference,
 * and of the mean that was read.
 */
export function errorUncertainty({ gain }: Pick<Correction, 'gain'>, point: CalibrationPoint): number {
  const { deviation = 0, count = 1, step = 0, own = 0, shared = 0, reference } = point;
  const parts = [
    { u: (Math.abs(gain) * deviation) / Math.sqrt(Math.max(1, count)), degrees: Math.max(1, count - 1) },
    { u: Math.hypot(gain * step * DIGIT, own, shared * reference), degrees: Infinity },
  ];
  return coverageFactor(effectiveDegrees(parts)) * Math.hypot(...parts.map((p) => p.u));
}

/** How many numbers a method finds from the points. */
const unknownsOf = ({ method }: Pick<Fit, 'method'>): number =>
  ({ offset: 1, gain: 1, line: 2, pieces: Infinity })[method];

/** Whether the fit goes through its points by construction, so that they say nothing about how good it is. */
export const isExact = (fit: Pick<Fit, 'method'>, points: readonly CheckablePoint[]): boolean =>
  points.filter((p) => !p.check).length <= unknownsOf(fit);

/** The loads at which something is known of the corrected reading: the check points, and those of a fit that has some to spare. */
export function judgedLoads(
  fit: Line & Pick<Fit, 'method'>,
  points: readonly CheckablePoint[],
): JudgedLoad[] {
  const says = isExact(fit, points) ? points.filter((p) => p.check) : points;
  return says.flatMap((point) => {
    const error = percentError(applyCorrection(fit, point.raw), point.reference);
    if (error === null) return [];
    const uncertainty = (100 * errorUncertainty(fit, point)) / Math.abs(point.reference);
    return [{ load: point.reference, error, uncertainty }];
  });
}
