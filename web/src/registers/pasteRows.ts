import { typedDuration } from '@loka/core/formats';
import {
  PHASES,
  QUANTITIES,
  QUANTITY_NAMES,
  quantityInfo,
  type Phase,
  type Quantity,
} from '@loka/core/quantities';
import {
  ACCESSES,
  COUNTINGS,
  MAP_COLUMNS,
  MapFileError,
  pointsOfTable,
  REGISTER_KINDS,
  VALUE_TYPES,
  type PointDefinition,
} from '@loka/core/registers';
import { keyFor, nextRow } from './draft.js';

/** Columns of the grid into which cells are pasted, in their order from left to right. */
export const PASTE_COLUMNS = [
  'name',
  'kind',
  'address',
  'counting',
  'type',
  'factor',
  'quantity',
  'unit',
  'phase',
  'access',
  'intervalMs',
] as const;
export type PasteColumn = (typeof PASTE_COLUMNS)[number];

export interface Pasted {
  rows: PointDefinition[];
  /** What could not be taken, by row; nothing is taken when there is any. */
  faults: string[];
}

/** Rows that are looked at: a map may have 500 values, and a pasted table may be laid over them. */
const MOST_ROWS = 1001;

/** Whether a text from the clipboard is more than one cell. */
export const isTable = (text: string): boolean => /[\t\n]/.test(text.trim());

/**
 * The rows after cells of a spreadsheet were pasted at a cell: they fill to the right and downwards, and rows that
 * are missing are made. A table that begins with the columns of an exported map is taken as such, below the others.
 */
export function pasteRows(
  rows: readonly PointDefinition[],
  at: { row: number; column: PasteColumn },
  text: string,
): Pasted {
  const table = text
    .replace(/\r/g, '')
    .replace(/\n+$/, '')
    .split('\n')
    .map((line) => line.split('\t').map((cell) => cell.trim()));
  if (rows.length + table.length > MOST_ROWS)
    return { rows: [...rows], faults: [`${table.length} lines; a map has at most 500 values.`] };
  if ((MAP_COLUMNS as readonly string[]).includes(table[0]?.[0]?.toLowerCase() ?? ''))
    return appendTable(rows, table);
  const first = PASTE_COLUMNS.indexOf(at.column);
  const next = [...rows];
  const faults: string[] = [];
  table.forEach((cells, i) => {
    const index = at.row + i;
    if (!next[index]) next[index] = nextRow(next);
    cells.forEach((cell, j) => {
      const column = PASTE_COLUMNS[first + j];
      if (!column) return void faults.push(`Row ${i + 1}: there is no column for “${cell}”.`);
      if (cell === '') return;
      const changed = withCell(next[index] as PointDefinition, column, cell);
      if (typeof changed === 'string') faults.push(`Row ${i + 1}: ${changed}`);
      else next[index] = changed;
    });
  });
  return faults.length > 0 ? { rows: [...rows], faults } : { rows: withKeys(next, rows), faults };
}

function appendTable(rows: readonly PointDefinition[], table: string[][]): Pasted {
  try {
    return { rows: withKeys([...rows, ...pointsOfTable(table)], rows), faults: [] };
  } catch (error) {
    if (error instanceof MapFileError)
      return { rows: [...rows], faults: error.faults.map((f) => `Line ${f.line}: ${f.message}`) };
    throw error;
  }
}

/** Rows that are new get keys that nobody has. */
function withKeys(next: PointDefinition[], before: readonly PointDefinition[]): PointDefinition[] {
  const used = before.map((r) => r.key);
  return next.map((row, i) => {
    if (i < before.length) return row;
    const key = keyFor(row.name, used);
    used.push(key);
    return { ...row, key };
  });
}

/** A row with one cell set, or words for why it cannot be. */
function withCell(row: PointDefinition, column: PasteColumn, cell: string): PointDefinition | string {
  const pick = <T extends string>(
    list: readonly T[],
    words: (one: T) => string[] = () => [],
  ): T | undefined =>
    list.find((one) => [one, ...words(one)].some((word) => word.toLowerCase() === cell.toLowerCase()));
  switch (column) {
    case 'name':
      return { ...row, name: cell.slice(0, 60) };
    case 'address':
      return { ...row, address: cell };
    case 'unit':
      return { ...row, unit: cell };
    case 'kind': {
      const kind = pick(REGISTER_KINDS, (k) => [
        `${k} register`,
        `${k} registers`,
        k === 'discrete' ? 'discrete input' : `${k}s`,
      ]);
      return kind
        ? { ...row, kind, ...(kind === 'coil' || kind === 'discrete' ? { type: 'bool' as const } : {}) }
        : `“${cell}” is none of ${REGISTER_KINDS.join(', ')}.`;
    }
    case 'counting': {
      const counting = pick(COUNTINGS, (c) => [c.replace('-', ' ')]);
      return counting ? { ...row, counting } : `“${cell}” is none of ${COUNTINGS.join(', ')}.`;
    }
    case 'type': {
      const type = pick(VALUE_TYPES, (t) => [
        t.replace('uint', 'u').replace('int', 'i'),
        t.replace('float', 'f'),
        ...(t === 'float32' ? ['float'] : []),
      ]);
      return type ? { ...row, type } : `“${cell}” is none of ${VALUE_TYPES.join(', ')}.`;
    }
    case 'quantity': {
      const quantity = pick(QUANTITY_NAMES, (q: Quantity) => [QUANTITIES[q].label]);
      return quantity
        ? { ...row, quantity, unit: quantityInfo(quantity).unit }
        : `“${cell}” is not a quantity Loka knows.`;
    }
    case 'phase': {
      const phase = cell === '–' || cell === '-' ? null : pick<Phase>(PHASES);
      return phase === undefined ? `“${cell}” is none of ${PHASES.join(', ')}.` : { ...row, phase };
    }
    case 'access': {
      const access = pick(ACCESSES, (a) =>
        a === 'read'
          ? ['r', 'ro']
          : a === 'write'
            ? ['w', 'wo', 'written']
            : a === 'read-write'
              ? ['rw', 'r/w', 'both']
              : [],
      );
      return access ? { ...row, access } : `“${cell}” is none of ${ACCESSES.join(', ')}.`;
    }
    case 'factor': {
      const factor = Number(cell.replace(',', '.').replace(/^[×x*]\s*/, ''));
      return Number.isFinite(factor)
        ? { ...row, scaling: { kind: 'factor', factor, offset: 0 } }
        : `the factor “${cell}” is not a number.`;
    }
    case 'intervalMs': {
      const intervalMs = typedDuration(cell) ?? NaN;
      return Number.isFinite(intervalMs)
        ? { ...row, intervalMs }
        : `the interval “${cell}” is not a time such as 5 s or 500 ms.`;
    }
  }
}
