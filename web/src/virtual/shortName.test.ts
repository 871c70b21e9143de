import { SHORT_NAME } from '@loka/contract/virtual';
import fc from 'fast-check';
import { shortName } from './shortName.js';

it('says what the device is, without the words that all meters share', () => {
  expect(shortName('Active power', 'Oven meter', [])).toBe('oven');
  expect(shortName('Active power 3', 'Clamp node', [])).toBe('clamp3');
  expect(shortName('Power', 'Câmara fria', [])).toBe('camara_fria');
});
it('is one that no other input has', () => {
  expect(shortName('Active power', 'Oven meter', ['oven'])).toBe('oven_2');
  expect(shortName('Active power', 'Oven meter', ['oven', 'oven_2'])).toBe('oven_3');
});
it('whatever things are called, it is a name that a formula takes', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme' }), fc.string({ unit: 'grapheme' }), (point, device) => {
      const first = shortName(point, device, []);
      expect(first).toMatch(SHORT_NAME);
      const second = shortName(point, device, [first]);
      expect(second).toMatch(SHORT_NAME);
      expect(second).not.toBe(first);
    }),
  );
});
