import { selfUseOf, storageUse } from './selfUse.js';

/**
 * A day worked by hand in six parts of four hours, kWh. The roof gives 3 + 8 + 1; the battery takes 2 at noon and gives 2 in
 * the evening; at noon 2 go back to the supply.
 */
const DAY = {
  import: [2, 3, 1, 0, 0.5, 1.5],
  export: [0, 0, 0, 2, 0, 0],
  generated: [0, 0, 3, 8, 1, 0],
  charged: [0, 0, 0, 2, 0, 0],
  discharged: [0, 0, 0, 0, 1.5, 0.5],
};

it('self-use and self-sufficiency of a day worked by hand', () => {
  // Generated 12, of which 2 went back: 10 of 12. Used 2, 3, 4, 4, 3, 2 = 18, of which 8 came from the supply: 10 of 18.
  expect(selfUseOf(DAY)).toEqual({
    generated: 12,
    stayed: 10,
    used: 18,
    own: 10,
    unknown: 0,
    selfUse: 10 / 12,
    selfSufficiency: 10 / 18,
  });
});

it('charging from the supply is no use, and what a battery gives back is no generation', () => {
  // Night: 5 come in, 4 of them into the battery, 1 is used. Day: the battery gives 4, 1 used, 3 go back, the roof nothing.
  const { selfUse, selfSufficiency, used, own } = selfUseOf({
    import: [5, 0],
    export: [0, 3],
    generated: [0, 0],
    charged: [4, 0],
    discharged: [0, 4],
  });
  expect([selfUse, used, own, selfSufficiency]).toEqual([null, 2, 1, 0.5]);
});

it('a part of which something is not known is left out, and counted', () => {
  const { unknown, generated } = selfUseOf({ ...DAY, export: [0, 0, NaN, 2, 0, 0] });
  expect([unknown, generated]).toEqual([1, 9]);
});

it('meters that contradict one another make no use below zero', () => {
  expect(
    selfUseOf({ import: [0], export: [3], generated: [1], charged: [0], discharged: [0] }),
  ).toMatchObject({
    used: 0,
    stayed: 0,
    selfSufficiency: null,
  });
});

describe('a storage', () => {
  it('of 10 kWh that took 22 and gave 18, and holds 2 more at the end, has 1.8 cycles and 90 %', () =>
    expect(storageUse(22_000, 18_000, 10_000, [0.3, 0.5])).toMatchObject({ cycles: 1.8, efficiency: 0.9 }));
  it.each([
    ['its size is not known', 22_000, 18_000, null, [0.3, 0.5] as const],
    ['its charge is not known', 22_000, 18_000, 10_000, null],
    ['it hardly did anything', 1000, 900, 10_000, [0.3, 0.5] as const],
    ['it holds more than went in', 6000, 6000, 10_000, [0, 1] as const],
  ])('tells no efficiency where %s', (_, charged, discharged, capacity, held) =>
    expect(storageUse(charged, discharged, capacity, held).efficiency).toBeNull(),
  );
});
