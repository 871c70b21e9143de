import { changeInWords } from './changeInWords.js';

test('a change is told with its share', () => {
  expect(changeInWords(8800, 10_000)).toBe('−1.20 kWh (−12 %)');
  expect(changeInWords(10_230, 10_000)).toBe('+230 Wh (+2.3 %)');
});

test('a share too small to be told is not rounded to nothing', () => {
  expect(changeInWords(50_960, 50_972)).toBe('−12 Wh (under 0.1 %)');
});

test('nothing has changed; of next to nothing no share is told', () => {
  expect(changeInWords(50, 50)).toBe('no change');
  expect(changeInWords(900, 0)).toBe('+900 Wh');
});
