import { mean, median } from 'd3-array';
import { findSteps, type Step } from '../verify/index.js';
import { HOUR } from '../series/index.js';
import {
  around,
  countBetween,
  NEAR,
  NEAR_WATTS,
  ownSteps,
  PLATE,
  PLATE_WATTS,
  type OwnSteps,
} from './ownSteps.js';
import type { PowerSpans } from './powerSpans.js';

/** A load without a meter of its own, of which one knows how much it takes. */
export interface KnownLoad {
  name: string;
  /** W. */
  watts: number;
}

/** A step up or down in the power of a place. */
export interface PowerStep {
  /** UTC ms: the first span at the new level. */
  t: number;
  /** W; below zero where something went off. */
  watts: number;
}

/** From one step of a load to the other. Null where it was on already, or still is. */
export interface LoadRun {
  start: number | null;
  end: number | null;
  /** Its other step was missed: for how long it was on is not known, and not counted. */
  lost?: true;
}

/** When a load was probably on. */
export interface LoadSeen {
  name: string;
  /** As it is known; and by its steps, in the median, W. */
  watts: number;
  seen: number | null;
  runs: LoadRun[];
  /** Time on, of that which is known, ms; and what it took by its steps, Wh. */
  on: number;
  energy: number;
  /** Its steps: how near they are to it, how alone it is in that, and how few others come at such heights; 0 to 1. */
  sure: number;
  /** Where it is not seen: steps up about what it takes, no more than others make by chance. */
  others: number;
}

/** Steps that no known load makes, alike in height. */
export interface StepGroup {
  watts: number;
  ups: number;
  downs: number;
}

export interface LoadSteps {
  /** All that were found. */
  count: number;
  loads: LoadSeen[];
  /** Those that are left over, in time order. */
  unexplained: PowerStep[];
  groups: StepGroup[];
}

/** Smaller steps are not looked for, W. */
const LEAST = 15;
/** Two at once explain many a step: they are less sure, and taken only where no other two would do. */
const IN_A_PAIR = 0.7;
/** So sure is a step that comes where none could. */
const MISSED = 0.3;
/** Steps are alike within this. */
const ALIKE = 0.08;
/** So many of a kind are told as one. */
const LEAST_OF_A_KIND = 4;

interface Standing {
  load: KnownLoad;
  /** Null where chance would bring about as many. */
  own: OwnSteps | null;
  isOn: boolean | null;
  runs: LoadRun[];
  heights: number[];
  sures: number[];
}

/**
 * Steps in what nobody meters at a place, told apart by the loads that are known there. First the height of each load's steps is
 * looked for about what it is known to take: where more of them lie together than steps of others would by chance. Then every step
 * goes to the load that it is nearest to and that can make it at that moment (what is on does not come on); where none does, to two
 * at once, if no other two would do. What takes more than the power that is left is not on.
 * @param spans power of the place less what is metered behind it
 */
export function loadSteps(spans: PowerSpans, known: readonly KnownLoad[]): LoadSteps {
  const stretches = stretchesOf(spans);
  const all = stretches.flatMap(({ steps }) => steps.map((s) => s.height));
  const ups = Float64Array.from(all.filter((h) => h > 0)).sort();
  const downs = Float64Array.from(
    all.filter((h) => h < 0),
    (h) => -h,
  ).sort();
  const standing = known.map((load): Standing => ({
    load,
    own: ownSteps(load.watts, ups, downs),
    isOn: null,
    runs: [],
    heights: [],
    sures: [],
  }));
  const seen = standing.filter(isSeen);
  const unexplained: PowerStep[] = [];
  const on = new Map<Standing, number>();
  for (const { begins, ends, steps } of stretches) {
    for (const s of standing) s.isOn = null;
    for (const { t, height, after } of steps)
      if (!explain(seen, { t, watts: height }, after)) unexplained.push({ t, watts: height });
    for (const s of standing) on.set(s, (on.get(s) ?? 0) + closed(s, begins, ends));
  }
  return {
    count: all.length,
    loads: standing.map((s) => ({
      name: s.load.name,
      watts: s.load.watts,
      seen: median(s.heights) ?? null,
      runs: s.runs,
      on: on.get(s) ?? 0,
      energy: ((s.own?.height ?? 0) * (on.get(s) ?? 0)) / HOUR,
      sure: (mean(s.sures) ?? 0) * (s.own?.share ?? 0),
      others: s.own ? 0 : countBetween(ups, ...around(s.load.watts, PLATE, PLATE_WATTS)),
    })),
    unexplained,
    groups: groupsOf(unexplained),
  };
}

interface Stretch {
  begins: number;
  ends: number;
  steps: Step[];
}

/** The steps of each stretch in which the power is known all the time. */
function stretchesOf({ start, step, length, mean: watts }: PowerSpans): Stretch[] {
  const found: Stretch[] = [];
  for (let from = 0; from < length; from++) {
    if (Number.isNaN(watts[from])) continue;
    let end = from;
    while (end < length && !Number.isNaN(watts[end])) end++;
    const [begins, ends] = [start + from * step, start + end * step];
    const t = Array.from({ length: end - from }, (_, i) => begins + i * step);
    found.push({
      begins,
      ends,
      steps: findSteps({ t, v: Array.from(watts.subarray(from, end)) }, { least: LEAST }),
    });
    from = end;
  }
  return found;
}

type Seen = Standing & { own: NonNullable<Standing['own']> };
const isSeen = (s: Standing): s is Seen => s.own !== null;

/**
 * Whether known loads made the step: one, or two that changed in the same span. That they did is noted.
 * @param after W at which the power stays then: what takes more than that is not on
 */
function explain(standing: readonly Seen[], { t, watts }: PowerStep, after: number): boolean {
  const told = (changes: Change[]) => ({ changes, off: offBy(watts, changes) });
  const two = best(pairsOf(standing).map(told));
  const fit = best(changesOf(standing).map((change) => told([change]))) ?? (two?.next === null ? two : null);
  if (fit) {
    const rival = fit.next === null ? 1 : 0.5 + Math.max(0, fit.next - fit.off) / 2;
    const sure = (1 - fit.off / 2) * rival * (fit.changes.length > 1 ? IN_A_PAIR : 1);
    for (const { s, up } of fit.changes)
      note(s, up, t, fit.changes.length > 1 ? s.own.height : Math.abs(watts), sure);
  }
  for (const s of standing) if (around(s.own.height, NEAR, NEAR_WATTS)[0] > after) isNotOn(s);
  return fit !== null;
}

/** A load that came on or went off. */
interface Change {
  s: Seen;
  up: boolean;
}

const changesOf = (standing: readonly Seen[]): Change[] =>
  standing.flatMap((s) => [
    { s, up: true },
    { s, up: false },
  ]);

/** Two at once: only of loads that can change so as far as one knows. */
function pairsOf(standing: readonly Seen[]): Change[][] {
  const possible = changesOf(standing).filter(({ s, up }) => s.isOn !== up);
  return possible.flatMap((a, i) => possible.slice(i + 1).flatMap((b) => (a.s === b.s ? [] : [[a, b]])));
}

/** How far a step is from what some changes make, in shares of what is allowed; above 1 it is not theirs. */
function offBy(watts: number, changes: readonly Change[]): number {
  const made = changes.reduce((sum, { s, up }) => sum + (up ? s.own.height : -s.own.height), 0);
  const size = changes.reduce((sum, { s }) => sum + s.own.height, 0);
  const allowed = NEAR * size + NEAR_WATTS;
  return Math.sign(made) === Math.sign(watts) ? Math.abs(watts - made) / allowed : Infinity;
}

/**
 * The nearest of what fits, and how near the next one is that could be as well. What cannot be, for it is on already, is only
 * thought of where nothing else fits: then a step of it was missed.
 */
function best(
  all: readonly { changes: Change[]; off: number }[],
): { changes: Change[]; off: number; next: number | null } | null {
  const cannot = ({ changes }: { changes: Change[] }) => Number(changes.some(({ s, up }) => s.isOn === up));
  const fit = all.filter(({ off }) => off <= 1).sort((a, b) => cannot(a) - cannot(b) || a.off - b.off);
  const [one, next] = fit;
  if (!one) return null;
  return { ...one, next: next && cannot(next) === 0 ? next.off : null };
}

function note(s: Standing, up: boolean, t: number, height: number, sure: number): void {
  const missed = s.isOn === up;
  const run = s.runs.at(-1);
  if (missed && up && run) run.lost = true;
  if (up) s.runs.push({ start: t, end: null });
  else if (s.isOn === true && run && run.end === null) run.end = t;
  else s.runs.push({ start: null, end: t, ...(missed && { lost: true as const }) });
  s.isOn = up;
  s.heights.push(height);
  s.sures.push(missed ? MISSED : sure);
}

/** The power is below what it takes: it went off unseen, if it was on. */
function isNotOn(s: Standing): void {
  const run = s.runs.at(-1);
  if (s.isOn === true && run) {
    run.lost = true;
    s.sures.push(MISSED);
  }
  s.isOn = false;
}

/** How long a load was on in a stretch that is known, ms. */
function closed({ runs }: Standing, begins: number, ends: number): number {
  return runs.reduce((sum, { start, end, lost }) => {
    if (lost) return sum;
    // A run belongs to the stretch in which one of its steps lies.
    const own = (t: number | null) => t !== null && t >= begins && t <= ends;
    return own(start) || own(end) ? sum + (end ?? ends) - (start ?? begins) : sum;
  }, 0);
}

/** Steps that are alike in height, the most frequent first. */
function groupsOf(steps: readonly PowerStep[]): StepGroup[] {
  const sorted = [...steps].sort((a, b) => Math.abs(a.watts) - Math.abs(b.watts));
  const groups: PowerStep[][] = [];
  for (const step of sorted) {
    const last = groups.at(-1);
    const height = Math.abs(step.watts);
    if (last && height <= Math.abs((last[0] as PowerStep).watts) * (1 + 2 * ALIKE)) last.push(step);
    else groups.push([step]);
  }
  return groups
    .filter((g) => g.length >= LEAST_OF_A_KIND)
    .map((g) => ({
      watts: median(g, (s) => Math.abs(s.watts)) as number,
      ups: g.filter((s) => s.watts > 0).length,
      downs: g.filter((s) => s.watts < 0).length,
    }))
    .sort((a, b) => b.ups + b.downs - a.ups - a.downs);
}

/** What nobody meters at a place: its power less that of what is metered behind it. */
export function leftOver(own: PowerSpans, metered: readonly PowerSpans[]): PowerSpans {
  const minus = (column: 'mean' | 'last') =>
    own[column].map((w, i) => metered.reduce((left, m) => left - (m[column][i] as number), w));
  const mean = minus('mean');
  return { ...own, mean, min: mean, max: mean, last: minus('last') };
}
