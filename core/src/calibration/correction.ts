import { applyLine, type Line } from '../series/index.js';

/** A correction turns raw values into readings, valid from an instant on; its offset is in the point's base unit. */
export interface Correction extends Line {
  /** UTC milliseconds from which it holds, until the next correction of the same point. */
  validFrom: number;
}

export const applyCorrection = (correction: Line | null, raw: number): number =>
  correction ? applyLine(correction, raw) : raw;

/**
 * The correction in force at instant t: the one with the latest `validFrom` not after t.
 * @param corrections sorted by `validFrom`, ascending
 */
export function correctionAt<C extends Correction>(corrections: readonly C[], t: number): C | null {
  let low = 0;
  let high = corrections.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((corrections[middle] as C).validFrom <= t) low = middle + 1;
    else high = middle;
  }
  return low === 0 ? null : (corrections[low - 1] as C);
}
