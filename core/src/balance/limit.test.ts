import { limitOf } from './limit.js';

const nothing = { calibrated: null, accuracyClass: null, assumedVoltage: false };

it('a meter of which nothing is known is taken for ±3 % (trade)', () =>
  expect(limitOf(nothing)).toEqual({ relative: 0.03, why: 'not calibrated' }));
it('a calibration says more than a class, and leaves half a per cent', () => {
  expect(limitOf({ ...nothing, calibrated: 0.012, accuracyClass: '3' }).relative).toBeCloseTo(0.013, 12);
  expect(limitOf({ ...nothing, accuracyClass: '0.5S' }).relative).toBeCloseTo(
    Math.sqrt(0.005 ** 2 + 0.01 ** 2),
    12,
  );
});
it('an assumed voltage adds its ±10 % (EN 50160)', () =>
  expect(limitOf({ ...nothing, assumedVoltage: true }).relative).toBeCloseTo(Math.sqrt(0.0109), 12));
