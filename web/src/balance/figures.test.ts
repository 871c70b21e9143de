import { change, figure, formFor, share, unitText } from './figures.js';

it('all figures of a picture have one prefix, kept while the whole wanders around the step', () => {
  expect(unitText(formFor(1050, 'W', null))).toBe('kW');
  expect(unitText(formFor(990, 'W', { unit: 'W', kilo: true }))).toBe('kW');
  expect(unitText(formFor(890, 'W', { unit: 'W', kilo: true }))).toBe('W');
  expect(unitText(formFor(1090, 'W', { unit: 'W', kilo: false }))).toBe('W');
  expect(unitText(formFor(1090, 'Wh', { unit: 'W', kilo: false }))).toBe('kWh');
});
it.each([
  [12_345, true, '12.35'],
  [-1500, true, '−1.50'],
  [-0.4, true, '0.00'],
  [7.25, false, '7.3'],
  [123.4, false, '123'],
])('%d stands as a figure', (value, kilo, text) => expect(figure(value, { unit: 'W', kilo })).toBe(text));
it.each([
  [50, 200, '25 %'],
  [0.4, 200, '< 1 %'],
  [0, 200, '0 %'],
  [-10, 200, '−5 %'],
  [5, 0, '–'],
])('%d of %d are %s', (value, total, text) => expect(share(value, total)).toBe(text));
it.each([
  [1050, 1000, '+5 %'],
  [500, 1000, '−50 %'],
  [1001, 1000, '±0 %'],
  [800, 0, 'new'],
  [2, 1, '–'],
  [800, null, 'not known'],
])('%d after %p has changed by %s', (value, before, text) => expect(change(value, before)).toBe(text));
