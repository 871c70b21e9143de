import fc from 'fast-check';
import { tableOfPoints } from '@loka/core/registers';
import { nextRow } from './draft.js';
import { isTable, pasteRows } from './pasteRows.js';

const first = { ...nextRow([]), key: 'a', name: 'A' };

it('fills to the right and downwards, and makes the rows that are missing', () => {
  const text = 'Voltage L1\tinput\t3000\tfrom-0\tfloat32\nVoltage L2\tinput\t3002\tfrom-0\tfloat32\n';
  const { rows, faults } = pasteRows([first], { row: 0, column: 'name' }, text);
  expect(faults).toEqual([]);
  expect(rows.map((r) => [r.name, r.kind, r.address, r.type])).toEqual([
    ['Voltage L1', 'input', '3000', 'float32'],
    ['Voltage L2', 'input', '3002', 'float32'],
  ]);
  expect(rows[0]?.key).toBe('a');
  expect(rows[1]?.key).toBe('voltage-l2');
});
it('takes the ways in which tables are written', () => {
  const { rows, faults } = pasteRows([first], { row: 0, column: 'type' }, 'u16\t0,1\tVoltage\tV\tL2\tRO\t5');
  expect(faults).toEqual([]);
  expect(rows[0]).toMatchObject({
    type: 'uint16',
    scaling: { factor: 0.1 },
    quantity: 'voltage',
    unit: 'V',
    phase: 'L2',
    access: 'read',
    intervalMs: 5000,
  });
});
it('takes nothing when a cell is wrong, and says which', () => {
  const { rows, faults } = pasteRows([first], { row: 0, column: 'kind' }, 'holding\t1\nheld\t2');
  expect(rows).toEqual([first]);
  expect(faults).toEqual(['Row 2: “held” is none of coil, discrete, input, holding.']);
  expect(pasteRows([first], { row: 0, column: 'intervalMs' }, '1\tmore').faults).toHaveLength(1);
});
it('takes a whole exported map, below the rows that are there', () => {
  const text = tableOfPoints([{ ...first, name: 'Current', quantity: 'current', unit: 'A', address: '8' }])
    .map((line) => line.join('\t'))
    .join('\n');
  const { rows, faults } = pasteRows([first], { row: 0, column: 'name' }, text);
  expect(faults).toEqual([]);
  expect(rows).toHaveLength(2);
  expect(rows[1]).toMatchObject({ name: 'Current', address: '8' });
  expect(new Set(rows.map((r) => r.key)).size).toBe(2);
});
it('never throws, whatever is in the clipboard, and takes all of it or nothing', () => {
  fc.assert(
    fc.property(
      fc.string(),
      fc.constantFrom('name' as const, 'type' as const, 'intervalMs' as const),
      (text, column) => {
        const { rows, faults } = pasteRows([first], { row: 0, column }, text);
        if (faults.length > 0) expect(rows).toEqual([first]);
        expect(new Set(rows.map((r) => r.key)).size).toBe(rows.length);
      },
    ),
  );
});
it('one cell is left to the field itself', () => {
  expect(isTable('3000')).toBe(false);
  expect(isTable('3000\n')).toBe(false);
  expect(isTable('1\t2')).toBe(true);
});
