import {
  comparedPoint,
  meterReference,
  referenceFrom,
  type Capture,
  type CheckablePoint,
  type Reference,
  type ReferenceKind,
  type SaidReference,
} from '@loka/core/calibration';

/** A calibration point that has been taken. */
export interface TakenPoint extends SaidReference {
  label: string;
  from: number;
  to: number;
  capture: Capture;
  kind: ReferenceKind;
  /** One of the site's instruments. */
  instrumentId?: number;
  /** The other meter, and the standard uncertainty of its mean. */
  pointId?: number;
  own?: number;
  /** Percent that a test bench has found. */
  error?: number;
  /** Left out of the fit, to check it. */
  check: boolean;
}

/** A taken point with its error before and after the proposed correction, percent; null at zero. */
export interface JudgedPoint extends TakenPoint {
  asFound: number | null;
  asLeft: number | null;
  /** Expanded uncertainty of the errors, base unit; null while there is no correction. */
  uncertainty: number | null;
}

export const referenceOf = (said: SaidReference & Pick<TakenPoint, 'pointId' | 'own'>): Reference =>
  said.kind === 'meter'
    ? meterReference(`meter ${said.pointId}`, said.reference, said.own ?? 0, said.percent ?? 0)
    : referenceFrom(said);

/** A taken point as a fit wants it. */
export const toCompare = (taken: TakenPoint): CheckablePoint => ({
  ...comparedPoint(taken.capture, referenceOf(taken)),
  check: taken.check,
});
