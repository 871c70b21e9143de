import { deviation, extent, mean } from 'd3-array';

/** What was read while a calibration point was held: the mean and how steady it was. */
export interface Capture {
  count: number;
  mean: number;
  /** Standard deviation of the readings (n − 1); 0 for a single one. */
  deviation: number;
  /** Largest minus smallest reading. */
  spread: number;
}

/** Thrown when there is nothing to average. */
export class EmptyCaptureError extends Error {
  override name = 'EmptyCaptureError';
}

/** Mean, standard deviation and spread of readings. @throws EmptyCaptureError */
export function summariseCapture(values: readonly number[]): Capture {
  const average = mean(values);
  const [least, most] = extent(values);
  if (average === undefined || least === undefined || most === undefined)
    throw new EmptyCaptureError('no good reading arrived during the capture');
  return {
    count: values.length,
    mean: average,
    deviation: deviation(values) ?? 0,
    spread: most - least,
  };
}

/**
 * Whether a capture is steady enough to calibrate against: spread within 1 % of the mean, or within
 * `floor` near zero. The 1 % is common practice (a handheld clamp ammeter is no better).
 */
export const isSteady = (capture: Capture, floor: number): boolean =>
  capture.spread <= Math.max(Math.abs(capture.mean) * 0.01, floor);
