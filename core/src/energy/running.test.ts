import { emptySlots, MINUTE } from '../series/index.js';
import { runningOf, runningOfSlots, runningThreshold, type SpokenValue } from './running.js';

const every = (ms: number, values: (number | null)[]): SpokenValue[] =>
  values.map((v, i) => ({ t: i * ms, v, until: (i + 1) * ms }));

describe('run time and starts', () => {
  it('of single readings: two starts, four seconds on of nine', () =>
    expect(runningOf(every(1000, [0, 0, 900, 900, 0, 0, 880, 890, 0]), 100, 0, 9000)).toEqual({
      runMs: 4000,
      starts: 2,
      knownMs: 9000,
    }));
  it('noise around the threshold is no start', () =>
    expect(runningOf(every(1000, [0, 101, 99, 101, 99, 51, 49]), 100, 0, 7000)).toMatchObject({
      starts: 1,
      runMs: 5000,
    }));
  it('what comes back out of a gap is no start, and the gap is not known', () =>
    expect(
      runningOf(
        [
          { t: 0, v: 0, until: 1000 },
          { t: 5000, v: 900, until: 6000 },
          { t: 6000, v: null, until: 7000 },
          { t: 7000, v: 900, until: 8000 },
        ],
        100,
        0,
        8000,
      ),
    ).toEqual({ runMs: 2000, starts: 0, knownMs: 3000 }));
  it('counts only within the period, and knows from before it that it was off', () =>
    expect(runningOf(every(1000, [0, 900, 900, 0]), 100, 1000, 2500)).toEqual({
      runMs: 1500,
      starts: 1,
      knownMs: 1500,
    }));
  it('power that flows out runs as well', () =>
    expect(runningOf(every(1000, [0, -900]), 100, 0, 2000)).toMatchObject({ starts: 1, runMs: 1000 }));
});

it('of minutes: a mixed minute ran for as long as its mean says; the state goes on over stretches', () => {
  const slots = emptySlots(0, MINUTE, 4);
  const set = (i: number, min: number, max: number, mean: number, last: number) => {
    slots.min[i] = min;
    slots.max[i] = max;
    slots.plus[i] = mean;
    slots.last[i] = last;
    slots.covered[i] = MINUTE;
  };
  set(0, 0, 10, 4, 4);
  // 1000 W for a quarter of the minute.
  set(1, 0, 1000, 250, 1000);
  set(2, 990, 1010, 1000, 1000);
  set(3, 0, 1000, 500, 0);
  expect(runningOfSlots(slots, 100)).toEqual({
    runMs: 1.75 * MINUTE,
    starts: 1,
    knownMs: 4 * MINUTE,
    state: false,
  });
  expect(runningOfSlots(slots, 100, true).starts).toBe(1);
  slots.covered[0] = 0;
  expect(runningOfSlots(slots, 100, false)).toMatchObject({ starts: 0, knownMs: 3 * MINUTE });
});

it.each([
  [14_000, 9000, 1400],
  [null, 2000, 200],
  [null, 20, 5],
  [null, null, 5],
])('by a plate of %p W and a highest of %p W it runs above %d W', (plate, highest, threshold) =>
  expect(runningThreshold(plate, highest)).toBe(threshold),
);
