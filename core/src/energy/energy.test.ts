import { emptySlots } from '../series/index.js';
import { energyOfMean, energyOfSlots } from './energy.js';

it('65 W for 18 h is 1.17 kWh (trade)', () => expect(energyOfMean(65, 18 * 3_600_000)).toBe(1170));
it('keeps import, export and net apart; leaves out what is not covered, and says so', () => {
  const slots = emptySlots(0, 900_000, 4);
  slots.plus.set([1000, 0, 300, 0]);
  slots.minus.set([0, 400, 100, 0]);
  slots.covered.set([900_000, 450_000, 900_000, 0]);
  expect(energyOfSlots(slots, [0, 1_800_000, 3_600_000, 7_200_000])).toEqual([
    { import: 250, export: 50, net: 200, covered: 1_350_000, estimated: 0 },
    { import: 75, export: 25, net: 50, covered: 900_000, estimated: 0 },
    { import: null, export: null, net: null, covered: 0, estimated: 0 },
  ]);
});
