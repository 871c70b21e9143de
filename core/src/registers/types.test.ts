import fc from 'fast-check';
import {
  checkMap,
  companionAddress,
  gapsOf,
  planReads,
  pointsOfTable,
  readSpanOf,
  RegisterValueError,
  spanOf,
  tableOfPoints,
  textOf,
  newPoint,
  VALUE_TYPES,
  valueOf,
  wireAddress,
  wordsFor,
  type PointDefinition,
} from './index.js';

const base = newPoint({ key: 'v', name: 'V', address: '100', type: 'int16' });
const faults = (point: PointDefinition) => checkMap([point]).map((f) => f.field);

describe('a value over two registers', () => {
  const split: PointDefinition = { ...base, companion: { role: 'decimals', address: '101', digits: 2 } };
  it('integer register 231 and decimals register 47 are 231.47 (trade)', () => {
    expect(readSpanOf(split)).toEqual({ kind: 'holding', start: 100, count: 2 });
    expect(valueOf(split, [231, 47])).toBeCloseTo(231.47, 10);
  });
  it('decimals of a negative number count away from zero, and may stand before it', () => {
    expect(valueOf(split, [0x10000 - 231, 47])).toBeCloseTo(-231.47, 10);
    const before: PointDefinition = { ...split, companion: { role: 'decimals', address: '98', digits: 3 } };
    expect(readSpanOf(before)).toEqual({ kind: 'holding', start: 98, count: 3 });
    expect(valueOf(before, [125, 9999, 6])).toBeCloseTo(6.125, 10);
  });
  it('a power of ten from another register: 2301 · 10^−1 = 230.1', () => {
    const scaled: PointDefinition = { ...base, companion: { role: 'exponent', address: '104' } };
    expect(companionAddress(scaled)).toBe(104);
    expect(valueOf(scaled, [2301, 0, 0, 0, 0xffff])).toBeCloseTo(230.1, 10);
    expect(valueOf(scaled, [23, 0, 0, 0, 1])).toBe(230);
  });
  it('is counted as the value is: from 1 its neighbour is one lower on the wire', () => {
    const fromOne: PointDefinition = {
      ...split,
      counting: 'from-1',
      address: '101',
      companion: { role: 'decimals', address: '102', digits: 2 },
    };
    expect(readSpanOf(fromOne)).toEqual({ kind: 'holding', start: 100, count: 2 });
  });
  it('says what cannot be', () => {
    expect(faults({ ...split, companion: { role: 'decimals', address: '100', digits: 2 } })).toEqual([
      'companion',
    ]);
    expect(faults({ ...split, companion: { role: 'decimals', address: '300', digits: 2 } })).toEqual([
      'companion',
    ]);
    expect(faults({ ...split, companion: { role: 'decimals', address: 'x', digits: 2 } })).toEqual([
      'companion',
    ]);
    expect(faults({ ...split, access: 'read-write' })).toEqual(['access']);
    expect(faults({ ...split, type: 'bool', quantity: 'contact-state' })).toEqual(['companion']);
  });
});

describe('decimal digits in half bytes', () => {
  it('0x2315 is 2315, 0x00012345 is 12345; half bytes that are no digits are no number', () => {
    expect(valueOf({ ...base, type: 'bcd16' }, [0x2315])).toBe(2315);
    expect(valueOf({ ...base, type: 'bcd32' }, [0x0001, 0x2345])).toBe(12345);
    expect(valueOf({ ...base, type: 'bcd16' }, [0x23a5])).toBeNaN();
  });
  it('goes both ways', () => {
    for (const value of [0, 7, 42, 9999])
      expect(valueOf({ ...base, type: 'bcd16' }, wordsFor({ ...base, type: 'bcd16' }, value))).toBe(value);
    expect(() => wordsFor({ ...base, type: 'bcd16' }, 10_000)).toThrow('does not fit');
  });
});

describe('bits', () => {
  it('one bit of a word, and the other way round', () => {
    const bit: PointDefinition = { ...base, type: 'bool', quantity: 'contact-state', bit: 3 };
    expect(valueOf(bit, [0b1000])).toBe(1);
    expect(valueOf(bit, [0b0111])).toBe(0);
    expect(valueOf({ ...bit, inverted: true }, [0b0111])).toBe(1);
    const coil: PointDefinition = {
      ...base,
      kind: 'coil',
      type: 'bool',
      quantity: 'contact-state',
      inverted: true,
      access: 'read-write',
    };
    expect(valueOf(coil, [1])).toBe(0);
    expect(wordsFor(coil, 1)).toEqual([0]);
  });
  it('several bits of one word are no overlap, and a bit cannot be written alone', () => {
    const bit = (n: number): PointDefinition => ({
      ...base,
      key: `b${n}`,
      name: `b${n}`,
      type: 'bool',
      quantity: 'contact-state',
      bit: n,
    });
    expect(checkMap([bit(0), bit(1), bit(15)])).toEqual([]);
    expect(checkMap([bit(0), { ...bit(1), bit: 0 }]).map((f) => f.field)).toEqual(['address']);
    expect(faults({ ...bit(0), access: 'read-write' })).toEqual(['access']);
    expect(faults(bit(16))).toEqual(['bit']);
    expect(faults({ ...base, bit: 1 })).toEqual(['bit']);
  });
});

describe('texts', () => {
  const text: PointDefinition = { ...base, type: 'string', length: 4 };
  it('two characters a register, until a zero byte; spaces at the end do not count', () => {
    expect(spanOf(text)?.count).toBe(4);
    expect(textOf(text, [0x4142, 0x4344, 0x4500, 0x4646])).toBe('ABCDE');
    expect(textOf(text, [0x4142, 0x2020, 0x2020, 0x2020])).toBe('AB');
    expect(textOf({ ...text, byteOrder: 'low-first' }, [0x4241, 0x0000, 0, 0])).toBe('AB');
  });
  it('needs a length, and is only read', () => {
    expect(faults({ ...base, type: 'string' })).toEqual(['length']);
    expect(faults({ ...text, access: 'write' })).toEqual(['access']);
    expect(faults({ ...base, length: 3 })).toEqual(['length']);
  });
});

it('a base address plus an offset, in any notation', () => {
  const wire = (address: string, counting: PointDefinition['counting'] = 'from-0') => {
    const result = wireAddress('holding', address, counting);
    return result.ok ? result.wire : result.message;
  };
  expect(wire('40000+72')).toBe(40072);
  expect(wire('0x0C00 + 0x12')).toBe(0x0c12);
  expect(wire('40001+72', 'notation')).toBe(72);
  expect(wire('101+2', 'from-1')).toBe(102);
  expect(wire('65000+1000')).toContain('beyond the last register');
  expect(wire('10+x')).toContain('is not an offset');
});

it('a command sends its value, and only what is never read does', () => {
  expect(faults({ ...base, access: 'write', send: 1 })).toEqual([]);
  expect(faults({ ...base, send: 1 })).toEqual(['send']);
  expect(
    faults({
      ...base,
      names: [
        { value: 1, name: 'a' },
        { value: 1, name: 'b' },
      ],
    }),
  ).toEqual(['names']);
});

it('a setting says what it sets, and nothing else does; it may be one that the device only tells', () => {
  expect(faults({ ...base, access: 'setting', setting: 'primary-current' })).toEqual([]);
  expect(faults({ ...base, kind: 'input', access: 'setting', setting: 'primary-current' })).toEqual([]);
  expect(faults({ ...base, access: 'setting' })).toEqual(['setting']);
  expect(faults({ ...base, setting: 'primary-current' })).toEqual(['setting']);
  expect(faults({ ...base, type: 'string', length: 4, access: 'setting', setting: 'other' })).toEqual([
    'access',
  ]);
});

it('all of it goes through a file and comes back exactly', () => {
  const points: PointDefinition[] = [
    { ...base, companion: { role: 'decimals', address: '101', digits: 2 } },
    { ...base, key: 'e', name: 'E', address: '200', companion: { role: 'exponent', address: '204' } },
    {
      ...base,
      key: 'b',
      name: 'B',
      address: '300',
      type: 'bool',
      quantity: 'contact-state',
      bit: 0,
      inverted: true,
    },
    { ...base, key: 's', name: 'S', address: '400', type: 'string', length: 8 },
    {
      ...base,
      key: 'n',
      name: 'N',
      address: '500+1',
      names: [
        { value: 0, name: 'off' },
        { value: -1, name: 'no answer' },
      ],
    },
    { ...base, key: 'c', name: 'C', address: '600', access: 'write', send: 0 },
    { ...base, key: 'g', name: 'G', address: '700', access: 'setting', setting: 'primary-current' },
  ];
  expect(pointsOfTable(tableOfPoints(points))).toEqual(points);
});

it('marks the values that cost a further request, and why', () => {
  const at = (start: number) => ({ kind: 'holding' as const, start, count: 1 });
  const requests = planReads([at(0), at(10), at(100), at(130)], (s) => s);
  expect(requests.map((r) => r.start)).toEqual([0, 100, 130]);
  expect(gapsOf(requests).map((g) => g.message)).toEqual([
    '89 registers that nobody asked for lie before it, so it is read by a further request.',
    '29 registers that nobody asked for lie before it, so it is read by a further request.',
  ]);
});

it('whatever lies in the registers is a number, none, or refused in words: 10 000 cases', () => {
  const point = fc.record({
    type: fc.constantFrom(...VALUE_TYPES),
    wordOrder: fc.constantFrom('high-first' as const, 'low-first' as const),
    byteOrder: fc.constantFrom('high-first' as const, 'low-first' as const),
    companion: fc.option(
      fc.constantFrom(
        { role: 'decimals' as const, address: '104', digits: 3 },
        { role: 'exponent' as const, address: '96' },
      ),
      { nil: undefined },
    ),
    bit: fc.option(fc.integer({ min: 0, max: 15 }), { nil: undefined }),
    inverted: fc.boolean(),
  });
  const words = fc.array(fc.integer({ min: 0, max: 0xffff }), { maxLength: 12 });
  fc.assert(
    fc.property(point, words, ({ companion, bit, ...rest }, list) => {
      const definition: PointDefinition = {
        ...base,
        ...rest,
        ...(companion ? { companion } : {}),
        ...(bit === undefined ? {} : { bit }),
      };
      try {
        expect(typeof valueOf(definition, list)).toBe('number');
      } catch (error) {
        expect(error).toBeInstanceOf(RegisterValueError);
      }
      expect(textOf(definition, list)).toMatch(/^[\x20-\x7e\xa0-\xff]*$/);
    }),
    { numRuns: 10_000, seed: 5 },
  );
});
