/** How a decoded number becomes an engineering value: factor and offset, or two raw–engineering pairs. */
export type Scaling =
  | { kind: 'factor'; factor: number; offset: number }
  | { kind: 'pairs'; raw1: number; value1: number; raw2: number; value2: number };

export const UNSCALED: Scaling = { kind: 'factor', factor: 1, offset: 0 };

/** Thrown when two raw–engineering pairs have the same raw value, or a factor is zero or not a number. */
export class ScalingError extends Error {
  override name = 'ScalingError';
}

/** A scaling as the straight line value = slope · raw + intercept. @throws ScalingError */
export function scalingLine(scaling: Scaling): { slope: number; intercept: number } {
  if (scaling.kind === 'factor') {
    if (!Number.isFinite(scaling.factor) || scaling.factor === 0)
      throw new ScalingError(
        `a factor of ${scaling.factor} loses the value; use 1 when nothing is to be scaled`,
      );
    return { slope: scaling.factor, intercept: scaling.offset };
  }
  const { raw1, value1, raw2, value2 } = scaling;
  if (raw1 === raw2)
    throw new ScalingError(`both pairs have the raw value ${raw1}; two different ones make a line`);
  const slope = (value2 - value1) / (raw2 - raw1);
  if (!Number.isFinite(slope) || slope === 0)
    throw new ScalingError(`both pairs have the engineering value ${value1}; two different ones make a line`);
  return { slope, intercept: value1 - slope * raw1 };
}

/** Engineering value of a raw number. @throws ScalingError */
export function scale(scaling: Scaling, raw: number): number {
  const { slope, intercept } = scalingLine(scaling);
  return slope * raw + intercept;
}

/** Raw number of an engineering value; the inverse of {@link scale}. @throws ScalingError */
export function unscale(scaling: Scaling, value: number): number {
  const { slope, intercept } = scalingLine(scaling);
  return (value - intercept) / slope;
}
