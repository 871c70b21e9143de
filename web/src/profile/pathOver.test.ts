import { bandOver, pathOver } from './pathOver.js';

const as = (v: number) => v;

test('a line is broken where a value is not known', () => {
  expect(pathOver([1, 2, null, 4], as, as)).toBe('M0.0 1.0L1.0 2.0M3.0 4.0');
  expect(pathOver([], as, as)).toBe('');
});

test('a band goes along its upper line and back along its lower one', () => {
  expect(bandOver([1, 2], [3, 4], as, as)).toBe('M0.0 3.0L1.0 4.0L1.0 2.0L0.0 1.0Z');
});

test('a band leaves out what is not known of one of its lines', () => {
  expect(bandOver([1, null, 2], [3, 9, 4], as, as)).toBe('M0.0 3.0L2.0 4.0L2.0 2.0L0.0 1.0Z');
});

test('nothing is drawn of a band of which nothing is known', () => {
  expect(bandOver([null, 1], [2, null], as, as)).toBe('');
});
