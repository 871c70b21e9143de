import { counterStep } from './counter.js';
import { energyOfMean, energyOfRollups } from './energy.js';

it('65 W for 18 h is 1.17 kWh (trade)', () => expect(energyOfMean(65, 18 * 3_600_000)).toBe(1170));
it('leaves out what is not covered, and says so', () => {
  expect(energyOfRollups([{ mean: 1000, covered: 1_800_000 }], 3_600_000)).toEqual({
    energy: 500,
    coverage: 0.5,
  });
});
describe('counters (CHECKS.md: 16 bit, 32 bit, decimal 99999.9, reset)', () => {
  it.each([
    [65530, 4, 65536, 10],
    [4294967290, 5, 4294967296, 11],
    [99999.8, 0.3, 100000, 0.5],
  ])('%d → %d rolls over', (before, after, modulus, increment) => {
    const step = counterStep(before, after, { modulus, largest: 100 });
    expect(step.event).toBe('rolled-over');
    expect(step.increment).toBeCloseTo(increment, 6);
  });
  it('a fall that no roll-over explains is a reset', () => {
    expect(counterStep(12_000, 3, { modulus: 65536, largest: 100 })).toEqual({
      increment: 3,
      event: 'reset',
    });
    expect(counterStep(12_000, 11_000, { modulus: null, largest: 100 })).toEqual({
      increment: 0,
      event: 'reset',
    });
  });
  it('a rise is a rise', () =>
    expect(counterStep(5, 8, { modulus: null, largest: 100 })).toEqual({ increment: 3, event: 'none' }));
});
