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

/** What of it a value agrees with, in words. */
export function agreesWith(knowledge: Knowledge, value: number): string {
  const off = (sought: number) => {
    const by = Math.abs(Math.abs(value) / Math.abs(sought) - 1);
    return by < 0.0005 ? 'exactly' : `${(by * 100).toFixed(1)} % off`;
  };
  switch (knowledge.about) {
    case 'near-nominal':
      return `near ${knowledge.nominal} (${off(knowledge.nominal)})`;
    case 'instrument':
      return `the instrument reads ${knowledge.value} (${off(knowledge.value)})`;
    case 'power-factor':
      return 'between 0 and 1, as a power factor is';
    case 'counter':
      return 'its unit is open: hold it against the display of the meter';
  }
}
