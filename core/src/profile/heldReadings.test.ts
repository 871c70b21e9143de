import { HeldReadings } from './index.js';

const told = (
  points: number[],
  from: number,
  to: number,
  readings: [number, number, number | null, number][],
) => {
  const held = new HeldReadings(points, from, to);
  for (const [pointId, t, v, hold] of readings) held.add({ pointId, t, v, hold });
  held.end();
  return held.watts.map((w, i) => [w, held.held[i]]);
};

// By hand.
it('a reading holds until the next one, and no longer than it speaks', () => {
  expect(
    told([1], 0, 100, [
      [1, 10, 5, 25],
      [1, 20, 7, 25],
      [1, 90, 9, 25],
    ]),
  ).toEqual([
    [5, 10],
    [7, 25],
    [9, 10],
  ]);
});

it('what held before the period counts from its start, and a failed reading ends the one before', () => {
  expect(
    told([1], 100, 200, [
      [1, 90, 5, 25],
      [1, 120, null, 25],
      [1, 150, 7, 25],
    ]),
  ).toEqual([
    [5, 15],
    [7, 25],
  ]);
});

it('of lines the sum is known where all of them are', () => {
  const held = told([1, 2], 0, 60, [
    [1, 0, 100, 25],
    [2, 5, 10, 25],
    [1, 10, 200, 25],
    [2, 15, 20, 25],
  ]);
  // Line 1 speaks until 35, line 2 until 40.
  expect(held).toEqual([
    [110, 5],
    [210, 5],
    [220, 20],
  ]);
});

it('two readings in the same millisecond: the later one counts', () => {
  expect(
    told([1], 0, 50, [
      [1, 0, 5, 25],
      [1, 10, 1, 25],
      [1, 10, 8, 25],
    ]),
  ).toEqual([
    [5, 10],
    [8, 25],
  ]);
});
