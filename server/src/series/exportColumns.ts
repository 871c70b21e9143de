import { QUANTITIES, type Quantity } from '@loka/core/quantities';

/** Header of an export of readings (RFC 4180); documented in docs/export.md. */
export const EXPORT_HEADER = ['time', 'value', 'unit', 'quality', 'raw'];

/** The unit column of each quantity. */
export const UNIT_OF_EXPORT = Object.fromEntries(
  Object.entries(QUANTITIES).map(([quantity, { unit }]) => [quantity, unit]),
) as Record<Quantity, string>;
