import type { Correction } from './correction.js';

/** A raw reading and what the reference said at the same time, both in the point's base unit. */
export interface CalibrationPoint {
  raw: number;
  reference: number;
}

export interface Fit extends Pick<Correction, 'gain' | 'offset'> {
  method: 'offset' | 'gain' | 'line';
  /** Standard deviation of the residuals (n − 2 degrees of freedom); null with fewer than three points. */
  residualDeviation: number | null;
  /** Coefficient of determination; null with fewer than three points. */
  rSquared: number | null;
}

/** Thrown when the points do not determine a correction; `code` says why. */
export class FitError extends Error {
  override name = 'FitError';
  constructor(
    readonly code: 'no-points' | 'not-finite' | 'points-coincide' | 'no-gain',
    message: string,
  ) {
    super(message);
  }
}

/**
 * The correction that calibration points call for. One point against a reference of zero moves the zero
 * (offset); one point with a load scales (gain); two or more are fitted by a straight line of least squares,
 * reference on raw, which goes exactly through two.
 * @throws FitError
 */
export function fitCorrection(points: readonly CalibrationPoint[]): Fit {
  if (points.length === 0) throw new FitError('no-points', 'take at least one point');
  for (const { raw, reference } of points)
    if (!Number.isFinite(raw) || !Number.isFinite(reference))
      throw new FitError('not-finite', 'a point has a value that is not a number');
  if (points.length === 1) return onePoint(points[0] as CalibrationPoint);
  const line = leastSquares(points);
  if (!(line.gain > 0))
    throw new FitError(
      'no-gain',
      `the points give a gain of ${line.gain.toPrecision(4)}: the reading falls while the reference rises. Check which way the clamp points and which reference belongs to which point`,
    );
  return line;
}

function onePoint({ raw, reference }: CalibrationPoint): Fit {
  const none = { residualDeviation: null, rSquared: null };
  if (reference === 0) return { method: 'offset', gain: 1, offset: -raw, ...none };
  if (raw === 0 || reference / raw <= 0)
    throw new FitError(
      'no-gain',
      `a raw reading of ${raw} cannot be scaled to ${reference}: it reads nothing or the wrong way round`,
    );
  return { method: 'gain', gain: reference / raw, offset: 0, ...none };
}

/** Straight line y = offset + gain · x by ordinary least squares, in centred sums so that no digits cancel. */
function leastSquares(points: readonly CalibrationPoint[]): Fit {
  const n = points.length;
  const meanX = points.reduce((sum, p) => sum + p.raw, 0) / n;
  const meanY = points.reduce((sum, p) => sum + p.reference, 0) / n;
  let sxx = 0;
  let sxy = 0;
  let syy = 0;
  for (const { raw, reference } of points) {
    sxx += (raw - meanX) ** 2;
    sxy += (raw - meanX) * (reference - meanY);
    syy += (reference - meanY) ** 2;
  }
  const scale = Math.max(...points.map((p) => Math.abs(p.raw)));
  if (Math.sqrt(sxx / n) <= scale * 1e-9)
    throw new FitError(
      'points-coincide',
      `all points have the raw reading ${meanX.toPrecision(6)}; change the load so that the reading differs, then take the next point`,
    );
  const gain = sxy / sxx;
  const offset = meanY - gain * meanX;
  const residual = points.reduce((sum, p) => sum + (p.reference - offset - gain * p.raw) ** 2, 0);
  return {
    method: 'line',
    gain,
    offset,
    residualDeviation: n > 2 ? Math.sqrt(residual / (n - 2)) : null,
    rSquared: n > 2 ? 1 - residual / syy : null,
  };
}
