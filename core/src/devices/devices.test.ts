import fc from 'fast-check';
import { addressesIn, MOST_ADDRESSES, numbersIn, plausibility, SearchRangeError } from './index.js';

describe('ranges to be searched', () => {
  it.each([
    ['192.168.1.40', ['192.168.1.40']],
    ['192.168.1.40-42', ['192.168.1.40', '192.168.1.41', '192.168.1.42']],
    ['10.0.0.254-10.0.1.1', ['10.0.0.254', '10.0.0.255', '10.0.1.0', '10.0.1.1']],
    ['192.168.1.8/30', ['192.168.1.9', '192.168.1.10']],
    ['192.168.1.8/31', ['192.168.1.8', '192.168.1.9']],
    ['10.0.0.1, 10.0.0.1', ['10.0.0.1']],
    ['255.255.255.255', ['255.255.255.255']],
  ])('%s', (text, addresses) => expect(addressesIn(text)).toEqual(addresses));
  it('a /24 has 254 addresses, without those of the network and the broadcast', () => {
    const all = addressesIn('192.168.7.99/24');
    expect(all).toHaveLength(254);
    expect([all[0], all.at(-1)]).toEqual(['192.168.7.1', '192.168.7.254']);
  });
  it.each(['', 'host', '1.2.3', '1.2.3.4.5', '1.2.3.256', '1.2.3.9-4', '10.0.0.0/8', '1.2.3.0/33', '1-2-3'])(
    'refuses “%s”',
    (text) => expect(() => addressesIn(text)).toThrow(SearchRangeError),
  );
  it('never gives more than allowed, whatever is typed', () => {
    const byte = fc.integer({ min: 0, max: 255 });
    const address = fc.tuple(byte, byte, byte, byte).map((b) => b.join('.'));
    const range = fc.oneof(
      address,
      fc.tuple(address, fc.integer({ min: 0, max: 40 })).map(([a, bits]) => `${a}/${bits}`),
      fc.tuple(address, address).map(([a, b]) => `${a}-${b}`),
      fc.string(),
    );
    fc.assert(
      fc.property(fc.array(range, { minLength: 1, maxLength: 3 }), (parts) => {
        try {
          const list = addressesIn(parts.join(', '));
          expect(list.length).toBeLessThanOrEqual(MOST_ADDRESSES);
          expect(new Set(list).size).toBe(list.length);
        } catch (error) {
          expect(error).toBeInstanceOf(SearchRangeError);
        }
      }),
    );
  });
  it('unit ids and ports', () => {
    expect(numbersIn('1-3, 20, 2', 0, 255, 'unit ids')).toEqual([1, 2, 3, 20]);
    for (const text of ['', '256', '5-2', 'a', '-1'])
      expect(() => numbersIn(text, 0, 255, 'unit ids')).toThrow(SearchRangeError);
  });
});

describe('how plausible a reading with a map is', () => {
  const volts = (value: number) => ({ quantity: 'voltage' as const, phase: 'L1' as const, value });
  it('a meter that reads right is nearly certain', () => {
    expect(
      plausibility([volts(230.4), { quantity: 'frequency', phase: null, value: 50.01 }]),
    ).toBeGreaterThan(0.9);
  });
  it('one impossible value is enough against it', () => {
    expect(plausibility([volts(230), { quantity: 'frequency', phase: null, value: 7000 }])).toBe(0);
    expect(plausibility([volts(NaN)])).toBe(0);
  });
  it('a voltage far from any usual one counts against it, a DC voltage may be any', () => {
    expect(plausibility([volts(230), volts(230), volts(3)])).toBeLessThan(0.7);
    expect(plausibility([{ quantity: 'voltage', phase: 'DC', value: 52 }])).toBeGreaterThan(0);
  });
  it('a few bits say little; nothing read says nothing', () => {
    const bit = { quantity: 'contact-state' as const, phase: null, value: 1 };
    expect(plausibility([bit])).toBeLessThan(0.2);
    expect(plausibility([])).toBe(0);
  });
});
