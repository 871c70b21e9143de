import { checkMap } from '@loka/core/registers';
import fc from 'fast-check';
import { keyedByName, keyFor, nextRow, onTheWire } from './draft.js';

const first = nextRow([]);

it('the next value begins where the last one ends', () => {
  expect(nextRow([{ ...first, address: '3000', type: 'float32' }]).address).toBe('3002');
  expect(nextRow([{ ...first, address: '3000', type: 'uint16' }]).address).toBe('3001');
  expect(nextRow([{ ...first, address: '0x0BB8', type: 'float64' }]).address).toBe('0xBBC');
  expect(nextRow([{ ...first, address: '40001', counting: 'notation', type: 'float32' }]).address).toBe(
    '40003',
  );
  expect(nextRow([{ ...first, address: '108', counting: 'from-1', type: 'int16' }]).address).toBe('109');
  expect(nextRow([{ ...first, address: 'soon' }]).address).toBe('');
});
it('rows added one after the other never make a faulty map', () => {
  const type = fc.constantFrom('uint16' as const, 'float32' as const, 'int64' as const);
  fc.assert(
    fc.property(fc.array(type, { minLength: 1, maxLength: 30 }), (types) => {
      const rows = types.reduce(
        (list, t) => [...list, { ...nextRow(list), type: t }],
        [] as (typeof first)[],
      );
      expect(checkMap(rows)).toEqual([]);
    }),
  );
});
it('keys come from names and are never used twice', () => {
  expect(keyFor('Active power, L1', [])).toBe('active-power-l1');
  expect(keyFor('Größe', ['gro-e'])).not.toBe('gro-e');
  expect(keyFor('V', ['v', 'v-2'])).toBe('v-3');
  expect(keyFor('???', [])).toBe('value');
});
it('shows the address on the wire, or none', () => {
  expect(onTheWire({ ...first, address: '1', counting: 'from-1' })).toBe(0);
  expect(onTheWire({ ...first, address: 'x' })).toBeNull();
});
it('a new value is saved under a key of the name that it has in the end; the keys of old ones stay', () => {
  const rows = [
    { key: 'power', name: 'Renamed' },
    { key: 'value-2', name: 'Power' },
    { key: 'value-3', name: 'Power' },
  ];
  expect(keyedByName(rows, [{ key: 'power', name: 'Power' }]).map((row) => row.key)).toEqual([
    'power',
    'power-2',
    'power-3',
  ]);
  expect(keyedByName(rows.slice(1), []).map((row) => row.key)).toEqual(['power', 'power-2']);
});
