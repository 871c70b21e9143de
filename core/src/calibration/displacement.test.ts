import fc from 'fast-check';
import { phaseError } from './classes.js';
import { displacementOf, putRight } from './displacement.js';

/** What a transducer that displaces the phase by so many minutes, and reads g of what flows, makes of a load. */
function displaced(watts: number, factor: number, minutes: number, g = 1) {
  const angle = Math.acos(factor) - ((minutes / 60) * Math.PI) / 180;
  const size = (g * watts) / factor;
  return { watts: size * Math.cos(angle), vars: size * Math.sin(angle), reference: watts };
}

it('30 minutes at a power factor of 0.5 are 1.51 % too much (δ · tan φ), and are put right', () => {
  const load = displaced(1000, 0.5, 30);
  expect((100 * (load.watts - 1000)) / 1000).toBeCloseTo(1.51, 2);
  // The same by the error of a displaced phase.
  expect(load.watts / 1000 - 1).toBeCloseTo(phaseError(30, 0.5) / 100, 12);
  expect(putRight(load.watts, load.vars, 30)).toBeCloseTo(1000, 9);
});

it('is found from two loads of different power factors, whatever the gain is', () => {
  const minutes = fc.double({ min: -200, max: 200, noNaN: true });
  const gain = fc.double({ min: 0.8, max: 1.2, noNaN: true });
  const factor = fc.double({ min: 0.2, max: 0.95, noNaN: true });
  fc.assert(
    fc.property(minutes, gain, factor, (delta, g, pf) => {
      const found = displacementOf([displaced(2000, 1, delta, g), displaced(900, pf, delta, g)]);
      expect(found).toBeCloseTo(delta, 6);
    }),
  );
});

it('is not told by loads of one power factor', () => {
  expect(displacementOf([displaced(2000, 1, 30)])).toBeNull();
  expect(displacementOf([displaced(2000, 1, 30), displaced(500, 1, 30)])).toBeNull();
  expect(displacementOf([displaced(2000, 0.6, 30), displaced(500, 0.6, 30)])).toBeNull();
  expect(displacementOf([])).toBeNull();
});
