import { typedNumber } from './typedNumber.js';

it.each([
  ['1.5', 1.5],
  ['1,5', 1.5],
  [' −3 ', -3],
  ['1e3', 1000],
  ['', null],
  ['  ', null],
  ['ten', NaN],
  ['1.5.2', NaN],
  ['1,000,5', NaN],
])('%j is %p', (text, number) => expect(typedNumber(text)).toBe(number));
