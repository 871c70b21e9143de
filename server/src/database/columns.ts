import type { ColumnOptions } from 'typeorm';

const toNumber = {
  to: (value: number | null) => value,
  from: (value: string | number | null) => (value === null ? null : Number(value)),
};

/** An instant in UTC milliseconds; BIGINT, which the driver would hand out as text. */
export const instant = { type: 'bigint', transformer: toNumber } satisfies ColumnOptions;
export const instantOrNull = { ...instant, nullable: true } satisfies ColumnOptions;
