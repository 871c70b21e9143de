import type { Correction } from '@loka/core/calibration';

/** "1.0534 × raw − 0.0022 A" */
export function correctionInWords(
  { gain, offset }: Pick<Correction, 'gain' | 'offset'>,
  unit: string,
): string {
  return `${gain.toFixed(4)} × raw ${offset < 0 ? '−' : '+'} ${Math.abs(offset).toPrecision(3)} ${unit}`.trim();
}
