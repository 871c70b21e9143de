import { classLimit, displacementLimit, phaseError, classesOf, ratedLoad } from './classes.js';

// Corners of the tables of IEC 62053-21, IEC 62053-22 and IEC 61869-2 (recalled; CHECKS.md of the design).
it.each([
  ['1', 0.049, null],
  ['1', 0.05, 1.5],
  ['1', 0.0999, 1.5],
  ['1', 0.1, 1],
  ['1', 6, 1],
  ['2', 0.05, 2.5],
  ['2', 0.1, 2],
  ['0.2S', 0.0099, null],
  ['0.2S', 0.01, 0.4],
  ['0.2S', 0.05, 0.2],
  ['0.5S', 0.01, 1],
  ['0.5S', 0.05, 0.5],
  ['ct-0.5', 0.049, null],
  ['ct-0.5', 0.05, 1.5],
  ['ct-0.5', 0.2, 0.75],
  ['ct-0.5', 1, 0.5],
  ['ct-0.5', 1.2, 0.5],
  ['ct-0.5', 1.21, null],
  ['ct-1', 0.05, 3],
  ['ct-1', 0.2, 1.5],
  ['ct-1', 1, 1],
] as const)('class %s at %p of the rated current allows %p %%', (accuracy, load, percent) =>
  expect(classLimit(accuracy, load)).toBe(percent),
);
it.each([
  ['1', 0.1, 1.5],
  ['1', 0.2, 1],
  ['2', 0.19, 2.5],
  ['0.2S', 0.02, 0.5],
  ['0.2S', 0.1, 0.3],
  ['0.5S', 0.02, 1],
  ['0.5S', 0.1, 0.6],
  ['0.5S', 0.019, null],
] as const)('class %s at %p and power factor 0.5 inductive allows %p %%', (accuracy, load, percent) =>
  expect(classLimit(accuracy, load, true)).toBe(percent),
);
it.each([
  ['ct-0.5', 0.05, 90],
  ['ct-0.5', 0.2, 45],
  ['ct-0.5', 1, 30],
  ['ct-1', 0.05, 180],
  ['ct-1', 0.2, 90],
  ['ct-1', 1.2, 60],
  ['ct-1', 1.3, null],
  ['1', 1, null],
] as const)('the phase of %s at %p may be displaced by %p minutes', (accuracy, load, minutes) =>
  expect(displacementLimit(accuracy, load)).toBe(minutes),
);

// δ · tan φ: 30′ = 0.008727 rad, tan 60° = 1.732, so 1.51 %; with the square of δ, 1.508 %.
it('a displaced phase makes a power wrong by δ · tan φ', () => {
  expect(phaseError(30, 0.5)).toBeCloseTo(1.508, 3);
  expect(phaseError(-30, 0.5)).toBeCloseTo(-1.515, 3);
  // At power factor 1 only by the square of half of it.
  expect(phaseError(30, 1)).toBeCloseTo(-100 * (0.0087266 ** 2 / 2), 6);
});

it('a class counts shares of the rated current, or of the power that it is; other quantities have none', () => {
  // 16 A at 230 V are 3680 W on a line, and 11 040 W on three.
  expect(ratedLoad('current', 16, 230, 3)).toBe(16);
  expect(ratedLoad('active-power', 16, 230, 1)).toBe(3680);
  expect(ratedLoad('active-power', 16, 230, 3)).toBe(11_040);
  expect(ratedLoad('voltage', 16, 230, 1)).toBeNull();
  expect(ratedLoad('current', null, 230, 1)).toBeNull();
  expect(classesOf('active-power')).toEqual(['0.2S', '0.5S', '1', '2']);
  expect(classesOf('current')).toContain('ct-1');
});
