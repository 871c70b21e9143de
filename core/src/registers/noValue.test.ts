import { checkMap, newPoint, pointsOfTable, tableOfPoints, valueOf } from './index.js';

const point = (type: 'int16' | 'uint16' | 'int32' | 'float32', noValue: number) =>
  newPoint({ key: 'a', name: 'A', type, noValue });

it('registers that hold the code have no value', () => {
  expect(valueOf(point('int16', 0x8000), [0x8000])).toBeNaN();
  expect(valueOf(point('int16', 0x8000), [0x7fff])).toBe(32767);
  expect(valueOf(point('uint16', 0xffff), [0xffff])).toBeNaN();
  expect(valueOf(point('int32', 0x7fffffff), [0x7fff, 0xffff])).toBeNaN();
  // The least significant word first: the code is the number, not the order in which its words come.
  expect(valueOf({ ...point('int32', 0x80000000), wordOrder: 'low-first' }, [0, 0x8000])).toBeNaN();
  expect(valueOf(point('int32', 0x80000000), [0, 0x8000])).toBe(32768);
  expect(valueOf(point('float32', 0xff7fffff), [0xff7f, 0xffff])).toBeNaN();
});

it('with a power of ten beside it as well', () => {
  const scaled = { ...point('int16', 0x8000), companion: { role: 'exponent' as const, address: '1' } };
  expect(valueOf(scaled, [0x8000, 0xffff])).toBeNaN();
  expect(valueOf(scaled, [2305, 0xffff])).toBeCloseTo(230.5, 9);
});

it('is checked, and goes through a table and back', () => {
  expect(checkMap([point('int16', 0x10000)])[0]?.message).toContain('has to fit a int16');
  expect(checkMap([{ ...point('uint16', 1), type: 'bool' }]).map((f) => f.field)).toContain('noValue');
  const there = [{ ...point('int16', 0x8000), quantity: 'current' as const, unit: 'A' }];
  expect(pointsOfTable(tableOfPoints(there))).toEqual(there);
});
