import type { Look, SettingSeen, SettingsSeen } from '../circuit.js';
import { checkSettings } from './settings.js';

const seen = (over: Partial<SettingSeen> & Pick<SettingSeen, 'role' | 'read'>): SettingSeen => ({
  name: over.role,
  unit: '',
  phase: null,
  wanted: over.read,
  before: null,
  changedAt: null,
  step: 1,
  ...over,
});
const look = (settings: SettingsSeen | null): Look =>
  ({ circuit: { lines: ['L1', 'L2', 'L3'] }, settings }) as unknown as Look;
const check = (set: SettingSeen[], over: Partial<SettingsSeen> = {}) =>
  checkSettings(look({ set, sensing: null, gains: [], ...over }));

it('says nothing of a device without settings', () => {
  expect(checkSettings(look(null))).toBeNull();
  expect(check([])).toBeNull();
});

it('cannot tell of settings that have not been read, or of which nothing is wanted', () => {
  expect(check([seen({ role: 'other', read: null })])?.check.verdict).toBe('cannot-tell');
  expect(check([seen({ role: 'other', read: 3, wanted: null })])?.check.verdict).toBe('cannot-tell');
});

it('names what is not as wanted, by its name where it has one', () => {
  const names = [
    { value: 0, name: 'four wires' },
    { value: 1, name: 'L1 alone' },
  ];
  const found = check([
    seen({ role: 'wiring-mode', name: 'Wiring mode', names, read: 1, wanted: 0 }),
    seen({ role: 'other', read: 3 }),
  ]);
  expect(found?.check).toMatchObject({
    verdict: 'fail',
    says: '“Wiring mode” is L1 alone in the device and wanted four wires.',
  });
  expect(found?.fault).toBeNull();
});

it('an interval that is not as wanted makes no reading wrong', () =>
  expect(check([seen({ role: 'report-interval', read: 1, wanted: 5 })])?.check.verdict).toBe('cannot-tell'));

it('a ratio that is applied twice is a wrong ratio, whatever else is not as wanted', () => {
  const found = check(
    [seen({ role: 'primary-current', read: 100, wanted: 200 }), seen({ role: 'secondary-current', read: 5 })],
    { sensing: { kind: 'current-transformer', ratio: 20, ratedCurrent: 100 } },
  );
  expect(found).toMatchObject({
    check: {
      verdict: 'fail',
      says: 'The transformer’s ratio is applied twice: it reads 20 times what flows.',
    },
    fault: { kind: 'wrong-ratio', factor: 20 },
  });
});

it('a gain is held against the calibration of its own conductor', () => {
  const gain = seen({ role: 'current-gain', name: 'Gain L2', phase: 'L2', read: 1.03, step: 0.0001 });
  const calibrated = (phase: 'L1' | 'L2') => ({
    gains: [{ name: 'Current', quantity: 'current' as const, phase, gain: 1.03, at: 1000 }],
  });
  expect(check([gain], calibrated('L2'))?.check.verdict).toBe('fail');
  expect(check([gain], calibrated('L1'))?.check.verdict).toBe('pass');
});
