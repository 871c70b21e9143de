import type { Capture } from '@loka/core/calibration';

/** A calibration point that has been taken. */
export interface TakenPoint {
  label: string;
  from: number;
  to: number;
  reference: number;
  capture: Capture;
}

/** A taken point with its error before and after the proposed correction, percent; null at zero. */
export interface JudgedPoint extends TakenPoint {
  asFound: number | null;
  asLeft: number | null;
}
