import { median } from 'd3-array';
import { typicalDay, type Carpet } from './days.js';

/** A stretch of a day outside of what nine tenths of the days do. */
export interface UnusualStretch {
  /** Minutes of the day. */
  from: number;
  to: number;
  above: boolean;
  /** By how much beyond the 95th, or below the 5th percentile, in the mean, W; and in all, Wh. */
  watts: number;
  energy: number;
}

/** A day against others of its kind. */
export interface DayAgainst {
  /** Of the time that is known of it, Wh. */
  energy: number;
  /** What the others took in the same time, in the median, Wh. */
  usual: number;
  /** So many they are that were read in all of it. */
  days: number;
  /** The largest first. */
  stretches: UnusualStretch[];
}

/** Fewer days are no kind. */
const LEAST_DAYS = 5;
/** A stretch is at least so long, min, with breaks of at most so much. */
const SHORTEST = 30;
const BREAK = 15;
/** It is at least so much of what the day takes as a rule. */
const SHARE = 0.02;

/**
 * What is unusual about a day: when it lies outside of the 5 to 95 % of the other days, for half an hour or more, by a fiftieth of
 * a day's energy or more.
 * @param row the day; @param others days of its kind, of which it may be one
 * @returns null where nothing is known of it, or fewer than five others are there
 */
export function dayAgainst(carpet: Carpet, row: number, others: readonly number[]): DayAgainst | null {
  const rows = others.filter((r) => r !== row);
  const { columns, minutes, watts } = carpet;
  const own = watts.subarray(row * columns, (row + 1) * columns);
  const known = Array.from({ length: columns }, (_, c) => c).filter((c) => !Number.isNaN(own[c]));
  if (known.length === 0 || rows.length < LEAST_DAYS) return null;
  const hours = minutes / 60;
  const energyOf = (r: number) =>
    known.reduce((sum, c) => sum + (watts[r * columns + c] as number) * hours, 0);
  const energies = rows.map(energyOf).filter((wh) => !Number.isNaN(wh));
  const usual = median(energies);
  if (usual === undefined || energies.length < LEAST_DAYS) return null;
  const { p5, p95 } = typicalDay(carpet, rows);
  const beyond = known.map((c) => {
    const w = own[c] as number;
    const [low, high] = [p5[c] ?? NaN, p95[c] ?? NaN];
    return { c, by: w > high ? w - high : w < low ? w - low : 0 };
  });
  const least = SHARE * Math.max(Math.abs(usual), Math.abs(energyOf(row)));
  const stretches = [true, false]
    .flatMap((above) =>
      stretchesOf(
        beyond.filter(({ by }) => (above ? by > 0 : by < 0)),
        above,
        minutes,
      ),
    )
    .filter((s) => s.to - s.from >= SHORTEST && Math.abs(s.energy) >= least)
    .sort((a, b) => Math.abs(b.energy) - Math.abs(a.energy));
  return { energy: energyOf(row), usual, days: energies.length, stretches };
}

function stretchesOf(
  cells: readonly { c: number; by: number }[],
  above: boolean,
  minutes: number,
): UnusualStretch[] {
  const found: (UnusualStretch & { cells: number })[] = [];
  for (const { c, by } of cells) {
    const last = found.at(-1);
    const energy = (by * minutes) / 60;
    if (last && c * minutes - last.to <= BREAK) {
      last.to = (c + 1) * minutes;
      last.energy += energy;
      last.cells++;
    } else found.push({ from: c * minutes, to: (c + 1) * minutes, above, watts: 0, energy, cells: 1 });
  }
  return found.map(({ cells: count, ...s }) => ({ ...s, watts: (s.energy * 60) / (count * minutes) }));
}
