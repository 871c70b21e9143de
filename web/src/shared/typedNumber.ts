/** A number as people type it, with a comma or a point, and either kind of minus; null for nothing, NaN for what is none. */
export const typedNumber = (text: string): number | null =>
  text.trim() === '' ? null : Number(text.trim().replace(',', '.').replace('−', '-'));
