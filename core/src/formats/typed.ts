/** Milliseconds of the units in which durations are typed; without one they are seconds. */
const TIME: Record<string, number> = { ms: 1, s: 1000, sec: 1000, m: 60_000, min: 60_000, h: 3_600_000 };

/** A number with a comma or a point, thousands apart or not, and either kind of minus; NaN for what is none. */
function plainNumber(text: string): number {
  const plain = text
    .replace(/[\s\u00a0\u202f]/g, '')
    .replace('−', '-')
    .replace(',', '.');
  return /^[-+]?(\d+\.?\d*|\.\d+)$/.test(plain) ? Number(plain) : NaN;
}

/**
 * A duration as people type it: "2.5" (seconds), "2,5 s", "90 min", "1 h 30 min", "500 ms".
 * @returns ms; null for nothing, NaN for what is none
 */
export function typedDuration(text: string): number | null {
  const trimmed = text.trim();
  if (trimmed === '') return null;
  const alone = plainNumber(trimmed);
  if (!Number.isNaN(alone)) return Math.round(alone * 1000);
  const parts = trimmed.matchAll(/([\d.,]+)\s*([a-z]+)\s*/gy);
  let [ms, read] = [0, 0];
  for (const [all, digits, unit] of parts) {
    ms += plainNumber(digits as string) * (TIME[unit as string] ?? NaN);
    read += all.length;
  }
  return read === trimmed.length ? Math.round(ms) : NaN;
}

/** A duration as {@link typedDuration} takes it back: "2.5 s", "15 min". @param ms not negative */
export const printDuration = (ms: number): string =>
  ms >= 60_000 && ms % 60_000 === 0 ? `${ms / 60_000} min` : `${Number((ms / 1000).toFixed(3))} s`;

const PREFIXES: Record<string, number> = { m: 1e-3, k: 1e3, M: 1e6, G: 1e9 };

/**
 * A value with its unit as people type it: "1.5 kW", "1,5kW", "1500". Without a unit it is in the base unit.
 * @returns base unit; null for nothing, NaN where it is no number or has another unit
 */
export function typedQuantity(text: string, unit: string): number | null {
  const trimmed = text.trim();
  if (trimmed === '') return null;
  const [, digits = '', typed = ''] = /^([^A-Za-z°%µ]*)(.*)$/.exec(trimmed) ?? [];
  const value = plainNumber(digits);
  const named = typed.trim();
  if (named === '' || named === unit) return value;
  const [prefix = ''] = named;
  return unit !== '' && named.slice(1) === unit ? value * (PREFIXES[prefix] ?? NaN) : NaN;
}
