import { median } from 'd3-array';

/** Something that comes again and again at the same distance in time. */
export interface Recurrence {
  /** ms. */
  period: number;
  /** An instant at which it comes; others lie whole periods from it. UTC ms. */
  phase: number;
  /** How closely the instants lie to it: 1 all of them, 0 anywhere. */
  closeness: number;
  /** By chance instants would lie as closely once in so many cases: 0.001 is once in a thousand. */
  chance: number;
  /** Median distance of the instants from where they should be, ms. */
  off: number;
  /** How many of the instants that should have been were there. */
  seen: number;
  expected: number;
}

/** Rarer than this by chance counts as found. */
const FOUND = 1e-4;
const LEAST = 4;
/** So many instants are looked at first: n R² of them is at least this, or of few this share of n. By chance it is 4 once in 55. */
const GLANCE = 100;
const CLOSE = 4;
const CLOSE_SHARE = 0.7;
/** Of the times at which it should have come, so many it has come. */
const MOST_MISSED = 0.25;
const ONE_A_PERIOD = 0.75;

/**
 * Whether instants come at a period. Tried are the distances between them, and parts of those; of each the closeness is
 * the length of the mean of the instants as directions on a circle of that period. By chance a length R of n directions
 * comes about exp(−n R²) of the time (Rayleigh's test); all of n on an arc of the share w come n·wⁿ⁻¹ of the time, which says
 * more where they are few and close. Both are taken for one less, as the period was fitted, and as many times as periods
 * were tried.
 * @param times ascending, UTC ms
 * @param isKnown whether an instant lies where something could have been seen
 * @returns null where nothing recurs that chance would not bring about as well
 */
export function recurrenceOf(
  times: readonly number[],
  isKnown: (t: number) => boolean = () => true,
): Recurrence | null {
  const n = times.length;
  if (n < LEAST) return null;
  const [first, last] = [times[0] as number, times[n - 1] as number];
  const spacing = median(times.slice(1).map((t, i) => t - (times[i] as number))) as number;
  if (!(spacing > 0)) return null;
  const tried = candidates(times, spacing);
  const sample = times.slice(0, GLANCE);
  let best: Recurrence | null = null;
  for (const start of tried) {
    const near = refined(sample, start);
    if (!(near > 0)) continue;
    // Most are none by the first instants already; of thousands only those that may be one are looked at whole.
    const close = sample.length * direction(sample, near).length ** 2;
    if (close < Math.min(CLOSE, CLOSE_SHARE * sample.length)) continue;
    const period = refined(times, near);
    if (!(period > 0)) continue;
    const { length, phase } = direction(times, period);
    // A period has to be tried on instants that lie several of them apart, or any two would do.
    if (period > (last - first) / (LEAST - 1)) continue;
    const chance = Math.min(
      1,
      tried.length * Math.min(Math.exp(-(n - 1) * length * length), inAnArc(times, period)),
    );
    if (chance > FOUND) continue;
    const { seen, expected, off } = attendance(times, period, phase, isKnown);
    // What comes several times a period comes by another rule: at hours of the day, say.
    if (seen < ONE_A_PERIOD * n) continue;
    if (expected - seen > MOST_MISSED * expected || off > period / 8) continue;
    if (!best || chance < best.chance || (chance === best.chance && period > best.period))
      best = { period, phase, closeness: length, chance, off, seen, expected };
  }
  return best;
}

/** Distances to try: those between neighbours and next neighbours, each once. */
function candidates(times: readonly number[], spacing: number): number[] {
  const distances = new Set<number>();
  const grain = spacing / 50;
  for (let i = 1; i < times.length && distances.size < 200; i++)
    for (const back of [1, 2])
      if (i >= back) {
        const d = (times[i] as number) - (times[i - back] as number);
        if (d > grain) distances.add(Math.round(d / grain) * grain);
      }
  return [...distances];
}

/** How often by chance all would lie on an arc as short as the shortest that holds them. */
function inAnArc(times: readonly number[], period: number): number {
  const places = times.map((t) => (t % period) / period).sort((a, b) => a - b);
  const gaps = places.map((p, i) =>
    i === 0 ? p + 1 - (places.at(-1) as number) : p - (places[i - 1] as number),
  );
  const share = 1 - Math.max(...gaps);
  return times.length * share ** (times.length - 2);
}

function direction(times: readonly number[], period: number): { length: number; phase: number } {
  let [x, y] = [0, 0];
  for (const t of times) {
    const angle = (2 * Math.PI * (t % period)) / period;
    x += Math.cos(angle);
    y += Math.sin(angle);
  }
  const angle = Math.atan2(y, x);
  return {
    length: Math.hypot(x, y) / times.length,
    phase: ((angle < 0 ? angle + 2 * Math.PI : angle) / (2 * Math.PI)) * period,
  };
}

/** The period near one that is nearly it: the slope of the instants over their numbers, by least squares, a few times. */
function refined(times: readonly number[], start: number): number {
  let period = start;
  const first = times[0] as number;
  // From the beginning on, so that a small error does not miscount what is far.
  for (let reach = 4; ; reach *= 2) {
    const part = times.slice(0, reach);
    const numbers = part.map((t) => Math.round((t - first) / period));
    const [mk, mt] = [mean(numbers), mean(part)];
    let [top, bottom] = [0, 0];
    numbers.forEach((k, i) => {
      top += (k - mk) * ((part[i] as number) - mt);
      bottom += (k - mk) ** 2;
    });
    if (bottom > 0 && top > 0) period = top / bottom;
    if (reach >= times.length) return period;
  }
}
const mean = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0) / values.length;

/** How many of the instants of a period there were among those that could have been seen. */
function attendance(
  times: readonly number[],
  period: number,
  phase: number,
  isKnown: (t: number) => boolean,
): { seen: number; expected: number; off: number } {
  const offs: number[] = [];
  const numbers = new Set<number>();
  for (const t of times) {
    const k = Math.round((t - phase) / period);
    numbers.add(k);
    offs.push(Math.abs(t - phase - k * period));
  }
  let expected = 0;
  const from = Math.min(...numbers);
  const to = Math.max(...numbers);
  for (let k = from; k <= to; k++) if (numbers.has(k) || isKnown(phase + k * period)) expected++;
  return { seen: numbers.size, expected, off: median(offs) as number };
}
