import { durationInWords } from './duration.js';

it.each([
  [0, '0 s'],
  [59_400, '59 s'],
  [60_000, '1 min'],
  [3_599_000, '1 h'],
  [3_600_000, '1 h'],
  [11_520_000, '3 h 12 min'],
  [172_800_000, '2 d'],
  [187_200_000, '2 d 4 h'],
])('%d ms are %s', (ms, words) => expect(durationInWords(ms)).toBe(words));
