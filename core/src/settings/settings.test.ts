import { appliedGain, appliedRatio } from './applied.js';
import { settingState } from './state.js';

const set = (primary: number, secondary = 5) =>
  [
    { role: 'primary-current', value: primary },
    { role: 'secondary-current', value: secondary },
  ] as const;
const transformer = (ratio: number, ratedCurrent: number | null = 100) => ({
  kind: 'current-transformer' as const,
  ratio,
  ratedCurrent,
});

// By hand, of a transformer of 100 : 5 A through which 40 A flow: its secondary carries 2 A. A meter that is set for p : 5
// shows 2 · p / 5, and Loka shows that times its ratio; over 40 A that is the factor.
it.each([
  ['set in the meter', 100, 1, 'once', 1],
  ['set in Loka alone, the meter showing its secondary', 5, 20, 'once', 1],
  ['set in both', 100, 20, 'twice', 20],
  ['set nowhere', 5, 1, 'nowhere', 0.05],
  ['set for 150 : 5', 150, 1, 'off', 1.5],
  ['half in the meter, half in Loka', 50, 2, 'once', 1],
])('the ratio of a transformer, %s', (_, primary, inLoka, where, factor) => {
  const shown = (2 * primary) / 5;
  expect((shown * inLoka) / 40).toBeCloseTo(factor, 12);
  expect(appliedRatio(set(primary), transformer(inLoka))).toMatchObject({ where, factor });
});

it('the ratio of a transformer of which nobody knows the plate', () => {
  expect(appliedRatio(set(100), transformer(20, null))).toMatchObject({ where: 'twice', factor: 20 });
  expect(appliedRatio(set(100), transformer(1, null))).toMatchObject({ where: 'once' });
  expect(appliedRatio(set(5), transformer(20, null))).toMatchObject({ where: 'once' });
  // A meter for 100 : 5 behind a transformer of 200 : 5 wants 2; without the plate that may be meant, or not.
  expect(appliedRatio(set(100), transformer(2, null))).toMatchObject({ where: 'cannot-tell', factor: null });
  expect(appliedRatio(set(100), transformer(2, 200))).toMatchObject({ where: 'once' });
});

it('a meter without a transformer is not to be set for one', () => {
  const direct = { kind: 'direct' as const, ratio: 1, ratedCurrent: null };
  expect(appliedRatio(set(100), direct)).toMatchObject({ where: 'off', factor: 20 });
  expect(appliedRatio(set(5), direct)).toMatchObject({ where: 'once' });
  expect(appliedRatio([{ role: 'current-ratio', value: 40 }], direct)).toMatchObject({ factor: 40 });
});

it('says nothing of a ratio where the device tells none', () => {
  expect(appliedRatio([{ role: 'current-gain', value: 1.02 }], transformer(20))).toBeNull();
  expect(appliedRatio([{ role: 'secondary-current', value: 5 }], transformer(20))).toBeNull();
});

describe('a gain', () => {
  const never = { before: null, changedAt: null };
  it.each([
    ['in the device alone', 1.03, never, 1, 'once', 1],
    ['in Loka alone', 1, never, 1.03, 'once', 1],
    ['the same in both', 1.03, never, 1.031, 'twice', 1.03],
    ['that differ, each for something else', 1.03, never, 0.98, 'once', 1],
    [
      'that was in the device before Loka was calibrated',
      1.03,
      { before: 1, changedAt: 500 },
      1.03,
      'once',
      1,
    ],
    [
      'that was written into the device afterwards',
      1.03,
      { before: 1, changedAt: 2000 },
      1.03,
      'twice',
      1.03,
    ],
    [
      'that was changed afterwards to something else',
      1.1,
      { before: 1, changedAt: 2000 },
      1.03,
      'changed',
      1.1,
    ],
    [
      'that was written onto one that was there',
      1.0609,
      { before: 1.03, changedAt: 2000 },
      1.03,
      'twice',
      1.03,
    ],
  ])('%s', (_, inDevice, change, inLoka, where, factor) => {
    const applied = appliedGain(inDevice, change, inLoka, 1000);
    expect(applied.where).toBe(where);
    expect(applied.factor).toBeCloseTo(factor, 9);
  });
});

it.each([
  [null, 5, 1, 'not-read'],
  [5, null, 1, 'nothing-wanted'],
  [5, 5, 1, 'as-wanted'],
  [5, 6, 1, 'differs'],
  [1.0003, 1.0004, 0.0001, 'differs'],
  // As 32 bits hold 1.05.
  [Math.fround(1.05), 1.05, 0, 'as-wanted'],
  [1.0501, 1.05, 0, 'differs'],
] as const)('read %p, wanted %p in steps of %p: %s', (read, wanted, step, state) =>
  expect(settingState(read, wanted, step)).toBe(state),
);
