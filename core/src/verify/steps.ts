import { middle, scatterOf, type Trace } from './trace.js';

/** A load that came or went, as it shows in a trace. */
export interface Step {
  /** The first reading at the new level. */
  t: number;
  /** The last reading at the old one: it happened between the two. */
  since: number;
  before: number;
  after: number;
  /** after − before, by the levels of both sides carried to the step. */
  height: number;
  /** Scatter of one reading about its level. */
  scatter: number;
  /** The brackets that were averaged: first and last instant of each. */
  brackets: { before: [number, number]; after: [number, number] };
}

export interface StepOptions {
  /** Steps smaller than this are not looked for, in the trace's unit. */
  least?: number;
}

/** Readings averaged on each side, at most; and at least. */
const WIDE = 8;
const LEAST = 3;
/** A step stands out of the scatter by this much; from 6 σ on it is found. */
const STANDS_OUT = 5;
/** A line carried to the step is known half as well as a level. */
const STANDS_OUT_OF_A_SLOPE = 6.5;
/** A level that wanders by more than this share of the step over its bracket is a ramp's. */
const STAYS = 0.65;
/** A jump of this many σ ends the bracket of its neighbour. */
const CLEAR = 7;
/** A slope that is told from scatter over a whole bracket, σ a reading. */
const SLOPES = 0.54;
/** Jumps nearer to each other than this belong to one switching: an inrush, a reading across the instant. */
const TOGETHER = 3;
/** What moves for longer than this is a ramp, readings. */
const LONGEST_START = 4;

/**
 * Finds the steps in a trace: abrupt changes between two levels that each last at least three readings. A spike with the
 * same level on both sides is none, nor is a ramp of ten readings or more; an inrush belongs to its step. Two switchings
 * within five readings may be taken for one. Steps of six times the scatter are found (about 98 of 100 and more, see
 * docs/benchmarks.md), smaller ones perhaps.
 */
export function findSteps(trace: Trace, { least = 0 }: StepOptions = {}): Step[] {
  const { t, v } = trace;
  if (v.length < 2 * LEAST) return [];
  const scatter = scatterOf(v);
  const jumps = jumpsOf(v, scatter, least);
  // Within a ramp there are jumps by scatter: they must not hide from each other that it goes on.
  const isClear = ([first, last]: readonly number[]) =>
    Math.abs((v[last as number] as number) - (v[(first as number) - 1] as number)) >= CLEAR * scatter;
  const steps: Step[] = [];
  jumps.forEach(([first, last], i) => {
    const start = Math.max(0, jumps.slice(0, i).findLast(isClear)?.[1] ?? 0, first - WIDE);
    const end = Math.min(v.length, jumps.slice(i + 1).find(isClear)?.[0] ?? v.length, last + WIDE);
    if (first - start < LEAST || end - last < LEAST || last - first > LONGEST_START) return;
    const before = sideOf(v.slice(start, first), scatter, 'end');
    const after = sideOf(v.slice(last, end), scatter, 'start');
    const height = after.level - before.level;
    const outOf = (before.slopes || after.slopes ? STANDS_OUT_OF_A_SLOPE : STANDS_OUT) * scatter;
    if (Math.abs(height) < Math.max(outOf, least, 1e-9 * Math.abs(after.level))) return;
    if (Math.max(before.drift, after.drift) > STAYS * Math.abs(height)) return;
    if (!isAbrupt(v, first, last, height)) return;
    steps.push({
      t: t[last] as number,
      since: t[first - 1] as number,
      before: before.level,
      after: after.level,
      height,
      scatter,
      brackets: {
        before: [t[start] as number, t[first - 1] as number],
        after: [t[last] as number, t[end - 1] as number],
      },
    });
  });
  return steps;
}

/** Where the trace jumps: index of the first reading away from the old level, and of the first at the new one. */
function jumpsOf(v: readonly number[], scatter: number, least: number): [number, number][] {
  const threshold = Math.max(3.2 * scatter, 0.6 * least);
  const marked: number[] = [];
  const moveAt = (i: number) => Math.abs((v[i] as number) - (v[i - 1] as number));
  let peak: number[] = [];
  const close = () => {
    const most = Math.max(...peak.map(moveAt));
    marked.push(
      ...peak.filter(
        (i) => moveAt(i) > 0 && (moveAt(i) === most || moveAt(i) >= Math.max(4.5 * scatter, 0.1 * most)),
      ),
    );
    peak = [];
  };
  for (let i = LEAST; i <= v.length - LEAST; i++) {
    let moved = 0;
    for (let k = 0; k < LEAST; k++) moved += (v[i + k] as number) - (v[i - 1 - k] as number);
    moved = Math.abs(moved) / LEAST;
    if (moved > threshold) peak.push(i);
    else if (peak.length > 0) close();
  }
  if (peak.length > 0) close();
  const jumps: [number, number][] = [];
  for (const i of marked) {
    const before = jumps.at(-1);
    if (before && i - before[1] < TOGETHER) before[1] = i;
    else jumps.push([i, i]);
  }
  return jumps;
}

interface Side {
  /** At the step. */
  level: number;
  slopes: boolean;
  /** How far the level wanders over the bracket. */
  drift: number;
}

/**
 * The level of one side at the step: its median, or its straight line carried there when it plainly slopes (Theil, 1950;
 * Sen, 1968: one reading that fell across the switching does not tilt it).
 */
function sideOf(values: readonly number[], scatter: number, edge: 'start' | 'end'): Side {
  const n = values.length;
  const level = middle(values);
  if (n < 5) return { level, slopes: false, drift: 0 };
  const slopes: number[] = [];
  for (let i = 0; i < n; i++)
    for (let j = i + 1; j < n; j++) slopes.push(((values[j] as number) - (values[i] as number)) / (j - i));
  const slope = middle(slopes);
  const drift = Math.abs(slope * n);
  if (Math.abs(slope) <= SLOPES * scatter) return { level, slopes: false, drift };
  const reach = (n - 1) / 2 + 0.5;
  const through = middle(values.map((value, i) => value - slope * (i - (n - 1) / 2)));
  return { level: through + slope * (edge === 'end' ? reach : -reach), slopes: true, drift };
}

/** Whether most of a height was made within a reading or two, one that fell across the switching counted. */
function isAbrupt(v: readonly number[], first: number, last: number, height: number): boolean {
  const made = [
    [first - 1, last],
    [first - 2, last],
    [first - 1, last + 1],
  ].map(([from, to]) => ((v[to as number] ?? NaN) - (v[from as number] ?? NaN)) / height);
  return made.some((share) => share >= 0.5);
}
