import { activePower, currentOfLoad } from './power.js';

it('1150 W at 230 V and power factor 1 is 5 A (trade)', () => {
  expect(currentOfLoad(1150, 230, 1)).toBe(5);
  expect(activePower(230, 5, 1)).toBe(1150);
});
it('refuses what cannot be', () => {
  expect(() => currentOfLoad(1150, 0, 1)).toThrow('0 V');
  expect(() => currentOfLoad(1150, 230, 1.2)).toThrow('power factor of 1.2');
  expect(() => currentOfLoad(-5, 230, 1)).toThrow('-5 W');
});
