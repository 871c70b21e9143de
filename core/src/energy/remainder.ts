/** What a place takes that nothing below it measures. */
export interface Remainder {
  /** Base unit of what was put in. */
  value: number;
  /** Whether everything below is metered and has a value, so that the remainder is what is really unmetered. */
  complete: boolean;
}

/**
 * The part of a place's power or energy that its metered parts do not cover; null without a value of its own, or
 * without any metered part. Negative when the parts read more than the whole: then something is wired or calibrated
 * wrongly, and it is shown as it is.
 * @param parts values of what hangs directly below, null for one that is metered but has no value now
 */
export function remainderOf(own: number | null, parts: readonly (number | null)[]): Remainder | null {
  if (own === null || parts.length === 0) return null;
  const known = parts.filter((part) => part !== null);
  return { value: own - known.reduce((a, b) => a + b, 0), complete: known.length === parts.length };
}

/** What metered parts come to together. */
export interface PartsSum {
  value: number;
  /** How many of them have a value; where it is fewer than there are, the sum is of less than the whole. */
  known: number;
}

/**
 * The sum of the parts that have a value; null when none has. How many it is of goes with it, because a sum that leaves
 * some out must not pass for the whole.
 */
export function sumOfParts(parts: readonly (number | null)[]): PartsSum | null {
  const values = parts.filter((part) => part !== null);
  return values.length === 0 ? null : { value: values.reduce((a, b) => a + b, 0), known: values.length };
}
