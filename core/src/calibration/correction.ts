/** A correction turns raw values into readings: reading = gain · raw + offset, valid from an instant on. */
export interface Correction {
  /** UTC milliseconds from which it holds, until the next correction of the same point. */
  validFrom: number;
  gain: number;
  /** In the point's base unit. */
  offset: number;
}

export const applyCorrection = (
  correction: Pick<Correction, 'gain' | 'offset'> | null,
  raw: number,
): number => (correction ? correction.gain * raw + correction.offset : raw);

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
