import fc from 'fast-check';
import { Instants } from './instants.js';

it('two thousand readings that arrive within a second have two thousand instants', () => {
  const instants = new Instants();
  const given = Array.from({ length: 2000 }, (_, i) => instants.free(1, 1_000_000 + (i >> 2)));
  expect(new Set(given).size).toBe(2000);
  expect(given.every((t, i) => i === 0 || t > (given[i - 1] as number))).toBe(true);
  expect(Math.max(...given)).toBeLessThan(1_000_000 + 2000);
});
it('points do not take one another’s milliseconds', () => {
  const instants = new Instants();
  expect([instants.free(1, 5000), instants.free(2, 5000), instants.free(1, 5000)]).toEqual([
    5000, 5000, 5001,
  ]);
});
it('a clock that is set back by an hour is followed, not run ahead of', () => {
  const instants = new Instants();
  instants.free(1, 10_000_000);
  expect(instants.free(1, 6_400_000)).toBe(6_400_000);
  expect(instants.free(1, 6_400_000)).toBe(6_400_001);
});
it('the newest own time only grows', () => {
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 0, max: 1e12 }), { minLength: 1 }), (times) => {
      const instants = new Instants();
      let greatest = -Infinity;
      for (const t of times) {
        greatest = t > greatest ? t : greatest;
        expect(instants.noteOwn(1, t)).toBe(greatest);
      }
    }),
  );
});
