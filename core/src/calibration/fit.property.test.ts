import fc from 'fast-check';
import { applyCorrection } from './correction.js';
import { fitCorrection } from './fit.js';

const gain = fc.double({ min: 0.5, max: 2, noNaN: true });
const offset = fc.double({ min: -5, max: 5, noNaN: true });
const loads = fc
  .uniqueArray(fc.integer({ min: 0, max: 600 }), { minLength: 2, maxLength: 12 })
  .map((list) => list.map((n) => n / 10));

it('undoes any gain and zero error that a transducer can have, from two points on', () => {
  fc.assert(
    fc.property(gain, offset, loads, (g, o, truths) => {
      const fit = fitCorrection(truths.map((truth) => ({ raw: truth * g + o, reference: truth })));
      for (const truth of truths) expect(applyCorrection(fit, truth * g + o)).toBeCloseTo(truth, 6);
    }),
  );
});
it('does not depend on the order in which the points were taken', () => {
  fc.assert(
    fc.property(
      gain,
      offset,
      loads,
      fc.array(fc.double({ min: -0.05, max: 0.05, noNaN: true }), { minLength: 12, maxLength: 12 }),
      (g, o, truths, noise) => {
        const points = truths.map((truth, i) => ({
          raw: truth * g + o,
          reference: truth + (noise[i] as number),
        }));
        const [a, b] = [fitCorrection(points), fitCorrection([...points].reverse())];
        expect(a.gain).toBeCloseTo(b.gain, 9);
        expect(a.offset).toBeCloseTo(b.offset, 7);
      },
    ),
  );
});
it('least squares: no other line near it leaves a smaller sum of squares', () => {
  fc.assert(
    fc.property(
      loads.filter((l) => l.length > 2),
      fc.array(fc.double({ min: -0.5, max: 0.5, noNaN: true }), { minLength: 12, maxLength: 12 }),
      (truths, noise) => {
        const points = truths.map((truth, i) => ({ raw: truth, reference: truth + (noise[i] as number) }));
        const squares = (line: { gain: number; offset: number }) =>
          points.reduce((sum, p) => sum + (p.reference - applyCorrection(line, p.raw)) ** 2, 0);
        let fit;
        try {
          fit = fitCorrection(points);
        } catch (error) {
          // Loads so close together that the noise turns them round are refused; nothing else may be.
          expect(error).toMatchObject({ name: 'FitError', code: 'no-gain' });
          return;
        }
        for (const [dg, d0] of [
          [1e-3, 0],
          [-1e-3, 0],
          [0, 1e-3],
          [0, -1e-3],
          [1e-3, -1e-2],
          [-1e-3, 1e-2],
        ] as const)
          expect(squares({ gain: fit.gain + dg, offset: fit.offset + d0 })).toBeGreaterThanOrEqual(
            squares(fit) - 1e-12,
          );
      },
    ),
  );
});
