import fc from 'fast-check';
import type { Quantity } from '../quantities/index.js';
import { QUALITY, type Sample } from '../series/index.js';
import {
  assumedBetween,
  computeAt,
  computeOver,
  cycleThrough,
  evaluate,
  FormulaError,
  namesIn,
  parseFormula,
  unitFault,
  type InputSeries,
} from './index.js';

const value = (text: string, values: Record<string, number> = {}) =>
  evaluate(parseFormula(text), new Map(Object.entries(values)));

describe('a formula', () => {
  it.each([
    ['1 + 2 * 3', 7],
    ['(1 + 2) * 3', 9],
    ['-2 - -3', 1],
    ['8 / 4 / 2', 1],
    ['max(1, min(5, 3), 2)', 3],
    ['abs(-4.5)', 4.5],
    ['1.5e3 − 0.5', 1499.5],
    ['first(2, 3) * 4', 8],
  ])('%s = %d', (text, result) => expect(value(text)).toBe(result));
  it('site demand: import less export, and what roof and battery add (JOB)', () => {
    expect(
      value('import - export + roof + discharge - charge', {
        import: 0,
        export: 800,
        roof: 5000,
        discharge: 0,
        charge: 1200,
      }),
    ).toBe(3000);
  });
  it('lists its names, each once', () =>
    expect(namesIn(parseFormula('a + b * a - max(c, b)'))).toEqual(['a', 'b', 'c']));
  it.each([
    ['', 'Type a formula'],
    ['a +', 'not complete'],
    ['a b', 'an operator is missing'],
    ['2a', 'an operator is missing'],
    ['a = 5', 'not part of a formula'],
    ['[1, 2]', 'not part of a formula'],
    ['"text"', 'not part of a formula'],
    ['a ^ 2', 'not part of a formula'],
    ['f(x) = x', 'not part of a formula'],
    ['import("x")', 'not known'],
    ['sqrt(4)', 'not known'],
    ['constructor(1)', 'not known'],
    ['abs(1, 2)', 'abs takes'],
    ['a.b', 'not part of a formula'],
    ['a; b', 'not part of a formula'],
  ])('refuses %j: %s', (text, message) => {
    expect(() => parseFormula(text)).toThrow(message);
    expect(() => parseFormula(text)).toThrow(FormulaError);
  });
  it('whatever is typed is a formula or refused as none; nothing else happens', () => {
    const piece = fc.constantFrom(
      'a',
      'b',
      '1',
      '+',
      '-',
      '*',
      '/',
      '(',
      ')',
      'max',
      ',',
      ' ',
      '=',
      '[',
      '"',
      ';',
      'import',
      '.',
      '!',
      '%',
      "'",
    );
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 14 }), (pieces) => {
        try {
          expect(typeof value(pieces.join(''), { a: 1, b: 2 })).toBe('number');
        } catch (error) {
          expect(error).toBeInstanceOf(FormulaError);
        }
      }),
      { numRuns: 3000, seed: 7 },
    );
  });
});

describe('its units', () => {
  const quantities = new Map<string, Quantity>([
    ['v', 'voltage'],
    ['i', 'current'],
    ['p', 'active-power'],
    ['s', 'apparent-power'],
    ['pf', 'power-factor'],
    ['e', 'energy-import'],
  ]);
  const fault = (text: string, wanted: Quantity) => unitFault(parseFormula(text), quantities, wanted);
  it.each<[string, Quantity]>([
    ['p + p', 'active-power'],
    ['2 * p - p / 3', 'active-power'],
    ['v * i', 'apparent-power'],
    ['v * i', 'active-power'],
    ['v * i * pf', 'active-power'],
    ['nominal * i', 'active-power'],
    ['p / s', 'power-factor'],
    ['p / v', 'current'],
    ['max(p, p)', 'active-power'],
    ['-p', 'active-power'],
  ])('%s gives %s', (text, wanted) => expect(fault(text, wanted)).toBeNull());
  it.each<[string, Quantity, string]>([
    ['v + i', 'voltage', 'V and A cannot be added'],
    ['p + s', 'active-power', 'W and VA cannot be added'],
    ['p - e', 'active-power', 'Wh cannot be taken from W'],
    ['p + 5', 'active-power', 'a bare number'],
    ['v', 'current', 'This gives V, and current is in A'],
    ['e / p', 'active-power', 'This gives h'],
    ['x + p', 'active-power', '“x” is not one of the inputs'],
    ['p', 'apparent-power', 'This gives W'],
  ])('%s as %s: %s', (text, wanted, message) => expect(fault(text, wanted)).toContain(message));
});

describe('computed', () => {
  const sum = parseFormula('a + b');
  const at = (a: Sample | null, b: Sample | null) =>
    computeAt(
      sum,
      1000,
      new Map([
        ['a', a],
        ['b', b],
      ]),
      230,
    );
  const good = (v: number): Sample => ({ t: 900, v, q: QUALITY.good });
  it('the quality follows the inputs', () => {
    expect(at(good(1), good(2))).toEqual({ t: 1000, v: 3, q: QUALITY.good });
    expect(at(good(1), { t: 900, v: 2, q: QUALITY.implausible })).toEqual({
      t: 1000,
      v: 3,
      q: QUALITY.uncertain,
    });
    expect(at(good(1), { t: 900, v: null, q: QUALITY.timeout })).toEqual({
      t: 1000,
      v: null,
      q: QUALITY.inputBad,
    });
    expect(at(good(1), null)).toEqual({ t: 1000, v: null, q: QUALITY.inputBad });
  });
  it('an assumed voltage makes it uncertain: 5 A at 230 V are 1150 W (trade)', () => {
    const sample = computeAt(parseFormula('nominal * i'), 0, new Map([['i', good(5)]]), 230);
    expect(sample).toEqual({ t: 0, v: 1150, q: QUALITY.assumed });
  });
  describe('while a voltage that is borrowed is silent', () => {
    const formula = parseFormula('first(u, nominal) * i * 0.9');
    const now = (u: Sample | null) =>
      new Map([
        ['u', u],
        ['i', good(5)],
      ]);
    it('the nominal one stands in, and it is marked; with its reading it is good: 5 A · 0.9 (by hand)', () => {
      expect(computeAt(formula, 0, now(good(240)), 230)).toEqual({ t: 0, v: 1080, q: QUALITY.good });
      const silent: Sample = { t: 900, v: null, q: QUALITY.silent };
      for (const none of [null, silent])
        expect(computeAt(formula, 0, now(none), 230)).toEqual({ t: 0, v: 1035, q: QUALITY.assumed });
    });
    it('it lies between what a supply may be, 207 and 253 V (EN 50160)', () => {
      const between = assumedBetween(formula, now(null), 230);
      expect(between?.[0]).toBeCloseTo(207 * 5 * 0.9, 9);
      expect(between?.[1]).toBeCloseTo(253 * 5 * 0.9, 9);
      expect(assumedBetween(formula, now(good(240)), 230)).toBeNull();
      // What it is taken from lies the other way round.
      const rest = parseFormula('total - nominal * i');
      const less = assumedBetween(rest, new Map([...now(null), ['total', good(2000)]]), 230);
      expect(less).toEqual([2000 - 253 * 5, 2000 - 207 * 5].map((v) => expect.closeTo(v, 9)));
    });
    it('without what has no stand-in it is nothing', () =>
      expect(
        computeAt(
          formula,
          0,
          new Map([
            ['u', null],
            ['i', null],
          ]),
          230,
        ).q,
      ).toBe(QUALITY.inputBad));
    it('over what was recorded it changes at the instant from which the voltage holds no more', () => {
      const at = (name: string, samples: [number, number][], hold: number): InputSeries => ({
        name,
        samples: samples.map(([t, v]) => ({ t, v, q: QUALITY.good })),
        holdMs: () => hold,
      });
      const amperes = [0, 1, 2, 3, 4, 5].map((s): [number, number] => [s * 1000, 5]);
      const span = { from: 0, to: 6000, stepMs: 1000 };
      const values = (volts: [number, number][]) =>
        [...computeOver(formula, [at('u', volts, 2500), at('i', amperes, 2500)], span, 230)].map(
          ({ v, q }) => [v, q === QUALITY.assumed],
        );
      expect(values([[0, 240]])).toEqual([
        [1080, false],
        [1080, false],
        [1080, false],
        [1035, true],
        [1035, true],
        [1035, true],
      ]);
      // Before it was ever read, the nominal one stands in as well.
      expect(values([[4000, 240]]).map(([v]) => v)).toEqual([1035, 1035, 1035, 1035, 1080, 1080]);
    });
  });
  it('with a clamp at the end of its range it is at least so much, or it is not known', () => {
    const ended = (v: number): Sample => ({ t: 900, v, q: QUALITY.saturated });
    const of = (formula: string, a: Sample, b: Sample) =>
      computeAt(
        parseFormula(formula),
        0,
        new Map([
          ['a', a],
          ['b', b],
        ]),
        230,
      ).q;
    expect(of('a * b', ended(30), good(230))).toBe(QUALITY.saturated);
    expect(of('a + b', ended(3000), good(200))).toBe(QUALITY.saturated);
    expect(of('a - b', good(5000), ended(3000))).toBe(QUALITY.uncertain);
    expect(of('a - b', ended(3000), good(5000))).toBe(QUALITY.uncertain);
    expect(of('a * b', ended(30), { t: 900, v: 230, q: QUALITY.uncertain })).toBe(QUALITY.uncertain);
    expect(of('a * b', { t: 900, v: 230, q: QUALITY.uncertain }, ended(30))).toBe(QUALITY.uncertain);
  });
  it('a division by zero is no number', () => {
    expect(
      computeAt(
        parseFormula('a / b'),
        0,
        new Map([
          ['a', good(1)],
          ['b', good(0)],
        ]),
        230,
      ),
    ).toMatchObject({
      v: null,
      q: QUALITY.notANumber,
    });
  });
  it('over recorded readings: the newest of each input, while it holds', () => {
    const series = (name: string, samples: [number, number][]): InputSeries => ({
      name,
      samples: samples.map(([t, v]) => ({ t, v, q: QUALITY.good })),
      holdMs: () => 2500,
    });
    const out = [
      ...computeOver(
        sum,
        [
          series('a', [
            [0, 1],
            [1000, 2],
            [2000, 3],
            [3000, 4],
          ]),
          series('b', [[500, 10]]),
        ],
        { from: 0, to: 6000, stepMs: 1000 },
        230,
      ),
    ];
    // By hand: b speaks from 500 to 3000 (2.5 s), so there is a sum at 1000, 2000, 3000, nothing before its first reading, and a gap after.
    expect(out).toEqual([
      { t: 1000, v: 12, q: QUALITY.good },
      { t: 2000, v: 13, q: QUALITY.good },
      { t: 3000, v: 14, q: QUALITY.good },
      { t: 4000, v: null, q: QUALITY.inputBad },
    ]);
  });
  it('over recorded readings it is at every instant what it is at that instant alone', () => {
    const samples = fc
      .array(fc.record({ t: fc.integer({ min: 0, max: 20_000 }), v: fc.integer({ min: -100, max: 100 }) }), {
        maxLength: 30,
      })
      .map((list) =>
        [...new Map(list.map((s) => [s.t, { ...s, q: QUALITY.good }])).values()].sort((x, y) => x.t - y.t),
      );
    fc.assert(
      fc.property(samples, samples, (a, b) => {
        const inputs = [
          { name: 'a', samples: a, holdMs: () => 2500 },
          { name: 'b', samples: b, holdMs: () => 4000 },
        ];
        for (const { t, v } of computeOver(sum, inputs, { from: 0, to: 20_000, stepMs: 1000 }, 230)) {
          const newest = (list: Sample[], hold: number) =>
            list.filter((s) => s.t <= t && t - s.t <= hold).at(-1);
          const [x, y] = [newest(a, 2500), newest(b, 4000)];
          expect(v).toBe(x && y ? (x.v as number) + (y.v as number) : null);
        }
      }),
    );
  });
});

it('finds the way round by which a point would be computed from itself', () => {
  const graph: Record<number, number[]> = { 1: [2, 3], 2: [4], 3: [], 4: [5] };
  const inputsOf = (id: number) => graph[id] ?? [];
  expect(cycleThrough(5, [1], inputsOf)).toEqual([5, 1, 2, 4, 5]);
  expect(cycleThrough(5, [3], inputsOf)).toBeNull();
  expect(cycleThrough(1, [1], inputsOf)).toEqual([1, 1]);
});
