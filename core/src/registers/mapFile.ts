import { PHASES, QUANTITY_NAMES, type Phase, type Quantity } from '../quantities/index.js';
import { COUNTINGS, type Counting } from './address.js';
import { checkMap } from './check.js';
import type { StateName } from '../points/basics.js';
import { ACCESSES, type Access, type Companion, type PointDefinition } from './definition.js';
import { SETTING_ROLES, type SettingRole } from '../settings/role.js';
import type { Scaling } from '../points/scaling.js';
import {
  BYTE_ORDERS,
  REGISTER_KINDS,
  VALUE_TYPES,
  WORD_ORDERS,
  type ByteOrder,
  type RegisterKind,
  type ValueType,
  type WordOrder,
} from './types.js';

/** The columns of a register map as a table, in this order; docs/register-maps.md describes them. */
export const MAP_COLUMNS = [
  'key',
  'name',
  'kind',
  'address',
  'counting',
  'type',
  'word_order',
  'byte_order',
  'factor',
  'offset',
  'raw1',
  'value1',
  'raw2',
  'value2',
  'unit',
  'quantity',
  'phase',
  'access',
  'interval_ms',
  'bit',
  'inverted',
  'length',
  'decimals_at',
  'decimals_digits',
  'exponent_at',
  'names',
  'send',
  'setting',
  'no_value',
  'write_multiple',
] as const;
type Column = (typeof MAP_COLUMNS)[number];

/** Something wrong with a line of a table; the header is line 1. */
export interface LineFault {
  line: number;
  message: string;
}

/** Thrown when a table is no register map; says everything that is wrong, so that it can be mended in one go. */
export class MapFileError extends Error {
  override name = 'MapFileError';
  constructor(readonly faults: LineFault[]) {
    super(
      faults.length === 1
        ? `Line ${faults[0]?.line}: ${faults[0]?.message}`
        : `${faults.length} things are wrong with the file.`,
    );
  }
}

/** Columns of free text. */
const TEXTS: readonly Column[] = ['key', 'name', 'unit', 'names'];
/** A cell that begins like this is evaluated by a spreadsheet, and not shown: it gets an apostrophe before it. */
const FORMULA = /^'*[=+\-@]/;
const defused = (text: string): string => (FORMULA.test(text) ? `'${text}` : text);
const asMeant = (text: string): string => (/^'+[=+\-@]/.test(text) ? text.slice(1) : text);

/** A map as a table with its header; {@link pointsOfTable} gives back exactly the same points. */
export function tableOfPoints(points: readonly PointDefinition[]): string[][] {
  return [[...MAP_COLUMNS], ...points.map((point) => rowOf(cellsOf(point)))];
}

const rowOf = (cells: Record<Column, string>): string[] =>
  MAP_COLUMNS.map((column) => (TEXTS.includes(column) ? defused(cells[column]) : cells[column]));

const shown = (value: number | undefined): string => (value === undefined ? '' : String(value));

function cellsOf(p: PointDefinition): Record<Column, string> {
  const { scaling } = p;
  const factor = scaling.kind === 'factor' ? [String(scaling.factor), String(scaling.offset)] : ['', ''];
  const pairs =
    scaling.kind === 'pairs'
      ? [scaling.raw1, scaling.value1, scaling.raw2, scaling.value2].map(String)
      : ['', '', '', ''];
  return {
    key: p.key,
    name: p.name,
    kind: p.kind,
    address: p.address,
    counting: p.counting,
    type: p.type,
    word_order: p.wordOrder,
    byte_order: p.byteOrder,
    factor: factor[0] as string,
    offset: factor[1] as string,
    raw1: pairs[0] as string,
    value1: pairs[1] as string,
    raw2: pairs[2] as string,
    value2: pairs[3] as string,
    unit: p.unit,
    quantity: p.quantity,
    phase: p.phase ?? '',
    access: p.access,
    interval_ms: String(p.intervalMs),
    bit: shown(p.bit),
    inverted: p.inverted ? 'yes' : '',
    length: shown(p.length),
    decimals_at: p.companion?.role === 'decimals' ? p.companion.address : '',
    decimals_digits: p.companion?.role === 'decimals' ? String(p.companion.digits) : '',
    exponent_at: p.companion?.role === 'exponent' ? p.companion.address : '',
    names: (p.names ?? []).map(({ value, name }) => `${value}=${name}`).join(';'),
    send: shown(p.send),
    setting: p.setting ?? '',
    no_value: p.noValue === undefined ? '' : `0x${p.noValue.toString(16).toUpperCase()}`,
    write_multiple: p.writeMultiple ? 'yes' : '',
  };
}

/**
 * The points of a table. Columns may stand in any order; those with a usual value may be left out or left empty.
 * Nothing is taken over when anything is wrong.
 * @throws MapFileError with all faults by line
 */
export function pointsOfTable(table: readonly (readonly string[])[]): PointDefinition[] {
  const header = table[0]?.map((cell) => cell.trim().toLowerCase());
  if (!header) throw new MapFileError([{ line: 1, message: 'The file is empty.' }]);
  const faults: LineFault[] = headerFaults(header);
  if (faults.length > 0) throw new MapFileError(faults);
  const points = table.slice(1).map((row, i) => {
    const line = i + 2;
    if (row.length !== header.length)
      faults.push({ line, message: `${row.length} columns where the header has ${header.length}.` });
    const cells: Partial<Record<Column, string>> = {};
    header.forEach((name, c) => {
      const column = name as Column;
      const cell = (row[c] ?? '').trim();
      cells[column] = TEXTS.includes(column) ? asMeant(cell) : cell;
    });
    return pointOf(cells, line, faults);
  });
  if (points.length === 0) faults.push({ line: 2, message: 'There is no value below the header.' });
  if (faults.length === 0)
    for (const { index, message } of checkMap(points)) faults.push({ line: index + 2, message });
  if (faults.length > 0) throw new MapFileError(faults);
  return points;
}

function headerFaults(header: readonly string[]): LineFault[] {
  // A table of another kind may have any number of columns; each of them is not worth a fault.
  if (header.length > MAP_COLUMNS.length)
    return [
      {
        line: 1,
        message: `${header.length} columns; a register map has at most these ${MAP_COLUMNS.length}: ${MAP_COLUMNS.join(', ')}.`,
      },
    ];
  const faults: LineFault[] = [];
  for (const name of header)
    if (!(MAP_COLUMNS as readonly string[]).includes(name))
      faults.push({
        line: 1,
        message: `“${name}” is not a column of a register map. The columns are ${MAP_COLUMNS.join(', ')}.`,
      });
  for (const name of ['name', 'kind', 'address', 'type', 'quantity'])
    if (!header.includes(name)) faults.push({ line: 1, message: `The column “${name}” is missing.` });
  header.forEach((name, i) => {
    if (header.indexOf(name) !== i) faults.push({ line: 1, message: `The column “${name}” stands twice.` });
  });
  return faults;
}

function pointOf(cells: Partial<Record<Column, string>>, line: number, faults: LineFault[]): PointDefinition {
  const fault = (message: string) => void faults.push({ line, message });
  const one = <T extends string>(column: Column, list: readonly T[], usual?: T): T => {
    const text = cells[column] ?? '';
    if (text === '' && usual !== undefined) return usual;
    if ((list as readonly string[]).includes(text)) return text as T;
    fault(`${column} “${text}” is none of ${list.join(', ')}.`);
    return list[0] as T;
  };
  const number = (column: Column, usual: number): number => {
    const text = cells[column] ?? '';
    if (text === '') return usual;
    const value = Number(text);
    if (Number.isFinite(value)) return value;
    fault(`${column} “${text}” is not a number.`);
    return usual;
  };
  const name = cells.name ?? '';
  if (name === '' || name.length > 60) fault('name has 1 to 60 letters.');
  const intervalMs = number('interval_ms', 1000);
  if (!Number.isInteger(intervalMs) || intervalMs < 100 || intervalMs > 3_600_000)
    fault('interval_ms is a whole number from 100 to 3600000.');
  const key = cells.key || keyOf(name);
  if (!/^[a-z0-9][a-z0-9-]{0,59}$/.test(key))
    fault(`key “${key}” has other than small letters, digits and hyphens.`);
  return {
    key,
    name,
    kind: one<RegisterKind>('kind', REGISTER_KINDS),
    address: cells.address ?? '',
    counting: one<Counting>('counting', COUNTINGS, 'from-0'),
    type: one<ValueType>('type', VALUE_TYPES),
    wordOrder: one<WordOrder>('word_order', WORD_ORDERS, 'high-first'),
    byteOrder: one<ByteOrder>('byte_order', BYTE_ORDERS, 'high-first'),
    scaling: scalingOf(cells, number),
    unit: cells.unit ?? '',
    quantity: one<Quantity>('quantity', QUANTITY_NAMES),
    phase: cells.phase ? one<Phase>('phase', PHASES) : null,
    access: one<Access>('access', ACCESSES, 'read'),
    intervalMs,
    ...detailsOf(cells, number, fault),
    ...(cells.setting ? { setting: one<SettingRole>('setting', SETTING_ROLES) } : {}),
  };
}

/** The members that only some values have; absent where their columns are empty. */
function detailsOf(
  cells: Partial<Record<Column, string>>,
  number: (column: Column, usual: number) => number,
  fault: (message: string) => void,
): Partial<PointDefinition> {
  const has = (column: Column) => (cells[column] ?? '') !== '';
  for (const column of ['inverted', 'write_multiple'] as const)
    if (has(column) && !['yes', 'no'].includes(cells[column] as string))
      fault(`${column} “${cells[column]}” is neither yes nor no.`);
  if (has('decimals_at') && has('exponent_at')) fault('A value has decimals_at or exponent_at, not both.');
  const companion: Companion | undefined = has('decimals_at')
    ? { role: 'decimals', address: cells.decimals_at as string, digits: number('decimals_digits', 2) }
    : has('exponent_at')
      ? { role: 'exponent', address: cells.exponent_at as string }
      : undefined;
  return {
    ...(has('bit') ? { bit: number('bit', 0) } : {}),
    ...(cells.inverted === 'yes' ? { inverted: true } : {}),
    ...(has('length') ? { length: number('length', 1) } : {}),
    ...(companion ? { companion } : {}),
    ...(has('names') ? { names: namesOf(cells.names as string, fault) } : {}),
    ...(has('send') ? { send: number('send', 0) } : {}),
    ...(cells.write_multiple === 'yes' ? { writeMultiple: true } : {}),
    ...(has('no_value') ? { noValue: codeOf(cells.no_value as string, fault) } : {}),
  };
}

/** A code as tables print it: 0x8000, 8000h or 32768. */
function codeOf(text: string, fault: (message: string) => void): number {
  const code = Number(text.replace(/^([0-9a-f]+)h$/i, '0x$1'));
  if (!Number.isInteger(code) || code < 0) fault(`no_value “${text}” is no code such as 0x8000.`);
  return code;
}

function namesOf(text: string, fault: (message: string) => void): StateName[] {
  return text.split(';').flatMap((part) => {
    const match = /^\s*(-?\d+(?:\.\d+)?)\s*=\s*(.+?)\s*$/.exec(part);
    if (!match) fault(`names “${part}” should read as 0=off;1=running.`);
    return match ? [{ value: Number(match[1]), name: match[2] as string }] : [];
  });
}

function scalingOf(
  cells: Partial<Record<Column, string>>,
  number: (column: Column, usual: number) => number,
): Scaling {
  const pairs = (['raw1', 'value1', 'raw2', 'value2'] as const).some(
    (column) => (cells[column] ?? '') !== '',
  );
  if (pairs)
    return {
      kind: 'pairs',
      raw1: number('raw1', 0),
      value1: number('value1', 0),
      raw2: number('raw2', 0),
      value2: number('value2', 0),
    };
  return { kind: 'factor', factor: number('factor', 1), offset: number('offset', 0) };
}

/** A key out of a name: small letters, digits and hyphens. */
export const keyOf = (name: string): string =>
  name
    .toLowerCase()
    .normalize('NFKD')
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 60) || 'value';
