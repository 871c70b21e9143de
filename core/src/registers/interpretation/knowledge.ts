import type { Quantity } from '../../quantities/index.js';

/** What a person knows of the value that they look for. */
export type Knowledge =
  /** A line voltage or a frequency near its nominal value (base unit). */
  | { about: 'near-nominal'; quantity: 'voltage' | 'frequency'; nominal: number }
  /** What another instrument reads at the same time (base unit). */
  | { about: 'instrument'; quantity: Quantity; value: number }
  /** A power factor of a load that runs. */
  | { about: 'power-factor' }
  /** An energy counter that rises while one reads. */
  | { about: 'counter' };

export const quantityOf = (knowledge: Knowledge): Quantity => {
  if (knowledge.about === 'power-factor') return 'power-factor';
  if (knowledge.about === 'counter') return 'energy-import';
  return knowledge.quantity;
};

/** How well values read one after the other agree with what is known; null when they cannot be it. */
export function agreement(
  knowledge: Knowledge,
  values: readonly number[],
): { score: number; reason: string } | null {
  const last = values.at(-1);
  if (last === undefined || !values.every(Number.isFinite)) return null;
  switch (knowledge.about) {
    case 'near-nominal': {
      // EN 50160 (recalled): a supply lies within ±10 % of its voltage and ±1 % of its frequency nearly always.
      const [sigma, most] = knowledge.quantity === 'voltage' ? [0.03, 0.15] : [0.003, 0.03];
      return near(last, knowledge.nominal, sigma, most, `near ${knowledge.nominal}`);
    }
    case 'instrument':
      // A handheld and a load that wanders a little: 1.5 % (trade).
      return near(
        Math.abs(last),
        Math.abs(knowledge.value),
        0.015,
        0.1,
        `the instrument reads ${knowledge.value}`,
      );
    case 'power-factor': {
      const size = Math.abs(last);
      if (size > 1.0005 || size < 0.05) return null;
      return { score: size > 0.3 ? 0 : -2, reason: 'between 0 and 1, as a power factor is' };
    }
    case 'counter': {
      const first = values[0] as number;
      const falls = values.some((v, i) => i > 0 && v < (values[i - 1] as number));
      if (falls || last < 1 || last > 1e10) return null;
      const share = (last - first) / last;
      if (share > 0.01) return null;
      return last > first
        ? { score: 2, reason: 'rises, and never falls' }
        : { score: -3, reason: 'does not fall' };
    }
  }
}

function near(
  value: number,
  expected: number,
  sigma: number,
  most: number,
  reason: string,
): { score: number; reason: string } | null {
  if (expected === 0) return null;
  const off = Math.abs(value / expected - 1);
  if (off > most) return null;
  return {
    score: -0.5 * (off / sigma) ** 2,
    reason: `${reason} (${off < 0.0005 ? 'exactly' : `${(off * 100).toFixed(1)} % off`})`,
  };
}
