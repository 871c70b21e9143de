import { printCounter, printAge, printBeside, printError, printNumber, printSet } from './number.js';

const text = (...args: Parameters<typeof printNumber>) => {
  const { digits, unit } = printNumber(...args);
  return `${digits} ${unit}`.trim();
};

it.each([
  [11840, 'W', '11.84 kW'],
  [412, 'W', '412 W'],
  [-412, 'W', '−412 W'],
  [0, 'W', '0.0 W'],
  [4.52, 'W', '4.5 W'],
  [96214, 'Wh', '96.21 kWh'],
  [231.42, 'V', '231.4 V'],
  [49.984, 'Hz', '49.98 Hz'],
  [0.0021, 'A', '0.002 A'],
  [11.3504, 'A', '11.35 A'],
  [0.98, '', '0.980'],
  [-0.00001, 'A', '0.000 A'],
])('%d %s prints as %s', (value, unit, expected) => expect(text(value, unit)).toBe(expected));

it('keeps its prefix while a value wanders around the step', () => {
  expect(printNumber(1050, 'W', '').prefix).toBe('');
  expect(printNumber(1150, 'W', '').prefix).toBe('k');
  expect(printNumber(950, 'W', 'k').prefix).toBe('k');
  expect(printNumber(850, 'W', 'k').prefix).toBe('');
});
it('leaves its prefix a tenth beyond its range, and not before', () => {
  const prefix = (value: number, before: '' | 'k' | 'M' | 'm') => printNumber(value, 'W', before).prefix;
  expect([1099, 1100].map((v) => prefix(v, ''))).toEqual(['', 'k']);
  expect([900, 899].map((v) => prefix(v, 'k'))).toEqual(['k', '']);
  expect([1_099_999, 1_100_000].map((v) => prefix(v, 'k'))).toEqual(['k', 'M']);
  expect([900_000, 899_999].map((v) => prefix(v, 'M'))).toEqual(['M', 'k']);
  expect(prefix(0.5, 'm')).toBe('');
  expect(printNumber(1e6, 'W').prefix).toBe('M');
});
it('prints ages and errors', () => {
  expect([printAge(3400), printAge(360_000), printAge(3 * 3_600_000)]).toEqual(['3 s', '6 min', '3 h']);
  expect([printError(0.312), printError(-5.04), printError(0.001)]).toEqual(['+0.31 %', '−5.04 %', '0.00 %']);
});

it('a counter reads as on its meter, thousands apart', () => {
  expect([23_204_493, 900, 0, -50, 1_409_460_000].map((wh) => printCounter(wh))).toEqual([
    '23\u202f204.5\u00a0kWh',
    '0.9\u00a0kWh',
    '0.0\u00a0kWh',
    '−0.1\u00a0kWh',
    '1\u202f409\u202f460.0\u00a0kWh',
  ]);
});

it.each([
  [23_204_493, 1, '23\u202f204.493\u00a0kWh'],
  [23_204_493, 10, '23\u202f204.49\u00a0kWh'],
  [23_204_493, 1000, '23\u202f204\u00a0kWh'],
  [12.5, 0.1, '0.0125\u00a0kWh'],
  [12.5, 0, '0.013\u00a0kWh'],
])('a counter of %d Wh that moves by %d Wh stands as %s', (wh, step, text) =>
  expect(printCounter(wh, step)).toBe(text),
);

it.each([
  [1234.6, 'W', 0, '1 kW'],
  [1234.6, 'W', 3, '1.235 kW'],
  [229.96, 'V', 2, '229.96 V'],
  [-0.001, 'A', 1, '0.0 A'],
])('%d %s with %d decimals is %s', (value, unit, decimals, text) => {
  const printed = printNumber(value, unit, undefined, decimals);
  expect(`${printed.digits} ${printed.unit}`).toBe(text);
});

it.each([
  [0.0001, 'A', '0.0001 A'],
  [16, 'A', '16 A'],
  [-2.5, 'A', '−2.5 A'],
  [207, 'V', '207 V'],
  [49.85, 'Hz', '49.85 Hz'],
  [1500, 'W', '1.5 kW'],
  [1234.5678, 'W', '1.2345678 kW'],
  [12_000_000, 'Wh', '12 MWh'],
  [0.1 + 0.2, '', '0.3'],
  [0.0000005, 'A', '0.0000005 A'],
  [0, 'V', '0 V'],
])('a limit of %d %s stands as it was set: %s', (value, unit, text) =>
  expect(printSet(value, unit)).toBe(text),
);

it.each([
  [3087.43, 2500, 'W', '3.087 kW'],
  [16.0004, 16, 'A', '16.0004 A'],
  [206.998, 207, 'V', '206.998 V'],
  [0.060006, 0.0001, 'A', '0.06001 A'],
  [16.000000000001, 16, 'A', '16 A'],
])('%d beside the limit %d %s is %s', (value, limit, unit, text) =>
  expect(printBeside(value, limit, unit)).toBe(text),
);

it('a million grams are a tonne', () => {
  expect(printNumber(7_460_000, 'g')).toMatchObject({ digits: '7.46', unit: 't' });
  expect(printNumber(4140, 'g')).toMatchObject({ digits: '4.14', unit: 'kg' });
});
