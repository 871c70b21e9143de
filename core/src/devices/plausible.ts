import { implausible, type Phase, type Quantity } from '../quantities/index.js';

/** A value that a trial read with a known map gave. */
export interface TriedValue {
  quantity: Quantity;
  phase: Phase | null;
  /** Base unit; NaN for what could not be read. */
  value: number;
}

/** Usual bands in a low-voltage installation (trade): narrower than what is possible at all. */
const USUAL: Partial<Record<Quantity, (v: number) => boolean>> = {
  voltage: (v) => (v > 85 && v < 290) || (v > 330 && v < 480),
  frequency: (v) => (v > 47 && v < 52) || (v > 57 && v < 62),
  'power-factor': (v) => Math.abs(v) <= 1 && v !== 0,
  'contact-state': (v) => v === 0 || v === 1,
};
/** How much a value in its usual band says: a voltage or a frequency does not come right by chance, a bit does. */
const WEIGHT: Partial<Record<Quantity, number>> = { voltage: 3, frequency: 4, 'power-factor': 1 };
const SMALL = 0.3;

/**
 * How well what a map reads from an unknown device fits, 0–1: the share of values in their usual bands, weighted by
 * how unlikely they are by chance, and less where there is little evidence; 0 as soon as one is impossible.
 */
export function plausibility(values: readonly TriedValue[]): number {
  let weight = 0;
  let good = 0;
  for (const { quantity, phase, value } of values) {
    if (implausible(quantity, value)) return 0;
    // A DC voltage may be any.
    const usual = phase === 'DC' ? undefined : USUAL[quantity];
    const w = usual ? (WEIGHT[quantity] ?? SMALL) : SMALL;
    weight += w;
    // A tiny number that is not zero is what a float read at the wrong place looks like.
    const odd = value !== 0 && Math.abs(value) < 1e-6;
    if (!odd && (usual?.(value) ?? true)) good += w;
  }
  return weight === 0 ? 0 : (good / weight) * (1 - Math.exp(-weight / 2));
}
