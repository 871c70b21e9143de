import { checkMap } from './check.js';
import { valueOf, wordsFor, type PointDefinition } from './definition.js';
import { newPoint } from './newPoint.js';

const point = (over: Partial<PointDefinition>): PointDefinition =>
  newPoint({
    key: over.name ?? 'v1',
    name: 'v1',
    address: '3000',
    type: 'float32',
    unit: 'V',
    quantity: 'voltage',
    phase: 'L1',
    ...over,
  });

it('accepts floats two registers apart', () => {
  expect(checkMap([point({}), point({ name: 'v2', address: '3002' })])).toEqual([]);
});
it('finds a float on the odd half of another and names it', () => {
  const faults = checkMap([point({}), point({ name: 'v2', address: '3001' })]);
  expect(faults).toHaveLength(1);
  expect(faults[0]).toMatchObject({ index: 1, field: 'address' });
  expect(faults[0]?.message).toContain('register 2 of 2 of “v1”');
});
it('finds the same address read twice, whatever its notation', () => {
  const faults = checkMap([
    point({ address: '0' }),
    point({ name: 'v2', address: '40001', counting: 'notation' }),
  ]);
  expect(faults[0]?.message).toContain('already reads this address');
});
it('lets a command and its read-back share a coil', () => {
  const coil = {
    kind: 'coil',
    type: 'bool',
    unit: '',
    quantity: 'contact-state',
    phase: null,
    address: '0',
  } as const;
  expect(
    checkMap([point({ ...coil, name: 'state' }), point({ ...coil, name: 'command', access: 'write' })]),
  ).toEqual([]);
});
it('says each fault at its field', () => {
  const fields = checkMap([
    point({ address: 'x' }),
    point({ name: 'a', kind: 'coil', address: '1' }),
    point({ name: 'b', kind: 'input', access: 'write' }),
    point({ name: 'c', address: '10', unit: 'bananas' }),
    point({ name: 'd', address: '20', scaling: { kind: 'pairs', raw1: 1, raw2: 1, value1: 0, value2: 1 } }),
    point({ name: 'd', address: '30' }),
    point({ name: 'e', address: '65535' }),
  ]).map((f) => `${f.index} ${f.field}`);
  expect(fields).toEqual(['0 address', '1 type', '2 access', '3 unit', '4 scaling', '6 address', '5 name']);
});
it('brings the device’s unit to the base unit', () => {
  const kw = point({
    quantity: 'active-power',
    unit: 'kW',
    type: 'int16',
    scaling: { kind: 'factor', factor: 0.01, offset: 0 },
  });
  expect(valueOf(kw, [1184])).toBeCloseTo(11840, 9);
  expect(wordsFor(kw, 11840)).toEqual([1184]);
});
it('finds what lies anywhere inside another value, however wide that is, and nothing beside it', () => {
  const inside = (type: PointDefinition['type'], at: number, more: Partial<PointDefinition> = {}) =>
    checkMap([
      point({ type, ...more }),
      point({ name: 'v2', address: String(3000 + at), type: 'uint16', unit: 'V' }),
    ]).map((f) => f.message.slice(0, 30));
  expect([1, 2, 3].map((at) => inside('uint64', at).length)).toEqual([1, 1, 1]);
  expect(inside('uint64', 3)[0]).toContain('register 4 of 4');
  expect(inside('uint64', 4)).toEqual([]);
  // A text takes as many registers as it says.
  const text = { length: 8, quantity: 'other', unit: '' } as const;
  expect([5, 7, 8].map((at) => inside('string', at, text).length)).toEqual([1, 1, 0]);
});
