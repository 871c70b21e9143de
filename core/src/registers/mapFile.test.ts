import fc from 'fast-check';
import { PHASES, QUANTITIES, QUANTITY_NAMES, quantityInfo } from '../quantities/index.js';
import { checkMap } from './check.js';
import type { PointDefinition } from './definition.js';
import { newPoint } from './newPoint.js';
import { MAP_COLUMNS, MapFileError, pointsOfTable, tableOfPoints } from './mapFile.js';
import { BYTE_ORDERS, WORD_ORDERS } from './types.js';

/** −0 and 0 are the same number on a wire. */
const finite = fc.double({ noNaN: true, noDefaultInfinity: true, min: -1e9, max: 1e9 }).map((v) => v + 0);
/** Maps that have nothing wrong with them: values one after the other, eight registers apart. */
const goodMap: fc.Arbitrary<PointDefinition[]> = fc
  .array(
    fc.record({
      type: fc.constantFrom('uint16', 'int32', 'float32', 'float64', 'uint64'),
      counting: fc.constantFrom('from-0', 'from-1'),
      wordOrder: fc.constantFrom(...WORD_ORDERS),
      byteOrder: fc.constantFrom(...BYTE_ORDERS),
      quantity: fc.constantFrom(...QUANTITY_NAMES),
      phase: fc.option(fc.constantFrom(...PHASES)),
      access: fc.constantFrom('read', 'read-write'),
      intervalMs: fc.integer({ min: 100, max: 3_600_000 }),
      name: fc.string({ minLength: 1, maxLength: 40 }).map((s) => s.trim()),
      scaling: fc.oneof(
        fc.record({
          kind: fc.constant('factor' as const),
          factor: finite.filter((f) => f !== 0),
          offset: finite,
        }),
        fc
          .record({
            kind: fc.constant('pairs' as const),
            raw1: finite,
            value1: finite,
            raw2: finite,
            value2: finite,
          })
          .filter((s) => Math.abs(s.raw1 - s.raw2) > 1 && Math.abs(s.value1 - s.value2) > 1),
      ),
    }),
    { minLength: 1, maxLength: 8 },
  )
  .map((list) =>
    list.map(
      (p, i) =>
        ({
          ...p,
          key: `v${i}`,
          name: `${i} ${p.name}`.trim(),
          kind: 'holding',
          address: String(10 + i * 8),
          unit: quantityInfo(p.quantity).unit,
          ...(p.access === 'read-write' && i % 2 === 0 ? { writeMultiple: true } : {}),
        }) as PointDefinition,
    ),
  );

it('goes out and comes back exactly the same', () => {
  fc.assert(
    fc.property(goodMap, (points) => {
      expect(checkMap(points)).toEqual([]);
      expect(pointsOfTable(tableOfPoints(points))).toEqual(points);
    }),
    { numRuns: 300 },
  );
});

it('takes what a person would type: few columns, any order, keys from names', () => {
  const [voltage, energy] = pointsOfTable([
    ['Address', 'Name', 'type', 'kind', 'quantity', 'unit', 'phase'],
    ['3000', 'Voltage L1', 'float32', 'input', 'voltage', 'V', 'L1'],
    ['3002', 'Energy, total', 'uint32', 'input', 'energy-import', 'kWh', ''],
  ]);
  expect(voltage).toMatchObject({
    key: 'voltage-l1',
    counting: 'from-0',
    wordOrder: 'high-first',
    access: 'read',
    intervalMs: 1000,
    phase: 'L1',
    scaling: { factor: 1, offset: 0 },
  });
  expect(energy).toMatchObject({ key: 'energy-total', phase: null, unit: 'kWh' });
});

it('lists everything that is wrong, by line, and takes nothing', () => {
  const faults = (table: string[][]) => {
    try {
      pointsOfTable(table);
    } catch (error) {
      return (error as MapFileError).faults.map((f) => `${f.line}: ${f.message}`);
    }
    return [];
  };
  expect(faults([])[0]).toContain('empty');
  expect(faults([['name', 'volts']])).toEqual(
    expect.arrayContaining([
      expect.stringContaining('1: “volts” is not a column'),
      expect.stringContaining('1: The column “kind” is missing'),
    ]),
  );
  const header = ['name', 'kind', 'address', 'type', 'quantity', 'unit', 'interval_ms'];
  const list = faults([
    header,
    ['A', 'holding', '0', 'float32', 'voltage', 'V', '50'],
    ['B', 'register', '2', 'float', 'volt', 'V', 'x'],
    ['C', 'holding', '4', 'uint16', 'voltage'],
  ]);
  expect(list).toHaveLength(6);
  expect(list[0]).toContain('2: interval_ms is a whole number');
  expect(list.filter((f) => f.startsWith('3: '))).toHaveLength(4);
  expect(list.at(-1)).toContain('4: 5 columns where the header has 7');
  expect(
    faults([
      header,
      ['A', 'holding', '0', 'float32', 'voltage', 'V', ''],
      ['B', 'holding', '1', 'float32', 'voltage', 'V', ''],
    ])[0],
  ).toContain('3: This is register 2 of 2 of “A”');
});

it('survives anything: 10 000 broken tables end in a map or in faults with lines, never otherwise (seeded)', () => {
  const word = fc.oneof(
    fc.string({ maxLength: 12 }),
    fc.constantFrom(
      ...MAP_COLUMNS,
      ...Object.keys(QUANTITIES),
      'holding',
      'float32',
      '0x10',
      '-1',
      '1e400',
      'NaN',
      '__proto__',
      'constructor',
    ),
  );
  const table = fc.oneof(
    fc.array(fc.array(word, { maxLength: 8 }), { maxLength: 5 }),
    fc
      .array(fc.array(word, { minLength: 5, maxLength: 7 }), { maxLength: 4 })
      .map((rows) => [['name', 'kind', 'address', 'type', 'quantity'], ...rows]),
  );
  fc.assert(
    fc.property(table, (rows) => {
      try {
        expect(checkMap(pointsOfTable(rows))).toEqual([]);
      } catch (error) {
        expect(error).toBeInstanceOf(MapFileError);
        expect((error as MapFileError).faults.every((f) => f.line >= 1 && f.message.length > 0)).toBe(true);
      }
    }),
    { numRuns: 10_000, seed: 20261125 },
  );
});

it.each(['=HYPERLINK("http://x")', '+1', '-1', '@SUM(A1)', "'=1", "''-x", 'Plain', "O'Neill"])(
  'a name like %s is no formula of a spreadsheet, and comes back as it was',
  (name) => {
    const table = tableOfPoints([newPoint({ key: 'p', address: '1', name })]);
    const cell = table[1]?.[table[0]?.indexOf('name') as number] as string;
    expect(cell).not.toMatch(/^[=+\-@]/);
    expect(pointsOfTable(table)[0]?.name).toBe(name);
  },
);
