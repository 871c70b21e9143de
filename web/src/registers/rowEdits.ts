import {
  isBitKind,
  widthOf,
  type ByteOrder,
  type Access,
  type Counting,
  type PointDefinition,
  type RegisterKind,
  type ValueType,
  type WordOrder,
} from '@loka/core/registers';
import { withAccess } from '../points/withAccess.js';

/** A row with another kind of register: a bit is a state, and a register that was one begins as a number. */
export const withKind = (row: PointDefinition, kind: RegisterKind): PointDefinition => ({
  ...row,
  kind,
  ...(isBitKind(kind)
    ? { type: 'bool' as const, quantity: 'contact-state' as const, unit: '', phase: null }
    : row.type === 'bool' && isBitKind(row.kind)
      ? { type: 'uint16' as const }
      : {}),
});

/** A row with another type; what only a bool, a text or a number has goes with the type that had it. */
export function withType(row: PointDefinition, type: ValueType): PointDefinition {
  const { bit, inverted, length, companion, names, noValue, ...rest } = row;
  const isNumber = type !== 'bool' && type !== 'string';
  return {
    ...rest,
    type,
    ...(type === 'bool' ? { ...(bit === undefined ? {} : { bit }), ...(inverted ? { inverted } : {}) } : {}),
    ...(type === 'string' && length !== undefined ? { length } : {}),
    ...(isNumber && companion ? { companion } : {}),
    ...(isNumber && names ? { names } : {}),
    // A code of one width is none of another.
    ...(isNumber && noValue !== undefined && widthOf(type) === widthOf(row.type) ? { noValue } : {}),
  };
}

/** A row with another access; how it is written says nothing about what is only read. */
export function withRegisterAccess(row: PointDefinition, access: Access): PointDefinition {
  const { writeMultiple, ...rest } = withAccess(row, access);
  return access !== 'read' && writeMultiple ? { ...rest, writeMultiple } : rest;
}

/** What is set for all rows at once. */
export interface ForAll {
  kind?: RegisterKind;
  counting?: Counting;
  wordOrder?: WordOrder;
  byteOrder?: ByteOrder;
}

/** The rows with some members set for all: registers get another kind among registers only, and bits have no order. */
export const setForAll = (rows: readonly PointDefinition[], { kind, ...rest }: ForAll): PointDefinition[] =>
  rows.map((row) => {
    if (isBitKind(row.kind)) return rest.counting === undefined ? row : { ...row, counting: rest.counting };
    const next = { ...row, ...rest };
    return kind !== undefined && !isBitKind(kind) ? withKind(next, kind) : next;
  });
