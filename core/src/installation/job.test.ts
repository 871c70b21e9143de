import { jobDone } from './job.js';
import { mayHangBelow } from './node.js';

it('a circuit without points has everything before it', () => {
  expect(jobDone({ points: 0, answering: 0, verified: false, calibrated: false, stored: 0 })).toEqual({
    fitted: false,
    connected: false,
    verified: false,
    calibrated: false,
    logging: false,
  });
});
it('one point that does not answer keeps a circuit from being connected', () => {
  expect(jobDone({ points: 3, answering: 2, verified: true, calibrated: true, stored: 3 })).toEqual({
    fitted: true,
    connected: false,
    verified: true,
    calibrated: true,
    logging: true,
  });
});
it('knows what hangs below what', () => {
  expect(mayHangBelow('board', 'supply')).toBe(true);
  expect(mayHangBelow('board', 'circuit')).toBe(true);
  expect(mayHangBelow('circuit', 'load')).toBe(false);
});
