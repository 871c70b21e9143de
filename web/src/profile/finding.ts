import type { Sentence } from './parts.js';

/** What was found of a load, as a sentence with how it is known. */
export interface Finding extends Sentence {
  of: 'levels' | 'runs' | 'lengths' | 'recurring' | 'days' | 'demand' | 'energy' | 'month';
  /** The level that it speaks of, for its evidence. */
  level?: number;
  /** It is not as it is as a rule. */
  unusual?: true;
  /** Of runs those between two lengths, ms. */
  between?: [number, number];
}
