import { estimatePower } from './estimate.js';

const at = (powerFactor: number | null, system: 'three-phase' | 'split-phase' = 'three-phase') => ({
  nominal: 230,
  powerFactor,
  system,
});

it('10 A at 231 V and a plate of 0.95 are 2194.5 W', () =>
  expect(estimatePower([{ amperes: 10, volts: 231 }], at(0.95))).toEqual({
    watts: 10 * 231 * 0.95,
    low: 10 * 231 * (0.95 - 0.05),
    high: 2310,
    assumed: ['the power factor of its plate'],
  }));
it('without voltage and power factor the spread is that of both', () => {
  const { watts, low, high, assumed } = estimatePower([{ amperes: 10, volts: null }], at(null));
  expect([watts, low, high].map(Math.round)).toEqual([2070, 1242, 2530]);
  expect(assumed).toEqual(['230 V', 'its power factor']);
});
it('a heater between two lines of three: 10 A at 400 V are 4 kW, and not 4.6', () =>
  expect(estimatePower(Array(2).fill({ amperes: 10, volts: 400 / Math.sqrt(3) }), at(1)).watts).toBeCloseTo(
    4000,
    6,
  ));
it('between the lines of a split-phase supply: 10 A at 240 V are 2.4 kW', () =>
  expect(
    estimatePower(Array(2).fill({ amperes: 10, volts: 120 }), { ...at(1, 'split-phase'), nominal: 120 })
      .watts,
  ).toBeCloseTo(2400, 9));
it('three lines add up', () =>
  expect(estimatePower(Array(3).fill({ amperes: 16, volts: 230 }), at(0.99)).watts).toBeCloseTo(
    3 * 16 * 230 * 0.99,
    9,
  ));
