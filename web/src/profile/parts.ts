import type { Site } from '@loka/contract/site';
import { printInUnit, printNumber } from '@loka/core/formats';
import { durationInWords } from '../shared/duration.js';
import { money } from '../shared/money.js';

/** A sentence in parts: words, and numbers with their units, which are set apart. */
export type Part = string | { digits: string; unit: string };

/** What is said, and how it is known. */
export interface Sentence {
  says: Part[];
  known: string;
}

export const number = (value: number, unit: string): Part => {
  const { digits, unit: shown } = printNumber(value, unit);
  return { digits, unit: shown };
};
/** As it stands in a text: "1.23 kW". */
export const plain = (value: number, unit = 'W'): string => {
  return printInUnit(value, unit);
};
export const percent = (share: number): Part => ({
  digits: share > 0 && share < 0.095 ? (100 * share).toFixed(1) : String(Math.round(100 * share)),
  unit: '%',
});
/** "1 h 7 min" as two numbers with their units. */
export const lasting = (ms: number): Part[] => {
  const words = durationInWords(ms).split(' ');
  return words.flatMap((digits, i): Part[] =>
    i % 2 === 0 ? [...(i > 0 ? [' '] : []), { digits, unit: words[i + 1] ?? '' }] : [],
  );
};

/** With its sign on the same line. */
export const amount = (value: number, site: Pick<Site, 'currency'>): string =>
  money(value, site).replace(' ', '\u00a0');

/** The sentence as plain text, to be copied. */
export const textOf = ({ says, known }: Sentence): string =>
  `${says.map((p) => (typeof p === 'string' ? p : [p.digits, p.unit].filter(Boolean).join(' '))).join('')} (${known})`;
