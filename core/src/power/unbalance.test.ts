import { lagOf, neutralCurrent, unbalance, type LineCurrent } from './unbalance.js';

const lines = (...amperes: number[]): LineCurrent[] =>
  amperes.map((a, i) => ({ line: (['L1', 'L2', 'L3'] as const)[i]!, amperes: a, lag: 0 }));

// Handbook: for equal power factors I_N² = a² + b² + c² − ab − bc − ca.
it.each([
  [10, 10, 10],
  [10, 0, 0],
  [10, 10, 0],
  [63, 40, 25],
  [8.3, 12.9, 1.1],
])('of %d, %d and %d A the neutral carries what the handbook says', (a, b, c) =>
  expect(neutralCurrent(lines(a, b, c), 'three-phase')).toBeCloseTo(
    Math.sqrt(a * a + b * b + c * c - a * b - b * c - c * a),
    9,
  ),
);
it('of the two lines of a split-phase supply it carries the difference', () =>
  expect(neutralCurrent(lines(20, 12), 'split-phase')).toBeCloseTo(8, 9));
it('equal currents of unequal lag do not cancel', () => {
  // By hand: 10∠0°, 10∠(−120−60)°, 10∠120° = (10 − 10 − 5) + j(0 + 0 + 8.660) → 10.
  const [a, b, c] = lines(10, 10, 10) as [LineCurrent, LineCurrent, LineCurrent];
  expect(neutralCurrent([a, { ...b, lag: 60 }, c], 'three-phase')).toBeCloseTo(10, 9);
  expect(lagOf(0.5)).toBeCloseTo(60, 9);
  expect([lagOf(1), lagOf(null), lagOf(-1.001)]).toEqual([0, 0, 0]);
});
it('unbalance of 460, 467 and 450 V is 1.96 % (the example of NEMA MG 1, recalled from memory)', () => {
  expect(unbalance([460, 467, 450])).toBeCloseTo(0.0196, 4);
  expect([unbalance([230]), unbalance([0, 0, 0])]).toEqual([null, null]);
});
