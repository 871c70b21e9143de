/** Milliseconds of a minute: the shortest rollup. */
export const MINUTE = 60_000;
export const HOUR = 60 * MINUTE;

/** Start of the span of `length` milliseconds that holds t. */
export const spanStart = (t: number, length: number): number => Math.floor(t / length) * length;
/** The first border of spans of `length` milliseconds that is not before t. */
export const spanEnd = (t: number, length: number): number => Math.ceil(t / length) * length;
