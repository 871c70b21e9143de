import fc from 'fast-check';
import { BatchReader } from './batch.js';
import { valueOf, readSpanOf, type PointDefinition } from './definition.js';
import { newPoint } from './newPoint.js';
import { VALUE_TYPES } from './types.js';

const value = (more: Partial<PointDefinition>): PointDefinition => newPoint({ key: 'v', ...more });

/** The words of a number as DataView puts them, big end first. */
function words(bytes: 2 | 4, put: (view: DataView) => void): number[] {
  const view = new DataView(new ArrayBuffer(bytes));
  put(view);
  return bytes === 2 ? [view.getUint16(0)] : [view.getUint16(0), view.getUint16(2)];
}
const swap = (word: number) => ((word & 0xff) << 8) | (word >> 8);

// The words are made by DataView, so that the expectation is not the decoder's own.
it.each([
  ['uint16', 65_535, words(2, (v) => v.setUint16(0, 65_535))],
  ['int16', -4321, words(2, (v) => v.setInt16(0, -4321))],
  ['uint32', 4_000_000_000, words(4, (v) => v.setUint32(0, 4_000_000_000))],
  ['int32', -4321, words(4, (v) => v.setInt32(0, -4321))],
  ['float32', 230.15, words(4, (v) => v.setFloat32(0, 230.15))],
] as const)('%s in all orders of words and bytes', (type, number, plain) => {
  const low = [...plain].reverse();
  for (const [wordOrder, byteOrder, sent] of [
    ['high-first', 'high-first', plain],
    ['low-first', 'high-first', low],
    ['high-first', 'low-first', plain.map(swap)],
    ['low-first', 'low-first', low.map(swap)],
  ] as const) {
    // It begins in the middle of the request, at register 40 of one that begins at 38.
    const reader = new BatchReader([value({ type, wordOrder, byteOrder, address: '40' })], 38);
    const got = reader.value(0, [9, 9, ...sent, 9]);
    if (type === 'float32') expect(got).toBe(Math.fround(number));
    else expect(got).toBe(number);
  }
});
it('scaling and unit: two pairs, and a factor with kilowatts', () => {
  const scaling = { kind: 'pairs', raw1: 0, value1: 0, raw2: 9999, value2: 144 } as const;
  const reader = new BatchReader(
    [
      value({ scaling, quantity: 'voltage', unit: 'V' }),
      value({
        address: '1',
        scaling: { kind: 'factor', factor: 0.01, offset: 1 },
        quantity: 'active-power',
        unit: 'kW',
      }),
    ],
    0,
  );
  expect(reader.value(0, [9999, 250])).toBeCloseTo(144, 9); // raw 0–9999 is 0–144 V (trade)
  expect(reader.value(1, [9999, 250])).toBeCloseTo(3500, 9);
});
it('what cannot be true is told, as is what is not there', () => {
  const reader = new BatchReader(
    [value({ quantity: 'power-factor' }), value({ address: '5', type: 'float32' })],
    0,
  );
  expect([0, 1, 2].map((v) => reader.isPossible(0, v))).toEqual([true, true, false]);
  for (const short of [[], [1], [1, 2, 3, 4, 5, 6], [0, 0, 0, 0, 0, -1, 7], [0, 0, 0, 0, 0, 1.5, 7]])
    expect(reader.value(1, short)).toBeNaN();
});
it('of whatever kind the values are, they read as one by one', () => {
  const any = fc.record({
    kind: fc.constantFrom('holding' as const, 'coil' as const),
    type: fc.constantFrom(...VALUE_TYPES),
    wordOrder: fc.constantFrom('high-first' as const, 'low-first' as const),
    byteOrder: fc.constantFrom('high-first' as const, 'low-first' as const),
    address: fc.integer({ min: 0, max: 8 }).map(String),
    inverted: fc.boolean(),
    companion: fc.option(
      fc.constantFrom(
        { role: 'exponent', address: '3' } as const,
        { role: 'decimals', address: '3', digits: 2 } as const,
      ),
      { nil: undefined },
    ),
  });
  const list = fc.array(fc.integer({ min: 0, max: 0xffff }), { minLength: 16, maxLength: 16 });
  fc.assert(
    fc.property(fc.array(any, { minLength: 1, maxLength: 6 }), list, (made, all) => {
      const definitions = made.map(({ companion, kind, type, ...more }) =>
        value({
          ...more,
          kind,
          type: kind === 'coil' ? 'bool' : type,
          ...(type === 'string' ? { length: 2 } : {}),
          ...(companion && kind === 'holding' && type !== 'string' && type !== 'bool' ? { companion } : {}),
        } as Partial<PointDefinition>),
      );
      const reader = new BatchReader(definitions, 0);
      definitions.forEach((definition, i) => {
        const span = readSpanOf(definition);
        const one = span ? valueOf(definition, all.slice(span.start, span.start + span.count)) : NaN;
        expect(reader.value(i, all)).toBe(one);
      });
    }),
    { numRuns: 2000 },
  );
});
