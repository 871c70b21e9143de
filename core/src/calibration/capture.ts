import { deviation, extent, mean, median } from 'd3-array';
import type { Quantity } from '../quantities/index.js';

/** What was read while a calibration point was held: the mean and how steady it was. */
export interface Capture {
  count: number;
  mean: number;
  /** Standard deviation of the readings (n − 1); 0 for a single one. */
  deviation: number;
  /** Largest minus smallest reading. */
  spread: number;
  /** Smallest change of a reading; missing where none is known. */
  step?: number;
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

/** What was read at a load where a test bench found an error in percent of the load (IEC 62053-21, "percentage error"). */
export function captureOfError(load: number, percent: number): Capture {
  return { count: 1, mean: load * (1 + percent / 100), deviation: 0, spread: 0, step: 0 };
}

/** A reading may move by this share of itself and is still steady (common practice: a handheld is no better). */
const STEADY = 0.01;
/** Near zero it may move by this much, base unit (common practice): the last digits of common clamps and meters. */
const FLOORS: Partial<Record<Quantity, number>> = {
  current: 0.02,
  'active-power': 5,
  'reactive-power': 5,
  'apparent-power': 5,
  voltage: 0.5,
  frequency: 0.02,
};
const LEAST = 4;

/** How far readings may be apart and are steady anyway. @param step their smallest change, base unit */
export const steadyWithin = (mean: number, quantity: Quantity, step = 0): number =>
  Math.max(Math.abs(mean) * STEADY, FLOORS[quantity] ?? 0, 4 * step);

/** Whether a capture is steady enough to calibrate against. */
export const isSteady = (capture: Capture, quantity: Quantity): boolean =>
  capture.spread <= steadyWithin(capture.mean, quantity, capture.step);

/** How a reading stands: a zero after a load falls for a while, and is none before it has stopped. */
export type Stand = 'too-few' | 'falling' | 'rising' | 'moving' | 'steady';

/**
 * How readings of an even pace stand. One that creeps in one direction is not steady, although its spread is small: its
 * straight line (Theil, 1950; Sen, 1968) moves by more than half of what is allowed, and by twice as much as
 * the readings lie about it.
 */
export function standOf(values: readonly number[], quantity: Quantity, step = 0): Stand {
  if (values.length < LEAST) return 'too-few';
  const capture = summariseCapture(values);
  const within = steadyWithin(capture.mean, quantity, step);
  const slopes = values.flatMap((a, i) => values.slice(i + 1).map((b, k) => (b - a) / (k + 1)));
  const drift = (median(slopes) ?? 0) * (values.length - 1);
  const rest = values.map((v, i) => v - (drift * i) / (values.length - 1));
  // What has jumped is not on its way.
  if (Math.abs(drift) > Math.max(within / 2, 2 * summariseCapture(rest).spread))
    return drift < 0 ? 'falling' : 'rising';
  return capture.spread <= within ? 'steady' : 'moving';
}

/** For how long readings have been steady, by their newest ones; ms, 0 while they are not. */
export function steadySince(
  readings: readonly { t: number; v: number }[],
  quantity: Quantity,
  step = 0,
): number {
  let from = readings.length;
  while (
    from > 0 &&
    ['steady', 'too-few'].includes(
      standOf(
        readings.slice(from - 1).map((r) => r.v),
        quantity,
        step,
      ),
    )
  )
    from--;
  const [first, last] = [readings[from], readings.at(-1)];
  return first && last && readings.length - from >= LEAST ? last.t - first.t : 0;
}
