import { median, pairs as pairwise, sum } from 'd3-array';
import { HOUR } from '../series/index.js';
import { levelAt, type Level, type Levels } from './levels.js';
import type { PowerSpans } from './powerSpans.js';
import { spreadOf, type Spread } from './spread.js';

/** One run of a load, from switching on to switching off. */
export interface Cycle {
  /** UTC ms, to a part of a span where its mean tells how much of it the load ran. */
  start: number;
  end: number;
  /** Above the level at which it waits, Wh. */
  energy: number;
  /** W. */
  peak: number;
}

/** By which powers a load waits, and by which it runs. */
export interface RunRule {
  /** Whether a power is one of running. */
  runs(watts: number): boolean;
  /** The levels of waiting: one, or more where another load on the circuit comes and goes by itself. */
  waiting: Level[];
}

/** What is taken to be a run where runs stay at no level: so many spreads of waiting above it. */
const ABOVE_WAITING = 3;
/** A level that is held for so long at a time, runs left out, is one of waiting: a light, a pump (common practice). */
const LONG_STAY = 2 * HOUR;
/** So much of such a stay is spent at the level itself; the rest are runs that begin from it. */
const OWN_SHARE = 0.12;

/**
 * How a load runs, by its levels: it waits at the lowest of them. It also waits at another one where it stays for hours,
 * and from which it runs as from the lowest: then another load stands beside it on the circuit. Null where nothing tells
 * when it runs: there is one level alone, or the lowest is none.
 */
export function runRule(found: Levels, spans: PowerSpans): RunRule | null {
  const { levels, floor, between } = found;
  const [idle] = levels;
  // What gives power does not run: its lowest level is where it gives most.
  if (!idle || idle.varies || idle.watts < -floor) return null;
  const at = levelAt(found);
  const waits = levels.map((l) => l === idle);
  levels.forEach((l, i) => {
    if (i > 0 && i < levels.length - 1 && !l.varies && isLongStay(spans, at, waits, i)) waits[i] = true;
  });
  const waiting = levels.filter((_, i) => waits[i]);
  if (waits.every(Boolean)) {
    if (between < LEAST_RUNNING) return null;
    // What it runs at is nowhere long enough to be a level.
    const top = levels.at(-1) as Level;
    const line = top.high + Math.max(ABOVE_WAITING * (top.high - top.low), 2 * floor);
    return { runs: (watts) => watts > line, waiting };
  }
  return { runs: (watts) => waits[at(watts)] === false, waiting };
}
/** Of the known time; below it nothing runs. */
const LEAST_RUNNING = 0.002;

/**
 * Whether level i is one of waiting beside those that are known: with the spans above it left out, the load changes between
 * them every few hours, and runs begin from both.
 */
function isLongStay(
  { mean, min, max, length, step }: PowerSpans,
  at: (watts: number) => number,
  waits: readonly boolean[],
  i: number,
): boolean {
  const stays: { here: boolean; from: number; to: number; own: number }[] = [];
  const began = { here: 0, there: 0 };
  let ran = false;
  for (let k = 0; k < length; k++) {
    const level = at(mean[k] as number);
    // A span in which it changes lies at no level, wherever its mean is.
    if (Number.isNaN(mean[k]) || at(min[k] as number) !== level || at(max[k] as number) !== level) continue;
    const here = level === i;
    if (!here && waits[level] !== true) {
      const stay = stays.at(-1);
      if (!ran && stay) began[stay.here ? 'here' : 'there']++;
      ran = true;
      continue;
    }
    ran = false;
    const stay = stays.at(-1);
    if (stay?.here === here) [stay.to, stay.own] = [k, stay.own + 1];
    else stays.push({ here, from: k, to: k, own: 1 });
  }
  const long = (here: boolean) => {
    const those = stays.filter((s) => s.here === here);
    const lengths = those.map(({ from, to }) => to - from + 1);
    const own = sum(those, (s) => s.own) / sum(lengths);
    return those.length > 0 && (median(lengths) as number) * step >= LONG_STAY && own >= OWN_SHARE;
  };
  return began.here > 0 && began.there > 0 && long(true) && long(false);
}

/**
 * Every run that began and ended while the load was read. Where a span holds an edge, its mean says how much of it was
 * run; by its last value one knows on which side it ended.
 */
export function cyclesOf(spans: PowerSpans, { runs }: RunRule): Cycle[] {
  const { start, step, length, mean, min, max, last } = spans;
  const cycles: Cycle[] = [];
  /** Null where it is not known: at the beginning, and after a gap. */
  let state: boolean | null = null;
  let open: Cycle | null = null;
  /** What it waited at last, W. */
  let idle = 0;
  const begin = (at: number): Cycle => ({ start: at, end: at, energy: 0, peak: -Infinity });
  const close = (cycle: Cycle, at: number) => {
    cycle.end = at;
    cycles.push(cycle);
  };
  const steadyAt = (i: number, running: boolean): number | null =>
    i >= 0 && i < length && runs(min[i] as number) === running && runs(max[i] as number) === running
      ? (mean[i] as number)
      : null;
  for (let i = 0; i < length; i++) {
    const m = mean[i] as number;
    if (Number.isNaN(m)) {
      [state, open] = [null, null];
      continue;
    }
    const t = start + i * step;
    const [low, high] = [min[i] as number, max[i] as number];
    const ends = runs(last[i] as number);
    idle = steadyAt(i, false) ?? idle;
    const energy = ((m - idle) * step) / HOUR;
    if (open) {
      open.energy += energy;
      open.peak = Math.max(open.peak, high);
    }
    if (state === null) state = ends;
    else if (!state && ends) {
      // The power that it will run at is that of the next span, where it runs from end to end; else its highest.
      open = begin(t + step * (1 - share(m, idle, steadyAt(i + 1, true) ?? high)));
      open.energy += energy;
      open.peak = high;
      state = true;
    } else if (state && !ends) {
      if (open)
        close(open, t + step * share(m, steadyAt(i + 1, false) ?? low, steadyAt(i - 1, true) ?? high));
      [open, state] = [null, false];
    } else if (!state && runs(high)) {
      // Within one span: how long is known, and when to a span.
      const ran = step * share(m, idle, high);
      const pulse = begin(t + (step - ran) / 2);
      Object.assign(pulse, { energy, peak: high });
      close(pulse, pulse.start + ran);
    } else if (state && !runs(low) && open) {
      // A pause within one span.
      const paused = step * (1 - share(m, low, high));
      close(open, t + (step - paused) / 2);
      open = begin(t + (step + paused) / 2);
    }
  }
  return cycles;
}

const share = (mean: number, idle: number, running: number): number =>
  running > idle ? Math.min(1, Math.max(0, (mean - idle) / (running - idle))) : 0.5;

/** What the runs of a load have in common. */
export interface CycleFigures {
  count: number;
  /** Starts a day of the known time, and share of it that it ran; a run that is cut off by its ends or by a gap is not among them. */
  perDay: number;
  duty: number;
  /** Medians and quartiles, ms and Wh. */
  on: Spread;
  /** Null where no two runs follow one another without a gap. */
  pause: Spread | null;
  energy: Spread;
}

/**
 * Figures of runs. Pauses are those between runs that follow one another while the load was read.
 * @param known ms of the period in which it was
 * @param isKnown whether it was read all the time between two instants
 * @returns null without two runs
 */
export function cycleFigures(
  cycles: readonly Cycle[],
  known: number,
  isKnown: (from: number, to: number) => boolean,
): CycleFigures | null {
  if (cycles.length < 2 || known <= 0) return null;
  const on = cycles.map((c) => c.end - c.start);
  const pauses = pairwise(cycles)
    .filter(([a, b]) => isKnown(a.end, b.start))
    .map(([a, b]) => b.start - a.end);
  return {
    count: cycles.length,
    perDay: (cycles.length * 24 * HOUR) / known,
    duty: sum(on) / known,
    on: spreadOf(on),
    pause: pauses.length > 0 ? spreadOf(pauses) : null,
    energy: spreadOf(cycles.map((c) => c.energy)),
  };
}
