import { quantileSorted } from 'd3-array';
import type { TimeSpan } from '../time/index.js';
import type { PowerSpans } from './powerSpans.js';

/** Days as rows, times of day as columns: the mean power of each cell, W; NaN where nothing is known. */
export interface Carpet {
  /** Start of each day, UTC ms. */
  days: number[];
  /** Minutes of a cell. */
  minutes: number;
  /** Row after row; a day has so many cells, also where it is shorter or longer. */
  columns: number;
  watts: Float64Array;
}

const MINUTE = 60_000;
const DAY_MINUTES = 1440;

/**
 * The power by day and time of day.
 * @param minuteOfDay of an instant by the site's clock: an hour that comes twice falls on the same cells, one that is left out leaves them empty
 */
export function carpetOf(
  spans: PowerSpans,
  days: readonly TimeSpan[],
  minutes: number,
  minuteOfDay: (t: number) => number,
): Carpet {
  const columns = DAY_MINUTES / minutes;
  const sums = new Float64Array(days.length * columns);
  const counts = new Uint32Array(sums.length);
  days.forEach(({ start, end }, row) => {
    const plain = end - start === DAY_MINUTES * MINUTE && minuteOfDay(start) === 0;
    const first = Math.max(0, Math.ceil((start - spans.start) / spans.step));
    const last = Math.min(spans.length, Math.ceil((end - spans.start) / spans.step));
    for (let i = first; i < last; i++) {
      const m = spans.mean[i] as number;
      if (Number.isNaN(m)) continue;
      const t = spans.start + i * spans.step;
      const minute = plain ? (t - start) / MINUTE : minuteOfDay(t);
      const cell = row * columns + Math.min(columns - 1, Math.floor(minute / minutes));
      sums[cell] = (sums[cell] as number) + m;
      counts[cell] = (counts[cell] as number) + 1;
    }
  });
  const watts = sums.map((sum, i) => (counts[i] === 0 ? NaN : sum / (counts[i] as number)));
  return { days: days.map((d) => d.start), minutes, columns, watts };
}

/** A day as it usually is: for each time of day the shares of days below; W. */
export interface TypicalDay {
  days: number;
  /** Null where no day is known at that time. */
  p5: (number | null)[];
  p25: (number | null)[];
  p50: (number | null)[];
  p75: (number | null)[];
  p95: (number | null)[];
}

/** The days of a carpet that are alike, as one. @param rows which of them */
export function typicalDay({ columns, watts }: Carpet, rows: readonly number[]): TypicalDay {
  const out: TypicalDay = { days: rows.length, p5: [], p25: [], p50: [], p75: [], p95: [] };
  for (let c = 0; c < columns; c++) {
    const values = rows
      .map((row) => watts[row * columns + c] as number)
      .filter((v) => !Number.isNaN(v))
      .sort((a, b) => a - b);
    const at = (q: number) => quantileSorted(values, q) ?? null;
    out.p5.push(at(0.05));
    out.p25.push(at(0.25));
    out.p50.push(at(0.5));
    out.p75.push(at(0.75));
    out.p95.push(at(0.95));
  }
  return out;
}

/** A day of which less than this share was read has no energy to be told. */
const READ = 0.9;

/** Energy of each of these days, Wh, by the mean of what was read; days that were hardly read are left out. */
export function dayEnergies({ columns, watts }: Carpet, rows: readonly number[]): number[] {
  return rows.flatMap((row) => {
    const known = watts.subarray(row * columns, (row + 1) * columns).filter((w) => !Number.isNaN(w));
    return known.length < READ * columns ? [] : [(24 * known.reduce((a, b) => a + b, 0)) / known.length];
  });
}
