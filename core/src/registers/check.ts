import { QUANTITIES, unitFactor } from '../quantities/index.js';
import { wireAddress, kindInWords } from './address.js';
import {
  companionAddress,
  isReadable,
  isSetting,
  isWritable,
  readSpanOf,
  spanOf,
  type PointDefinition,
  type Span,
} from './definition.js';
import { MAX_WORDS } from './plan.js';
import { scalingLine } from '../points/scaling.js';
import { isBitKind, isWritableKind, widthOf } from './types.js';

/** Something wrong with a point of a map, at the field where it was typed. */
export interface MapFault {
  /** Position in the list of points. */
  index: number;
  field: keyof PointDefinition;
  message: string;
}

/** Everything that is wrong with a map's points; an empty list means that the map can be polled. */
export function checkMap(points: readonly PointDefinition[]): MapFault[] {
  return [...points.flatMap(checkPoint), ...checkKeys(points), ...checkOverlaps(points)];
}

function checkPoint(point: PointDefinition, index: number): MapFault[] {
  const faults: MapFault[] = [];
  const fault = (field: keyof PointDefinition, message: string) => faults.push({ index, field, message });
  const address = wireAddress(point.kind, point.address, point.counting);
  if (!address.ok) fault('address', address.message);
  else if (!isBitKind(point.kind) && address.wire + (spanOf(point)?.count ?? 0) > 65536)
    fault('address', `A ${point.type} at ${point.address} would run past the last register.`);
  if (isBitKind(point.kind) && point.type !== 'bool')
    fault('type', `A ${kindInWords(point.kind)} is one bit: its type is bool.`);
  if (isWritable(point) && !isWritableKind(point.kind))
    fault(
      'access',
      `A ${kindInWords(point.kind)} can only be read. Coils and holding registers can be written.`,
    );
  for (const [field, message] of detailFaults(point)) fault(field, message);
  if (unitFactor(point.quantity, point.unit) === undefined)
    fault(
      'unit',
      `${QUANTITIES[point.quantity].label} comes in ${Object.keys(QUANTITIES[point.quantity].units).filter(Boolean).join(', ') || 'no unit'}.`,
    );
  try {
    scalingLine(point.scaling);
  } catch (error) {
    fault('scaling', `${(error as Error).message}.`);
  }
  return faults;
}

/** What is wrong with the members that only some values have. */
function detailFaults(point: PointDefinition): [keyof PointDefinition, string][] {
  const { bit, inverted, length, companion, names, send, setting, noValue, writeMultiple, type, kind } =
    point;
  const faults: [keyof PointDefinition, string][] = [];
  const isBool = type === 'bool';
  if (bit !== undefined && (!isBool || isBitKind(kind)))
    faults.push(['bit', 'Only a bool in a register is one bit of a word.']);
  else if (bit !== undefined && !(Number.isInteger(bit) && bit >= 0 && bit <= 15))
    faults.push(['bit', 'A word has the bits 0 (lowest) to 15.']);
  else if (bit !== undefined && (isWritable(point) || isSetting(point)))
    faults.push([
      'access',
      'A single bit of a word can only be read; writing it would overwrite the others.',
    ]);
  if (inverted && !isBool) faults.push(['inverted', 'Only a bool can be inverted.']);
  if (
    type === 'string' &&
    !(Number.isInteger(length) && (length as number) >= 1 && (length as number) <= MAX_WORDS)
  )
    faults.push(['length', `A string takes 1 to ${MAX_WORDS} registers; say how many.`]);
  if (type === 'string' && (isWritable(point) || isSetting(point)))
    faults.push(['access', 'A string can only be read.']);
  if (isSetting(point) !== (setting !== undefined))
    faults.push(['setting', isSetting(point) ? 'Choose what it sets.' : 'Only a setting sets something.']);
  if (type !== 'string' && length !== undefined) faults.push(['length', 'Only a string has a length.']);
  if (send !== undefined && point.access !== 'write')
    faults.push(['send', 'Only write-only points can have a fixed command value.']);
  if (writeMultiple && !isWritable(point) && !isSetting(point))
    faults.push(['writeMultiple', 'Only a writable value has a way of writing.']);
  if (new Set(names?.map((n) => n.value)).size !== (names?.length ?? 0))
    faults.push(['names', 'Each value has one name.']);
  if (companion) faults.push(...companionFaults(point));
  if (noValue !== undefined) {
    if (isBool || type === 'string')
      faults.push(['noValue', 'Only a number has a code for “not available”.']);
    else if (!(Number.isInteger(noValue) && noValue >= 0 && noValue < 2 ** (16 * widthOf(type))))
      faults.push(['noValue', `The code for “not available” has to fit a ${type}.`]);
  }
  return faults;
}

function companionFaults(point: PointDefinition): [keyof PointDefinition, string][] {
  const { companion, kind, type, counting } = point;
  if (!companion) return [];
  if (isBitKind(kind) || type === 'bool' || type === 'string')
    return [['companion', 'Only a number can take decimals or a power of ten from another register.']];
  if (isWritable(point) || isSetting(point))
    return [['access', 'A value that lies in two registers can only be read.']];
  const address = wireAddress(kind, companion.address, counting);
  if (!address.ok) return [['companion', address.message]];
  const own = spanOf(point);
  const other = companionAddress(point);
  if (own && other !== null && other >= own.start && other < own.start + own.count)
    return [['companion', 'That is a register of the value itself.']];
  if ((readSpanOf(point)?.count ?? 0) > MAX_WORDS)
    return [['companion', `It is too far away: both must fit one request of ${MAX_WORDS} registers.`]];
  if (
    companion.role === 'decimals' &&
    !(Number.isInteger(companion.digits) && companion.digits >= 1 && companion.digits <= 5)
  )
    return [['companion', 'A decimals register has 1 to 5 digits.']];
  return [];
}

function checkKeys(points: readonly PointDefinition[]): MapFault[] {
  const faults: MapFault[] = [];
  const names = new Map<string, number>();
  const keys = new Map<string, number>();
  points.forEach((point, index) => {
    if (names.has(point.name))
      faults.push({
        index,
        field: 'name',
        message: `“${point.name}” is already the name of row ${(names.get(point.name) ?? 0) + 1}.`,
      });
    else if (keys.has(point.key))
      faults.push({ index, field: 'key', message: `The key “${point.key}” is used twice.` });
    names.set(point.name, index);
    keys.set(point.key, index);
  });
  return faults;
}

/**
 * Values that share registers. Two identical spans are allowed only where one is read and the other written
 * (a command and its state); a value that begins inside another one is the usual slip with two-register values.
 */
function checkOverlaps(points: readonly PointDefinition[]): MapFault[] {
  const faults: MapFault[] = [];
  const placed = points
    .map((point, index) => ({ point, index, span: spanOf(point) }))
    .filter((entry): entry is { point: PointDefinition; index: number; span: Span } => entry.span !== null)
    .sort(
      (a, b) => a.span.kind.localeCompare(b.span.kind) || a.span.start - b.span.start || a.index - b.index,
    );
  placed.forEach((entry, i) => {
    for (let j = i - 1; j >= 0; j--) {
      const before = placed[j] as (typeof placed)[number];
      // However far back it begins: a text may take any number of registers.
      if (before.span.kind !== entry.span.kind) break;
      const end = before.span.start + before.span.count;
      if (end <= entry.span.start) continue;
      const same = before.span.start === entry.span.start && before.span.count === entry.span.count;
      if (same && !(isReadable(before.point) && isReadable(entry.point))) continue;
      // Bits of one word lie beside each other, and a word may be read whole as well.
      if (same && before.point.bit !== entry.point.bit) continue;
      const offset = entry.span.start - before.span.start;
      faults.push({
        index: entry.index,
        field: 'address',
        message: same
          ? `“${before.point.name}” already reads this address.`
          : offset === 0
            ? `Overlaps “${before.point.name}”, which takes ${before.span.count === 1 ? '1 register' : `${before.span.count} registers`} from the same address.`
            : `This is register ${offset + 1} of ${before.span.count} of “${before.point.name}” (${before.point.type}). The next free address is ${offset === before.span.count - 1 ? 'one' : `${before.span.count - offset}`} further on.`,
      });
      break;
    }
  });
  return faults;
}
