import fc from 'fast-check';
import { decodeWords, encodeWords, RegisterValueError } from './words.js';
import type { ValueType } from './types.js';

/** The words of a float as IEEE 754 lays them out, made by the platform's DataView. */
function floatWords(value: number): [number, number] {
  const view = new DataView(new ArrayBuffer(4));
  view.setFloat32(0, value);
  return [view.getUint16(0), view.getUint16(2)];
}
const swapBytes = (word: number) => ((word & 0xff) << 8) | (word >> 8);

describe('float32 in four orders (IEEE 754 through DataView; 230.15 = 0x43662666)', () => {
  const [high, low] = floatWords(230.15);
  const expected = Math.fround(230.15);

  it('is the bit pattern of the standard', () => expect([high, low]).toEqual([0x4366, 0x2666]));
  it.each([
    ['high-first', 'high-first', [high, low]],
    ['low-first', 'high-first', [low, high]],
    ['high-first', 'low-first', [swapBytes(high), swapBytes(low)]],
    ['low-first', 'low-first', [swapBytes(low), swapBytes(high)]],
  ] as const)('word order %s, byte order %s', (wordOrder, byteOrder, words) => {
    expect(decodeWords(words, { type: 'float32', wordOrder, byteOrder })).toBe(expected);
    expect(encodeWords(230.15, { type: 'float32', wordOrder, byteOrder })).toEqual(words);
  });
});

describe('integers', () => {
  const plain = { wordOrder: 'high-first', byteOrder: 'high-first' } as const;
  it('int32 −4321 (two’s complement: FFFF EF1F)', () => {
    expect(decodeWords([0xffff, 0xef1f], { type: 'int32', ...plain })).toBe(-4321);
    expect(decodeWords([0xef1f, 0xffff], { type: 'int32', ...plain, wordOrder: 'low-first' })).toBe(-4321);
  });
  it('uint64 9876543210 (BigInt: 0002 4CB0 16EA)', () => {
    const big = 9876543210n;
    const words = [48n, 32n, 16n, 0n].map((shift) => Number((big >> shift) & 0xffffn));
    expect(decodeWords(words, { type: 'uint64', ...plain })).toBe(9876543210);
  });
  it('any 64 bits are the double nearest to them (BigInt)', () => {
    const word = fc.integer({ min: 0, max: 0xffff });
    fc.assert(
      fc.property(fc.tuple(word, word, word, word), (words) => {
        const bits = words.reduce((sum, w) => (sum << 16n) | BigInt(w), 0n);
        expect(decodeWords(words, { type: 'uint64', ...plain })).toBe(Number(bits));
        expect(decodeWords(words, { type: 'int64', ...plain })).toBe(Number(BigInt.asIntN(64, bits)));
      }),
    );
  });
  it('half bytes are digits, or the whole is no number', () => {
    const word = fc.integer({ min: 0, max: 0xffff });
    const digits = fc.integer({ min: 0, max: 9999 }).map((n) => parseInt(String(n), 16));
    fc.assert(
      fc.property(fc.oneof(word, digits), fc.oneof(word, digits), (high, low) => {
        const text = [high, low].map((w) => w.toString(16).padStart(4, '0')).join('');
        const value = decodeWords([high, low], { type: 'bcd32', ...plain });
        expect(value).toBe(/^\d{8}$/.test(text) ? Number(text) : NaN);
      }),
    );
  });
  it('int16 and uint16 of the same word', () => {
    expect(decodeWords([0xfffe], { type: 'int16', ...plain })).toBe(-2);
    expect(decodeWords([0xfffe], { type: 'uint16', ...plain })).toBe(65534);
  });
});

it('gives back what was encoded, for every type and order', () => {
  const range: Record<string, fc.Arbitrary<number>> = {
    uint16: fc.integer({ min: 0, max: 65535 }),
    int16: fc.integer({ min: -32768, max: 32767 }),
    uint32: fc.integer({ min: 0, max: 0xffffffff }),
    int32: fc.integer({ min: -0x80000000, max: 0x7fffffff }),
    int64: fc.maxSafeInteger(),
    float64: fc.double({ noNaN: true }),
  };
  const order = fc.constantFrom('high-first' as const, 'low-first' as const);
  for (const [type, values] of Object.entries(range))
    fc.assert(
      fc.property(values, order, order, (value, wordOrder, byteOrder) => {
        const layout = { type: type as ValueType, wordOrder, byteOrder };
        expect(decodeWords(encodeWords(value, layout), layout) + 0).toBe(value + 0);
      }),
    );
});

it('says what is missing or does not fit', () => {
  const layout = { type: 'uint32', wordOrder: 'high-first', byteOrder: 'high-first' } as const;
  expect(() => decodeWords([1], layout)).toThrow(RegisterValueError);
  expect(() => decodeWords([1, 70000], layout)).toThrow('70000 is not a 16-bit word');
  expect(() => encodeWords(-1, layout)).toThrow('does not fit uint32');
});
