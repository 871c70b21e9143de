import type { Doubt } from '@loka/contract/doubts';
import { doubtInWords } from './doubtInWords.js';

const doubt = (more: Partial<Doubt>): Doubt => ({
  pointId: 1,
  kind: 'glitch',
  t: 0,
  until: 0,
  before: 23_204_493,
  after: 0,
  counted: 0,
  readings: 1,
  verdict: null,
  ...more,
});
const plain = (text: string) => text.replace(/[\u202f\u00a0]/g, ' ');

it('says what was read and what was made of it', () => {
  expect(plain(doubtInWords(doubt({}), 'Wh'))).toBe(
    'It read 0.0 kWh after 23 204.5 kWh, and went on as before. Nothing was counted for it.',
  );
  expect(
    plain(doubtInWords(doubt({ kind: 'rolled-over', before: 99_999_900, after: 200, counted: 300 }), 'Wh')),
  ).toBe('It began again after 99 999.9 kWh, and read 0.2 kWh: 300 Wh counted.');
  expect(doubtInWords(doubt({ kind: 'implausible', before: null, after: 1e9, readings: 3 }), 'W')).toBe(
    '3 readings of up to 1.00 GW: which is not possible, so it is not counted.',
  );
});
