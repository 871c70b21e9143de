import { scalingLine } from '../points/index.js';
import { unitFactor } from '../quantities/index.js';
import type { AnyDefinition } from './anyDefinition.js';

/** Nine decimal digits tell any two float32 apart; what arithmetic leaves behind is in the 16th and 17th (IEEE 754). */
const SINGLE = 9;
const DOUBLE = 15;

/**
 * A reading as a number without the digits that its register does not hold: 230.15 of a float32, where a float64 of the same
 * value would be printed as 230.14999389648438.
 * @param value raw or corrected, base unit
 */
export function knownDigits(definition: AnyDefinition, value: number): number {
  if (!Number.isFinite(value)) return value;
  if (definition.kind === 'formula') return Number(value.toPrecision(DOUBLE));
  const { slope, intercept } = scalingLine(definition.scaling);
  const factor = unitFactor(definition.quantity, definition.unit) ?? 1;
  const type = definition.kind === 'message' ? 'float64' : definition.type;
  // A float64, or a number in a payload, holds what a number here holds.
  if (type === 'float64' && slope === 1 && intercept === 0 && factor === 1) return value;
  if (type !== 'float32') return Number(value.toPrecision(DOUBLE));
  const held = Math.fround((value / factor - intercept) / slope);
  const read = (number: number): number => (slope * number + intercept) * factor;
  // What was corrected is no longer what the register held.
  if (read(held) !== value) return Number(value.toPrecision(SINGLE));
  return Number(read(shortest(held)).toPrecision(DOUBLE));
}

/** The number with the fewest digits that is the same float32. */
function shortest(float: number): number {
  for (let digits = 1; digits < SINGLE; digits++) {
    const short = Number(float.toPrecision(digits));
    if (Math.fround(short) === float) return short;
  }
  return Number(float.toPrecision(SINGLE));
}
