import type { Point } from '@loka/contract/points';
import {
  comparedPoint,
  meterReference,
  putRight,
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
  /** What its meter read of the reactive power meanwhile, var. */
  reactive?: number;
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

/** The reactive power that the same meter reads on the same conductor as an active one; with it a displaced phase is put right. */
export const reactiveBeside = (point: Point, points: readonly Point[]): Point | undefined =>
  point.definition.quantity !== 'active-power' || point.deviceId === null
    ? undefined
    : points.find(
        (p) =>
          p.deviceId === point.deviceId &&
          p.nodeId === point.nodeId &&
          p.phase === point.phase &&
          p.definition.quantity === 'reactive-power',
      );

/** A taken point as it reads once its phase is put right. */
export const withPhase = (taken: TakenPoint, minutes: number | null): TakenPoint =>
  minutes === null || taken.reactive === undefined
    ? taken
    : {
        ...taken,
        capture: { ...taken.capture, mean: putRight(taken.capture.mean, taken.reactive, minutes) },
      };
