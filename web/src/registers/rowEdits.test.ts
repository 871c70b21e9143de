import { checkMap } from '@loka/core/registers';
import { nextRow } from './draft.js';
import { setForAll, withKind, withRegisterAccess, withType } from './rowEdits.js';

const number = { ...nextRow([]), key: 'a', name: 'A' };
const bit = withKind({ ...number, key: 'b', name: 'B', address: '10' }, 'coil');

it('what is only read has no way of writing', () => {
  const written = { ...number, access: 'read-write' as const, writeMultiple: true };
  expect(withRegisterAccess(written, 'write')).toHaveProperty('writeMultiple', true);
  expect(withRegisterAccess(written, 'read')).not.toHaveProperty('writeMultiple');
});
it('an inverted bool can become another type', () => {
  const inverted = { ...withType(number, 'bool'), inverted: true, bit: 3 };
  const next = withType(inverted, 'uint16');
  expect(next).not.toHaveProperty('inverted');
  expect(next).not.toHaveProperty('bit');
  expect(checkMap([next])).toEqual([]);
  // And keeps what it had while it stays a bool.
  expect(withType(inverted, 'bool')).toEqual(inverted);
});

it('a text loses its length, a number its second register, with the type that had it', () => {
  expect(withType({ ...number, type: 'string', length: 8 }, 'int16')).not.toHaveProperty('length');
  const scaled = { ...number, companion: { role: 'exponent' as const, address: '9' } };
  expect(withType(scaled, 'int32')).toHaveProperty('companion');
  expect(withType(scaled, 'string')).not.toHaveProperty('companion');
});

it('a bit that becomes a register becomes a number; a bool in a register stays one', () => {
  expect(withKind(bit, 'holding')).toMatchObject({ kind: 'holding', type: 'uint16' });
  expect(withKind(withType(number, 'bool'), 'input')).toMatchObject({ kind: 'input', type: 'bool' });
});

it('is set for all rows at once; bits stay bits and have no order', () => {
  const [one, two] = setForAll([number, bit], {
    kind: 'input',
    counting: 'from-1',
    wordOrder: 'low-first',
    byteOrder: 'high-first',
  });
  expect(one).toMatchObject({ kind: 'input', counting: 'from-1', wordOrder: 'low-first' });
  expect(two).toEqual({ ...bit, counting: 'from-1' });
});
