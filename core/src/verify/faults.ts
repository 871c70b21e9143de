import type { Line } from './phasors.js';

/** What can be wrong with how a meter is wired or set, as far as readings can tell. */
export const FAULT_KINDS = [
  'reversed',
  'swapped',
  'wrong-phase',
  'both-conductors',
  'bypassed',
  'other-circuit',
  'wrong-ratio',
  'stuck',
  'clipped',
] as const;
export type FaultKind = (typeof FAULT_KINDS)[number];

/** A fault that the readings name. */
export interface Fault {
  kind: FaultKind;
  /** The clamps or lines that have it, as they are labelled. */
  lines: Line[];
  /** The conductors that those clamps are really on, where that is told. */
  on?: Line[];
  /** Reading over truth, for a wrong ratio and a bypass. */
  factor?: number;
  /** The factor is computed from what is set, not read off: it is no nearest usual one. */
  exact?: boolean;
  /** The other metered place, for a load that is on another circuit. */
  other?: { id: number; name: string };
}

/** Factors by which readings are usually off: turns, kinds of transformer, line for phase voltage, a slipped decimal (trade). */
const USUAL = [
  ...[2, 3, 4, 5, Math.sqrt(3), 10, 20, 100, 1000],
  ...[1 / 2, 1 / 3, 1 / Math.sqrt(3), 1 / 10, 1 / 100, 1 / 1000],
];

/** The usual factor that is nearest, and how far the factor is from it; null when none is within `tolerance` (relative). */
export function usualFactor(factor: number, tolerance: number): number | null {
  const off = (usual: number) => Math.abs(factor / usual - 1);
  const nearest = USUAL.reduce((a, b) => (off(b) < off(a) ? b : a));
  return off(nearest) <= tolerance ? nearest : null;
}

/** "2", "1/2", "√3", "1/√3" */
export function factorInWords(factor: number): string {
  const large = factor >= 1 ? factor : 1 / factor;
  const text = Math.abs(large - Math.sqrt(3)) < 0.01 ? '√3' : String(Number(large.toPrecision(3)));
  return factor >= 1 ? text : `1/${text}`;
}

/** What usually makes readings off by such a factor. */
export function causeOfFactor(factor: number): string {
  const large = factor >= 1 ? factor : 1 / factor;
  if ([10, 100, 1000].some((f) => Math.abs(large / f - 1) < 0.01))
    return 'A decimal or a unit has slipped: in the register map, or in the meter’s own ratio.';
  if (Math.abs(large - Math.sqrt(3)) < 0.02)
    return 'A voltage between lines is taken for one against neutral, or the other way round.';
  return factor > 1
    ? 'The conductor goes through the clamp more than once, or the ratio is applied twice: in the meter and in Loka.'
    : 'The clamp’s ratio is set for another one, or the conductor should go through it more often.';
}
