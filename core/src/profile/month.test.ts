import fc from 'fast-check';
import { monthEstimate } from './index.js';

const DAYS = 365.25 / 12;

it('days that are all alike make a month without a doubt', () => {
  const got = monthEstimate([1000, 1000, 1000], [500, 500]);
  // 21.741 working days and 8.696 others.
  expect(got?.energy).toBeCloseTo(DAYS * ((5 / 7) * 1000 + (2 / 7) * 500), 6);
  expect(got).toMatchObject({ low: got?.energy, high: got?.energy, working: 3, closed: 2 });
});

it('a range by hand', () => {
  // Four days of 8, 10, 10, 12 Wh: mean 10, variance 8/3; t of three degrees of freedom is 3.18 (JCGM 100, table G.2).
  const got = monthEstimate([8, 10, 10, 12], []);
  const by = 3.18 * Math.sqrt((8 / 3) * (DAYS ** 2 / 4 + DAYS));
  expect(got?.energy).toBeCloseTo(10 * DAYS, 9);
  expect((got?.high as number) - 10 * DAYS).toBeCloseTo(by, 9);
  expect(10 * DAYS - (got?.low as number)).toBeCloseTo(by, 9);
});

it('too few days make none', () => {
  expect(monthEstimate([], [])).toBeNull();
  expect(monthEstimate([100], [])).toBeNull();
  expect(monthEstimate([100, 100, 100], [40])).toBeNull();
});

it('it holds the month that comes about 95 times in 100', () => {
  // Days drawn from one law; a seeded generator (mulberry32), sums of uniforms for a bell.
  let state = 7;
  const uniform = () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
  const day = (mean: number) =>
    mean * (1 + 0.15 * (Array.from({ length: 12 }, uniform).reduce((a, b) => a + b) - 6));
  const days = (n: number, mean: number) => Array.from({ length: n }, () => day(mean));
  let held = 0;
  for (let i = 0; i < 1000; i++) {
    const got = monthEstimate(days(6, 1000), days(3, 600));
    const true_ = [...days(22, 1000), ...days(8, 600)].reduce((a, b) => a + b) * (DAYS / 30);
    // 22 and 8 of 30 are not quite five and two of seven.
    const shift = DAYS * ((5 / 7 - 22 / 30) * 1000 + (2 / 7 - 8 / 30) * 600);
    if (true_ + shift >= (got?.low as number) && true_ + shift <= (got?.high as number)) held++;
  }
  // Two in a hundred to either side are three deviations of chance.
  expect(held).toBeGreaterThan(930);
  expect(held).toBeLessThan(975);
});

it('what only takes is not estimated to give', () =>
  fc.assert(
    fc.property(
      fc.array(fc.double({ min: 0, max: 1e6, noNaN: true }), { minLength: 2, maxLength: 20 }),
      (all) => {
        const got = monthEstimate(all, []);
        expect(got?.low).toBeGreaterThanOrEqual(0);
        expect(got?.high).toBeGreaterThanOrEqual(got?.energy as number);
      },
    ),
  ));
