import { doubtsOf } from './doubt.js';
import {
  expandedOf,
  instrumentReference,
  isGoodEnough,
  loadReference,
  resistiveWatts,
  zeroReference,
} from './reference.js';
import { bestClass, judgeClass, type JudgedLoad } from './verdict.js';

const at = (load: number, error: number, uncertainty: number): JudgedLoad => ({ load, error, uncertainty });

// Class 1 of a reference current of 20 A: ±1.5 % from 1 to 2 A, ±1 % from 2 A on.
describe('a class', () => {
  it.each([
    ['inside with all uncertainty', [at(1.5, 1, 0.4), at(10, -0.3, 0.5)], 'meets', 1.5, 10],
    ['inside, but not for certain', [at(1.5, 1, 0.4), at(10, 0.7, 0.5)], 'cannot-tell', null, null],
    ['outside whatever the uncertainty', [at(1.5, 1, 0.4), at(10, 1.6, 0.5)], 'exceeds', null, null],
    ['outside, but not for certain', [at(10, 1.2, 0.5)], 'cannot-tell', null, null],
    ['the same error at a small load is within its wider limit', [at(1.5, 1.2, 0.2)], 'meets', 1.5, 1.5],
    ['only where the class asks for nothing', [at(0.5, 9, 1)], 'cannot-tell', null, null],
    ['a wild error where it asks for nothing says nothing', [at(0.5, 9, 1), at(5, 0, 0.5)], 'meets', 5, 5],
    ['power that flows out', [at(-5, 0.2, 0.5)], 'meets', 5, 5],
    ['no points', [], 'cannot-tell', null, null],
  ])('%s', (_, points, verdict, from, to) =>
    expect(judgeClass('1', points, 20)).toEqual({ accuracy: '1', verdict, from, to }),
  );
  it('the best one that is met', () => {
    expect(bestClass([at(2, 0.1, 0.05), at(15, 0.05, 0.1)], 20)?.accuracy).toBe('0.2S');
    expect(bestClass([at(2, 0.1, 0.3), at(15, 0.05, 0.3)], 20)?.accuracy).toBe('0.5S');
    expect(bestClass([at(2, 0.9, 0.8), at(15, 0.9, 0.8)], 20)?.accuracy).toBe('2');
    expect(bestClass([at(2, 5, 1)], 20)).toBeNull();
  });
});

describe('references', () => {
  // 1.5 % of 11.35 A is 0.17025; /√3 0.0983; the digit 0.01/√12 0.00289.
  it('a handheld, by its tolerance and its digit', () => {
    const reference = instrumentReference('clamp', 11.35, 11.35, { percent: 1.5, digit: 0.01 });
    expect(reference).toMatchObject({ value: 11.35, key: 'clamp' });
    expect(reference.shared * reference.value).toBeCloseTo(0.0983, 4);
    expect(reference.own).toBeCloseTo(0.00289, 5);
    expect(expandedOf(reference)).toBeCloseTo(2 * Math.hypot(0.0983, 0.00289), 3);
  });
  // Between 5.0 and 5.2 A it may be anything: ±0.1/√3.
  it('one that flutters', () => {
    const reference = instrumentReference('clamp', 5, 5.2, { percent: 0, digit: 0 });
    expect(reference.value).toBeCloseTo(5.1, 12);
    expect(reference.own).toBeCloseTo(0.057735, 6);
    expect(instrumentReference('clamp', 5.2, 5, { percent: 0, digit: 0 }).own).toBeCloseTo(0.057735, 6);
  });
  it('a heater of 3000 W at 230 V takes 2745 W at 220 V (trade)', () =>
    expect(resistiveWatts(3000, 220, 230)).toBeCloseTo(2745, 0));
  it('a plate of ±10 % cannot judge a class 1, a meter of ±0.2 % can', () => {
    expect(isGoodEnough(loadReference('kettle', 10, 10), 0.1)).toBe(false);
    // 2 · 0.2/√3 = 0.23 % of 10 A: within a quarter of 1 %.
    expect(isGoodEnough(loadReference('meter', 10, 0.2), 0.1)).toBe(true);
    expect(isGoodEnough(zeroReference(), 0)).toBe(true);
  });
});

describe('what is asked about', () => {
  const kinds = (
    fit: { gain: number; method: 'gain' | 'line' | 'offset' },
    zeros: number[],
    rated: number | null,
  ) => doubtsOf(fit, zeros, rated, 'A').map((d) => d.kind);
  it.each([
    [{ gain: 1.05, method: 'line' }, [0.02], 16, []],
    [{ gain: 1, method: 'offset' }, [4.9], 16, ['zero-with-load']],
    [{ gain: 1, method: 'offset' }, [4.9], null, ['zero-with-load']],
    [{ gain: 1, method: 'offset' }, [-0.4], 63, []],
    [{ gain: -1.02, method: 'line' }, [0], 16, ['turned']],
    [{ gain: 20, method: 'gain' }, [], 16, ['odd-gain']],
    [{ gain: 0.05, method: 'gain' }, [], 16, ['odd-gain']],
  ] as const)('%p, zeros %p, rated %p: %p', (fit, zeros, rated, expected) =>
    expect(kinds(fit, [...zeros], rated)).toEqual(expected),
  );
});
