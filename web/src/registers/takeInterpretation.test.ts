import { spanOf, type Interpretation } from '@loka/core/registers';
import { nextRow } from './draft.js';
import { takeInterpretation } from './takeInterpretation.js';

const first = { ...nextRow([]), key: 'a', name: 'a', address: '101' };
const second = { ...first, key: 'b', name: 'b', address: '103' };
const bit = { ...first, key: 'c', name: 'c', kind: 'coil' as const, type: 'bool' as const, address: '0' };
const found: Interpretation = {
  kind: 'input',
  address: 100,
  type: 'float32',
  wordOrder: 'low-first',
  byteOrder: 'high-first',
  factor: 1,
  value: 230,
  score: 1,
  confidence: 'fair',
  rivals: 0,
  reasons: [],
};

it('an address one lower means that the table counts from 1; the typed address stays', () => {
  const [row] = takeInterpretation([first], 'a', found, 'voltage', false);
  expect(row).toMatchObject({
    address: '101',
    counting: 'from-1',
    kind: 'input',
    wordOrder: 'low-first',
    quantity: 'voltage',
    unit: 'V',
  });
  expect(spanOf(row!)).toEqual({ kind: 'input', start: 100, count: 2 });
});
it('leaves the address where it was right, and types it anew where it lies elsewhere', () => {
  expect(takeInterpretation([first], 'a', { ...found, address: 101 }, 'voltage', false)[0]).toMatchObject({
    address: '101',
    counting: 'from-0',
  });
  expect(takeInterpretation([first], 'a', { ...found, address: 102 }, 'voltage', false)[0]).toMatchObject({
    address: '102',
    counting: 'from-0',
  });
});
it('takes kind, counting and order for the whole map, but not for its bits', () => {
  const rows = takeInterpretation([first, second, bit], 'a', found, 'voltage', true);
  expect(rows[1]).toMatchObject({
    address: '103',
    counting: 'from-1',
    kind: 'input',
    wordOrder: 'low-first',
    type: 'float32',
  });
  expect(rows[2]).toEqual(bit);
  expect(takeInterpretation([first, second], 'a', found, 'voltage', false)[1]).toEqual(second);
});
it('says thousands by the unit', () => {
  expect(
    takeInterpretation([first], 'a', { ...found, factor: 1000 }, 'active-power', false)[0],
  ).toMatchObject({ unit: 'kW', scaling: { factor: 1 } });
  expect(takeInterpretation([first], 'a', { ...found, factor: 0.1 }, 'voltage', false)[0]).toMatchObject({
    unit: 'V',
    scaling: { factor: 0.1 },
  });
});

it('a span is taken as the two pairs of the maker’s table', () => {
  const span = { raw: 10_000, low: 45, high: 65 };
  const [row] = takeInterpretation(
    [first],
    'a',
    { ...found, type: 'uint16', factor: 0.002, span },
    'frequency',
    false,
  );
  expect(row).toMatchObject({
    unit: 'Hz',
    scaling: { kind: 'pairs', raw1: 0, value1: 45, raw2: 10_000, value2: 65 },
  });
});
