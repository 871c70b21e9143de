import { implausible, QUANTITIES, unitFactor, type Quantity } from './quantity.js';

// The bounds are common practice for a low-voltage installation (trade).
it.each([
  ['voltage', -1000, 1500],
  ['current', -10_000, 10_000],
  ['active-power', -5e6, 5e6],
  ['apparent-power', 0, 5e6],
  ['power-factor', -1.001, 1.001],
  ['frequency', 0, 500],
  ['energy-import', 0, 1e13],
  ['temperature', -60, 400],
  ['state-of-charge', 0, 100],
  ['contact-state', 0, 1],
] as const)('%s can be from %d to %d, and neither below nor above', (quantity, low, high) => {
  const step = Math.max(Math.abs(low), Math.abs(high)) * 1e-6;
  expect([low, high].map((v) => implausible(quantity, v))).toEqual([null, null]);
  expect(implausible(quantity, low - step)).toMatch(/^below /);
  expect(implausible(quantity, high + step)).toMatch(/^above /);
  expect([NaN, Infinity, -Infinity].map((v) => implausible(quantity, v))).toEqual(
    Array(3).fill('not a number'),
  );
});
it('every unit that a device may deliver leads to the base unit', () => {
  expect(unitFactor('energy-import', 'MWh')).toBe(1e6);
  expect(unitFactor('current', 'mA')).toBe(0.001);
  expect(unitFactor('voltage', 'W')).toBeUndefined();
  for (const [quantity, info] of Object.entries(QUANTITIES))
    expect(unitFactor(quantity as Quantity, info.unit)).toBe(1);
});
