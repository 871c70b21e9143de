import type { Series } from '@loka/contract/readings';

/** A reading that came in live. */
export interface LiveValue {
  t: number;
  v: number | null;
}

/**
 * A line from the store with what has come in live after it. Where more time lies between two of them than a reading may
 * speak, the line breaks, so that a page that was without its connection for a while draws none across the hole.
 * @param hold how long a reading of the point speaks, ms
 */
export function withLive(stored: Series, live: readonly LiveValue[], hold: number): Series {
  const series: Series = {
    ...stored,
    t: [...stored.t],
    mean: [...stored.mean],
    min: [...stored.min],
    max: [...stored.max],
    count: [...stored.count],
    covered: [...stored.covered],
  };
  const push = (t: number, v: number | null) => {
    series.t.push(t);
    for (const column of [series.mean, series.min, series.max]) column.push(v);
    series.count.push(v === null ? 0 : 1);
    series.covered.push(0);
  };
  let last = (stored.t.at(-1) ?? -Infinity) + stored.step;
  for (const { t, v } of live) {
    if (t <= last) continue;
    // The last value of the store may be of a whole step; what follows it within a hold of its end goes on from it.
    if (Number.isFinite(last) && t - last > hold && series.mean.at(-1) !== null) push(last + hold, null);
    push(t, v);
    last = t;
  }
  return series;
}
