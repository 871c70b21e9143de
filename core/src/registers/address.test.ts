import { wireAddress } from './address.js';
import { hexBytes, readRequestBytes, writeRequestBytes } from './request.js';

const wire = (...args: Parameters<typeof wireAddress>) => {
  const result = wireAddress(...args);
  return result.ok ? result.wire : result.message;
};

// Modbus Application Protocol V1.1b3, section 6 examples (recalled).
describe('the protocol’s own examples', () => {
  it('registers 108–110, counted from 1, are read as 03 00 6B 00 03', () => {
    const start = wire('holding', '108', 'from-1') as number;
    expect(hexBytes(readRequestBytes({ kind: 'holding', start, count: 3 }))).toBe('03 00 6B 00 03');
  });
  it('coils 20–38 are read as 01 00 13 00 13', () => {
    const start = wire('coil', '20', 'from-1') as number;
    expect(hexBytes(readRequestBytes({ kind: 'coil', start, count: 19 }))).toBe('01 00 13 00 13');
  });
  it('coil 173 is set by 05 00 AC FF 00', () => {
    expect(hexBytes(writeRequestBytes('coil', wire('coil', '173', 'from-1') as number, [1]))).toBe(
      '05 00 AC FF 00',
    );
  });
  it('register 2 is set to 3 by 06 00 01 00 03', () => {
    expect(hexBytes(writeRequestBytes('holding', 1, [3]))).toBe('06 00 01 00 03');
  });
  it('two registers from 2 are set by 10 00 01 00 02 04 00 0A 01 02', () => {
    expect(hexBytes(writeRequestBytes('holding', 1, [0x000a, 0x0102]))).toBe('10 00 01 00 02 04 00 0A 01 02');
  });
});

describe('an address as typed', () => {
  it.each([
    ['holding', '3000', 'from-0', 3000],
    ['holding', '0x0BB8', 'from-0', 3000],
    ['holding', '3000', 'from-1', 2999],
    ['holding', '40001', 'notation', 0],
    ['holding', '400001', 'notation', 0],
    ['input', '30773', 'notation', 772],
    ['coil', '00001', 'notation', 0],
    ['discrete', '10001', 'notation', 0],
    ['holding', '465536', 'notation', 65535],
  ] as const)('%s %s %s → %i', (kind, text, counting, expected) =>
    expect(wire(kind, text, counting)).toBe(expected),
  );

  it.each([
    ['holding', 'abc', 'from-0', 'is not an address'],
    ['holding', '12.5', 'from-0', 'is not an address'],
    ['holding', '', 'from-0', 'Type the address'],
    ['holding', '0', 'from-1', 'no address 0'],
    ['holding', '65536', 'from-0', 'last address is 65535'],
    ['holding', '30001', 'notation', '30001 names a'],
    ['input', '3001', 'notation', 'five or six digits'],
    ['holding', '40000', 'notation', 'from 1 to 9999'],
  ] as const)('%s “%s” %s says what is wrong', (kind, text, counting, part) =>
    expect(wire(kind, text, counting)).toContain(part),
  );
});
