/** A load as a displaced transducer reads it, W and var, and what the power was by the reference, W. */
export interface DisplacedLoad {
  watts: number;
  vars: number;
  reference: number;
}

/** Loads whose power factors are closer together than this angle do not tell a displacement, radians. */
const LEAST_ANGLE = 0.15;

const radians = (minutes: number): number => ((minutes / 60) * Math.PI) / 180;

/**
 * The active power once the phase is put right: S · cos φ from what is read of S · cos (φ − δ) and S · sin (φ − δ), that is
 * P · cos δ − Q · sin δ.
 * @param minutes δ, positive where the current is read as leading, as transformers do
 */
export const putRight = (watts: number, vars: number, minutes: number): number =>
  watts * Math.cos(radians(minutes)) - vars * Math.sin(radians(minutes));

/**
 * The displacement that loads of different power factors call for, minutes: by least squares reference = a · P + b · Q, with
 * a = g · cos δ and b = −g · sin δ. Null where they do not tell it.
 */
export function displacementOf(loads: readonly DisplacedLoad[]): number | null {
  const sum = (of: (l: DisplacedLoad) => number) => loads.reduce((all, l) => all + of(l), 0);
  const angles = loads.filter((l) => l.watts !== 0).map((l) => Math.atan2(l.vars, l.watts));
  if (angles.length < 2 || Math.max(...angles) - Math.min(...angles) < LEAST_ANGLE) return null;
  const [pp, pq, qq] = [sum((l) => l.watts ** 2), sum((l) => l.watts * l.vars), sum((l) => l.vars ** 2)];
  const [pr, qr] = [sum((l) => l.watts * l.reference), sum((l) => l.vars * l.reference)];
  const determinant = pp * qq - pq ** 2;
  const a = (pr * qq - qr * pq) / determinant;
  const b = (qr * pp - pr * pq) / determinant;
  const minutes = (Math.atan2(-b, a) * 180 * 60) / Math.PI;
  return Number.isFinite(minutes) ? minutes : null;
}
