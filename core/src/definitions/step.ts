import { scalingLine } from '../points/index.js';
import { unitFactor } from '../quantities/index.js';
import type { AnyDefinition } from './anyDefinition.js';

/**
 * The smallest change of a point's reading, base unit; 0 where none is known: floating-point registers, formulas.
 * @param read a reading, base unit: of a message its last decimal is the step, of a float32 that of a number of its size; without
 * one none is known
 */
export function stepOf(definition: AnyDefinition, read?: number): number {
  if (definition.kind === 'formula') return 0;
  if (definition.kind === 'message') return read === undefined ? 0 : lastDecimal(definition, read);
  if (definition.type === 'float32' && read)
    return inBaseUnit(definition, spacing(read / inBaseUnit(definition, 1)));
  if (definition.type.startsWith('float')) return 0;
  return inBaseUnit(definition, 1);
}

const inBaseUnit = (definition: AnyDefinition, counts: number): number => {
  const factor = unitFactor(definition.quantity, definition.unit) ?? 1;
  return Math.abs(scalingLine(definition.scaling).slope * factor) * counts;
};

/** How far apart float32 of a size are: a mantissa has 24 bits (IEEE 754). */
const spacing = (size: number): number => 2 ** (Math.floor(Math.log2(Math.abs(size))) - 23);

function lastDecimal(definition: AnyDefinition, read: number): number {
  const unit = inBaseUnit(definition, 1);
  // As it came: 83.1, and not 83.10000000000001 after a change of units.
  const decimals = String(Number((read / unit).toPrecision(12))).split('.')[1] ?? '';
  return unit * 10 ** -decimals.length;
}
