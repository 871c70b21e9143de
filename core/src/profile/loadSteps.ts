import { median } from 'd3-array';
import { findSteps } from '../verify/index.js';
import { HOUR } from '../series/index.js';
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
  /** Time on, of that which is known, ms; and what it took at what it is known to take, Wh. */
  on: number;
  energy: number;
  /** Its steps: how near they are to it, and how alone it is in that; 0 to 1. */
  sure: number;
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

/** A step is a load's where it is so near to it: a share of it (a plate is good to a tenth, IEC 60335-1, recalled), and so many watts. */
const NEAR = 0.1;
const NEAR_WATTS = 8;
/** Smaller steps are not looked for, W. */
const LEAST = 15;
/** Two at once explain many a step: they have to be nearer, and are less sure. */
const NEAR_IN_A_PAIR = 0.03;
const IN_A_PAIR = 0.7;
/** So sure is a step that comes where none could. */
const MISSED = 0.3;
/** Steps are alike within this. */
const ALIKE = 0.08;
/** So many of a kind are told as one. */
const LEAST_OF_A_KIND = 4;

interface Standing {
  load: KnownLoad;
  isOn: boolean | null;
  runs: LoadRun[];
  heights: number[];
  sures: number[];
}

/**
 * Steps in what nobody meters at a place, told apart by the loads that are known there. What a step is nearest to, and what can
 * make it at that moment (what is on does not come on), made it; where none does, two at once. The less sure, the more alike the
 * loads are. What takes more than the power that is left is not on.
 * @param spans power of the place less what is metered behind it
 */
export function loadSteps(spans: PowerSpans, known: readonly KnownLoad[]): LoadSteps {
  const { start, step, length, mean } = spans;
  const standing = known.map((load): Standing => ({
    load,
    isOn: null,
    runs: [],
    heights: [],
    sures: [],
  }));
  const unexplained: PowerStep[] = [];
  let count = 0;
  let on = standing.map(() => 0);
  for (let from = 0; from < length;) {
    if (Number.isNaN(mean[from])) {
      from++;
      continue;
    }
    let end = from;
    while (end < length && !Number.isNaN(mean[end])) end++;
    const instants = Array.from({ length: end - from }, (_, i) => start + (from + i) * step);
    const steps = findSteps({ t: instants, v: Array.from(mean.subarray(from, end)) }, { least: LEAST });
    count += steps.length;
    const [begins, ends] = [start + from * step, start + end * step];
    for (const s of standing) s.isOn = null;
    for (const { t, height, after } of steps)
      if (!explain(standing, { t, watts: height }, after)) unexplained.push({ t, watts: height });
    on = on.map((ms, i) => ms + closed(standing[i] as Standing, begins, ends));
    from = end;
  }
  return {
    count,
    loads: standing.map(({ load, runs, heights, sures }, i) => ({
      name: load.name,
      watts: load.watts,
      seen: median(heights) ?? null,
      runs,
      on: on[i] as number,
      energy: (load.watts * (on[i] as number)) / HOUR,
      sure: sures.length === 0 ? 0 : sures.reduce((a, b) => a + b, 0) / sures.length,
    })),
    unexplained,
    groups: groupsOf(unexplained),
  };
}

/**
 * Whether known loads made the step: one, or two that changed in the same span. That they did is noted.
 * @param after W at which the power stays then: what takes more than that is not on
 */
function explain(standing: readonly Standing[], { t, watts }: PowerStep, after: number): boolean {
  const single = changesOf(standing).map((change) => ({ changes: [change], off: offBy(watts, [change]) }));
  const fit =
    best(single) ?? best(pairsOf(standing).map((changes) => ({ changes, off: offBy(watts, changes) })));
  if (fit) {
    const rival = fit.next === null ? 1 : 0.5 + Math.max(0, fit.next - fit.off) / 2;
    const sure = (1 - fit.off / 2) * rival * (fit.changes.length > 1 ? IN_A_PAIR : 1);
    for (const { s, up } of fit.changes)
      note(s, up, t, fit.changes.length > 1 ? s.load.watts : Math.abs(watts), sure);
  }
  for (const s of standing) if (s.load.watts * (1 - NEAR) - NEAR_WATTS > after) isNotOn(s);
  return fit !== null;
}

/** A load that came on or went off. */
interface Change {
  s: Standing;
  up: boolean;
}

const changesOf = (standing: readonly Standing[]): Change[] =>
  standing.flatMap((s) => [
    { s, up: true },
    { s, up: false },
  ]);

/** Two at once: only of loads that can change so as far as one knows. */
function pairsOf(standing: readonly Standing[]): Change[][] {
  const possible = changesOf(standing).filter(({ s, up }) => s.isOn !== up);
  return possible.flatMap((a, i) => possible.slice(i + 1).flatMap((b) => (a.s === b.s ? [] : [[a, b]])));
}

/** How far a step is from what some changes make, in shares of what is allowed; above 1 it is not theirs. */
function offBy(watts: number, changes: readonly Change[]): number {
  const made = changes.reduce((sum, { s, up }) => sum + (up ? s.load.watts : -s.load.watts), 0);
  const size = changes.reduce((sum, { s }) => sum + s.load.watts, 0);
  const allowed = (changes.length > 1 ? NEAR_IN_A_PAIR : NEAR) * size + NEAR_WATTS;
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
