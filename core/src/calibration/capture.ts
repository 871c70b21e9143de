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
  if (values.length === 0) throw new EmptyCaptureError('no good reading arrived during the capture');
  const mean = values.reduce((sum, v) => sum + v, 0) / values.length;
  const squares = values.reduce((sum, v) => sum + (v - mean) ** 2, 0);
  return {
    count: values.length,
    mean,
    deviation: values.length > 1 ? Math.sqrt(squares / (values.length - 1)) : 0,
    spread: Math.max(...values) - Math.min(...values),
  };
}

/**
 * Whether a capture is steady enough to calibrate against: spread within 1 % of the mean, or within
 * `floor` near zero. The 1 % is common practice (a handheld clamp ammeter is no better).
 */
export const isSteady = (capture: Capture, floor: number): boolean =>
  capture.spread <= Math.max(Math.abs(capture.mean) * 0.01, floor);
