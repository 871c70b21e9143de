import type { Knot, Line } from '../series/index.js';
import type { Drift } from './drift.js';
import { coverageOf, type Fit } from './fit.js';

/** What goes with a correction beside its line. */
interface Beside {
  noLoad?: number | null;
  /** Minutes by which the phase is displaced. */
  displacement?: number | null;
}

const besideInWords = ({ noLoad, displacement }: Beside, unit: string): string =>
  [
    displacement ? `; phase put right by ${Number(displacement.toPrecision(3))}′` : '',
    noLoad ? `; below ${noLoad} ${unit} nothing` : '',
  ].join('');

/** "1.0534 × raw − 0.0022 A" */
export function correctionInWords(correction: Line & Beside, unit: string): string {
  const { gain, offset, knots } = correction;
  const floor = besideInWords(correction, unit);
  if (knots) return `raw → reading: ${knotsInWords(knots)} ${unit}${floor}`;
  const moved =
    offset === 0 ? '' : ` ${offset < 0 ? '−' : '+'} ${Math.abs(offset).toPrecision(3)} ${unit}`.trimEnd();
  return `${gain.toFixed(4)} × raw${moved}${floor}`;
}

/** "0.048 → 0, 4.62 → 5, 12.46 → 13.05" */
const knotsInWords = (knots: readonly Knot[]): string =>
  knots.map(({ raw, value }) => `${Number(raw.toPrecision(5))} → ${Number(value.toPrecision(5))}`).join(', ');

/** With its expanded uncertainty: "(1.0534 ± 0.0021) × raw − (0.0022 ± 0.0010) A" */
export function fitInWords(fit: Fit, unit: string, beside: Beside = {}): string {
  if (fit.knots) return correctionInWords({ ...fit, ...beside }, unit);
  const k = coverageOf(fit);
  const [gain, offset] = [k * fit.uGain, k * fit.uOffset];
  if (!(gain > 0) && !(offset > 0)) return correctionInWords({ ...fit, ...beside }, unit);
  const more = besideInWords(beside, unit);
  const digits = gain > 0 ? Math.min(6, Math.max(2, 1 - Math.floor(Math.log10(gain)))) : 4;
  const decimals = offset > 0 ? Math.min(6, Math.max(0, 1 - Math.floor(Math.log10(offset)))) : 4;
  const first = gain > 0 ? `(${fit.gain.toFixed(digits)} ± ${gain.toFixed(digits)})` : fit.gain.toFixed(4);
  if (fit.method === 'gain') return `${first} × raw${more}`;
  const sign = fit.offset < 0 ? '−' : '+';
  const second = `(${Math.abs(fit.offset).toFixed(decimals)} ± ${offset.toFixed(decimals)}) ${unit}`.trim();
  return `${first} × raw ${sign} ${second}${more}`;
}

/** "+1.6 % ± 0.2 % in 30 days" */
export function driftInWords({ by, uncertainty, over }: Drift): string {
  const percent = (ratio: number) => `${(100 * Math.abs(ratio)).toFixed(1)} %`;
  return `${by < 0 ? '−' : '+'}${percent(by)} ± ${percent(uncertainty)} in ${Math.round(over / 86_400_000)} days`;
}
