import { mediansDiffer, spreadOf } from './spread.js';

it('median and quartiles', () =>
  // numpy.percentile([7, 1, 3, 5, 9], [25, 50, 75]) is 3, 5, 7.
  expect(spreadOf([7, 1, 3, 5, 9])).toEqual({ count: 5, low: 3, median: 5, high: 7 }));

it('two medians differ where the gap between them is wider than chance makes it', () => {
  const days = (middle: number) => spreadOf([-3, -2, -1, 0, 1, 2, 3].map((x) => middle + x));
  // Quartiles 3 apart: 1.2533 · 3 / 1.349 / √7 = 1.053 each, 2.98 for two deviations of the difference.
  expect(mediansDiffer(days(10), days(12.9))).toBe(false);
  expect(mediansDiffer(days(10), days(13.1))).toBe(true);
  expect(mediansDiffer(spreadOf([4, 4]), spreadOf([4, 4, 4]))).toBe(false);
  expect(mediansDiffer(spreadOf([]), days(3))).toBe(false);
});
