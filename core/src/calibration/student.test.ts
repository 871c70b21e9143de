import { coverageFactor, effectiveDegrees } from './student.js';

/** Share of Student's distribution within ±t, by integrating its density (Simpson's rule), without the table. */
function within(t: number, degrees: number): number {
  const density = (x: number) => (1 + x ** 2 / degrees) ** (-(degrees + 1) / 2);
  const simpson = (to: number, steps: number) => {
    const h = to / steps;
    let sum = density(0) + density(to);
    for (let i = 1; i < steps; i++) sum += (i % 2 === 1 ? 4 : 2) * density(i * h);
    return (sum * h) / 3;
  };
  // The whole, with x = tan θ · √degrees so that the tail is finite: ∫ cos^(degrees−1) θ dθ over a quarter turn.
  const steps = 20_000;
  let whole = 0;
  for (let i = 0; i < steps; i++)
    whole += Math.cos(((i + 0.5) / steps) * (Math.PI / 2)) ** (degrees - 1) * (Math.PI / 2 / steps);
  return simpson(t, 20_000) / (whole * Math.sqrt(degrees));
}

it.each([1, 2, 3, 4, 5, 7, 10, 15, 19, 20, 25, 30, 40, 50, 100])(
  'with %i degrees of freedom the factor of the table covers 95 %%',
  (degrees) => expect(within(coverageFactor(degrees), degrees)).toBeCloseTo(0.95, 2.5),
);
it('between two lines the factor is on the safe side, and 1.96 without end', () => {
  expect(coverageFactor(22)).toBe(coverageFactor(20));
  expect(coverageFactor(0.4)).toBe(12.71);
  expect(coverageFactor(Infinity)).toBe(1.96);
  expect(coverageFactor(1e6)).toBeCloseTo(1.98, 1);
});
// GUM, H.1.6 (end gauge, recalled): u = 32 nm of 25 nm with 18, 9.7 nm with 25.6, 2.9 nm with 50, 16.6 nm with 2 degrees: ν = 16.
it('effective degrees of freedom, the worked case of the end gauge', () => {
  const parts = [
    { u: 25, degrees: 18 },
    { u: 9.7, degrees: 25.6 },
    { u: 2.9, degrees: 50 },
    { u: 16.6, degrees: 2 },
  ];
  expect(Math.hypot(...parts.map((p) => p.u))).toBeCloseTo(31.7, 1);
  expect(Math.floor(effectiveDegrees(parts))).toBe(16);
});
it('parts that are known for certain limit nothing', () => {
  expect(effectiveDegrees([{ u: 1, degrees: Infinity }])).toBe(Infinity);
  expect(effectiveDegrees([])).toBe(Infinity);
  expect(
    effectiveDegrees([
      { u: 1, degrees: 4 },
      { u: 0, degrees: 1 },
    ]),
  ).toBe(4);
});
