import { mean } from 'd3-array';
import type { Channel, Look, Metered, Plate } from './circuit.js';
import type { Line } from './phasors.js';
import { findSteps, type Step } from './steps.js';
import { levelBetween, paceOf, scatterOf, type Trace } from './trace.js';

/** A change, and how far its scatter lets it be off (a standard deviation). */
export interface Change {
  by: number;
  noise: number;
}

/** By how much one line conductor changed; what came is positive, also when the event was a load that went. */
export interface LineChange {
  line: Line;
  /** V during the event. */
  volts: number;
  /** A of what came: from power and reactive power where both are known, else of the current's magnitude. */
  amperes: number;
  /** Standard deviation of `amperes` by the scatter of the readings. */
  noise: number;
  watts: number | null;
  /** var; where they are not measured, by current and power, taken as lagging. */
  vars: number | null;
  varsMeasured: boolean;
}

/** A load that came or went, and what each meter saw of it. */
export interface SeenEvent {
  t: number;
  on: boolean;
  /** The plate of what was switched; null when it happened by itself. */
  load: Plate | null;
  own: LineChange[];
  ownWatts: Change | null;
  /** By line; empty where nothing above is read by line. */
  above: LineChange[];
  aboveWatts: Change | null;
  others: { id: number; name: string; watts: Change }[];
}

/** Whether the circuit's own meter was read before an event and after it; else it says nothing about it. */
export const isReadHere = ({ own, ownWatts }: SeenEvent): boolean => own.length > 0 || ownWatts !== null;

/** Readings averaged on each side. */
const BRACKET = 8;
/** A motor has run up after this, ms. */
const RUN_UP = 2000;
/** How long after a switching its step is looked for, ms. */
const HORIZON = 4_000;
/** Events nearer to each other than this are one, ms. */
const ONE_EVENT = 3000;

interface Instant {
  since: number;
  t: number;
  on: boolean;
  load: Plate | null;
}

/** The events of a window: every known switching, and every step that the circuit's own meter shows beside. */
export function eventsOf(look: Look): SeenEvent[] {
  const steps: StepsOf = new Map();
  for (const place of [look.own, ...(look.above ? [look.above] : []), ...look.others])
    steps.set(place, stepsOf(place));
  const ownSteps = steps.get(look.own) as StepIn[];
  const aboveSteps = look.above ? (steps.get(look.above) as StepIn[]) : [];
  const known = look.switchings.flatMap((s): Instant[] => {
    const step = nearest(ownSteps, s) ?? nearest(aboveSteps, s) ?? nearestOf(look.others, steps, s);
    // A relay may close while its thermostat wants nothing.
    if (!step && s.byRelay) return [];
    return [{ since: step?.since ?? s.t, t: step?.t ?? s.t, on: s.on, load: s.load }];
  });
  const own: Instant[] = [];
  const isFed = look.own.channels.some((c) => c.current);
  for (const step of ownSteps.filter((s) => isLoad(s, isFed)).sort((a, b) => a.t - b.t)) {
    const isKnown = known.some((k) => Math.abs(k.t - step.t) <= ONE_EVENT);
    const before = own.at(-1);
    if (isKnown || (before && step.t - before.t <= ONE_EVENT)) continue;
    own.push({ since: step.since, t: step.t, on: step.height > 0, load: null });
  }
  const all = [...known, ...own].sort((a, b) => a.t - b.t);
  return all.map((instant, i) =>
    seen(look, steps, { ...instant, from: all[i - 1]?.t ?? -Infinity, to: all[i + 1]?.since ?? Infinity }),
  );
}

/** A step of less than this share of what flows already may be the voltage's, which another load has moved. */
const LOAD_SHARE = 0.05;
const LEAST_AMPERES = 0.1;
const LEAST_WATTS = 20;

/** Whether a step that nobody asked for is a load's, and not what a dip of the voltage makes of the loads that run. */
function isLoad({ before, after, height }: Step, amperes: boolean): boolean {
  const level = Math.max(Math.abs(before), Math.abs(after));
  return Math.abs(height) >= Math.max(amperes ? LEAST_AMPERES : LEAST_WATTS, LOAD_SHARE * level);
}

/** A step, and the readings it was found in. */
type StepIn = Step & { trace: Trace };
type StepsOf = Map<Metered, StepIn[]>;

/** Only a relay that switches another circuit is looked for there. */
const nearestOf = (others: readonly Metered[], steps: StepsOf, switching: Look['switchings'][number]) =>
  switching.byRelay
    ? others.map((o) => nearest(steps.get(o) ?? [], switching)).find((step) => step !== undefined)
    : undefined;

/** The step that a switching made: the first one after it in its direction. */
function nearest(steps: readonly Step[], { t, on }: Look['switchings'][number]): Step | undefined {
  return steps
    .filter((step) => step.t > t - 2000 && step.since < t + HORIZON && step.height > 0 === on)
    .sort((a, b) => a.t - b.t)[0];
}

/** A step between readings further apart than this happened at an instant that nobody knows: of the usual pace, and ms. */
const GAP = 3;
const SHORT = 6000;

/** Whether a step lies in a gap of the readings: what else happened in it cannot be told from it. */
const isInGap = ({ since, t }: Step, trace: Trace): boolean =>
  // Hardly any is long, and the pace is the middle of the whole trace.
  t - since > SHORT && t - since > GAP * (paceOf(trace) ?? 0);

const placed = (trace: Trace, least: number): StepIn[] =>
  findSteps(trace, { least })
    .filter((step) => !isInGap(step, trace))
    .map((step) => ({ ...step, trace }));

/** The steps of a metered place: of its currents by their size, of its power in magnitude where no current is read. */
export function stepsOf({ channels, total }: Metered): StepIn[] {
  const currents = channels.flatMap((c) => (c.current ? placed(c.current, 0.02) : []));
  if (currents.length > 0 || channels.some((c) => c.current)) return currents;
  const powers = channels.flatMap((c) => (c.power ? [c.power] : []));
  return (powers.length > 0 ? powers : total ? [total] : [])
    .map((trace) => ({ t: trace.t, v: trace.v.map(Math.abs) }))
    .flatMap((trace) => placed(trace, 2));
}

function seen({ circuit, own, above, others }: Look, steps: StepsOf, instant: At): SeenEvent {
  const sign = instant.on ? 1 : -1;
  const nominal = circuit.nominalVoltage;
  const at = clearOfBackAndForth(
    instant,
    [own, ...(above ? [above] : [])].map((place) => steps.get(place) ?? []),
  );
  const of = (place: Metered) => clearOf(at, steps.get(place) ?? []);
  return {
    t: at.t,
    on: at.on,
    load: at.load,
    own: lineChanges(own, at, sign, nominal),
    ownWatts: wattsOf(own, at, sign),
    ...fromAbove(above, above ? of(above) : at, sign, nominal),
    others: others.flatMap((other) => {
      const watts = wattsOf(other, of(other), sign);
      return watts ? [{ id: other.id, name: other.name, watts }] : [];
    }),
  };
}

/** What fed power in from elsewhere may have moved by, before the lines of the meter above say nothing any more. */
const FED_SHARE = 0.05;

/**
 * What a meter above saw. An inverter that feeds in beside it takes a part of each step, on all its lines: then only the
 * sum of both is the load's.
 */
function fromAbove(
  above: Metered | null,
  at: At,
  sign: number,
  nominal: number,
): Pick<SeenEvent, 'above' | 'aboveWatts'> {
  if (!above) return { above: [], aboveWatts: null };
  const lines = lineChanges(above, at, sign, nominal);
  const watts = wattsOf(above, at, sign);
  if (!above.fed) return { above: lines, aboveWatts: watts };
  const levels = levelsOf(above.fed, at);
  if (!levels || !watts) return { above: [], aboveWatts: null };
  const fed = sign * (levels.after.mean - levels.before.mean);
  const aboveWatts = { by: watts.by + fed, noise: Math.hypot(watts.noise, levels.noise) };
  const still = Math.abs(fed) <= Math.max(FED_SHARE * Math.abs(watts.by), 3 * levels.noise);
  return { above: still ? lines : [], aboveWatts };
}

/** An event, with the brackets around it clear of what else happened at a meter. */
function clearOf(at: At, steps: readonly Step[]): At {
  const before = steps.filter((s) => s.t < at.since - ONE_EVENT / 2).map((s) => s.t);
  const after = steps.filter((s) => s.since > at.t + ONE_EVENT / 2).map((s) => s.since);
  return { ...at, from: Math.max(at.from, ...before), to: Math.min(at.to, ...after) };
}

/** Lines of a meter that moved by this share of the one that moved most are looked at. */
const MOVED = 0.5;
/** A reading before a step, more than this share of the way to what comes after it, was there already. */
const THERE = 0.5;
/** One after it is back within this share; not within more, as a motor's inrush falls as well, to what it then takes. */
const BACK = 0.1;

/**
 * An event, with the brackets around it clear of the same load's being switched the other way just before or after: off and
 * on again within a few seconds, as a person does. What one meter saw of it holds for one that is read more slowly as well.
 */
function clearOfBackAndForth(at: At, meters: readonly (readonly StepIn[])[]): At {
  let { from, to } = at;
  for (const steps of meters) {
    const near = steps.filter((s) => s.height > 0 === at.on && Math.abs(s.t - at.t) <= ONE_EVENT);
    const most = Math.max(...near.map((s) => Math.abs(s.height)));
    for (const step of near.filter((s) => Math.abs(s.height) >= MOVED * most)) {
      const { t, v } = step.trace;
      const share = (i: number) => ((v[i] as number) - step.before) / step.height;
      const first = t.indexOf(step.t);
      for (let i = t.indexOf(step.since); i >= 0 && (t[i] as number) > from; i--)
        if (share(i) > THERE) from = t[i] as number;
      for (let i = first + 1; i < t.length && (t[i] as number) < to; i++)
        if (share(i) < BACK) to = t[i - 1] as number;
    }
  }
  return { ...at, from, to };
}

type At = Instant & { from: number; to: number };

/** What came on each line; nothing while one of them has not been read on both sides, or the sum would lack it. */
function lineChanges({ channels }: Metered, at: At, sign: number, nominal: number): LineChange[] {
  const read = channels.filter((c) => (c.current?.v.length ?? 0) > 0 || (c.power?.v.length ?? 0) > 0);
  const changes = read.flatMap((channel) => lineChange(channel, at, sign, nominal) ?? []);
  return changes.length === read.length ? changes : [];
}

function lineChange(channel: Channel, at: At, sign: number, nominal: number): LineChange | null {
  const volts = channel.voltage ? levelsOf(channel.voltage, at) : null;
  const [u0, u1] = volts ? [volts.before.mean, volts.after.mean] : [nominal, nominal];
  const current = channel.current ? levelsOf(channel.current, at) : null;
  const power = channel.power ? levelsOf(channel.power, at) : null;
  const reactive = channel.reactive ? levelsOf(channel.reactive, at) : null;
  if (!current && !power) return null;
  const volt = (u0 + u1) / 2;
  const currentNoise = current ? current.noise : 0;
  if (!power)
    return {
      line: channel.line,
      volts: volt,
      amperes: sign * ((current?.after.mean as number) - (current?.before.mean as number)),
      noise: currentNoise,
      watts: null,
      vars: null,
      varsMeasured: false,
    };
  const watts = sign * (power.after.mean - power.before.mean);
  const vars = reactive
    ? sign * (reactive.after.mean - reactive.before.mean)
    : current
      ? sign *
        (lagging(u1 * current.after.mean, power.after.mean) -
          lagging(u0 * current.before.mean, power.before.mean))
      : null;
  const byMagnitude = current ? sign * (current.after.mean - current.before.mean) : null;
  // With nothing before, the magnitude itself is what came; beside other loads it is the difference of phasors.
  const alone =
    current !== null && Math.min(current.before.mean, current.after.mean) < 0.1 * Math.abs(byMagnitude ?? 0);
  const size = vars === null ? Math.abs(watts) / volt : Math.hypot(watts, vars) / volt;
  return {
    line: channel.line,
    volts: volt,
    amperes: alone ? (byMagnitude as number) : byMagnitude !== null && byMagnitude < 0 ? -size : size,
    noise: Math.max(currentNoise, power.noise / volt),
    watts,
    vars,
    varsMeasured: reactive !== null,
  };
}

/** var of apparent and active power, taken as lagging. */
const lagging = (apparent: number, watts: number): number =>
  Math.sqrt(Math.max(0, apparent ** 2 - watts ** 2));

/** W that came, over all lines; null where no power is read. */
function wattsOf({ channels, total }: Metered, at: At, sign: number): Change | null {
  const traces =
    channels.every((c) => c.power !== null) && channels.length > 0
      ? channels.map((c) => c.power as Trace)
      : total
        ? [total]
        : [];
  if (traces.length === 0) return null;
  let [by, noise] = [0, 0];
  for (const trace of traces) {
    const levels = levelsOf(trace, at);
    if (!levels) return null;
    by += sign * (levels.after.mean - levels.before.mean);
    noise = Math.hypot(noise, levels.noise);
  }
  return { by, noise };
}

const scatters = new WeakMap<Trace, number>();
/** The scatter over the whole window: eight readings know their own badly. */
function scatterOfTrace(trace: Trace): number {
  const known = scatters.get(trace) ?? scatterOf(trace.v);
  scatters.set(trace, known);
  return known;
}

/** The levels of a trace before and after an event, clear of the switching itself and of the events beside it. */
function levelsOf(trace: Trace, { since, t, from, to }: At) {
  const pace = paceOf(trace) ?? 1000;
  const wide = BRACKET * pace;
  const first = since - pace / 2 - wide;
  const before =
    levelBetween(trace, Math.max(from + RUN_UP, first), since, 2) ??
    // Switched again before it has settled for long: what there is has to do.
    levelBetween(trace, Math.max(from, first), since, 2);
  const start = t + Math.max(pace, RUN_UP);
  const after = levelBetween(trace, start - 1, Math.min(to - 1, start + wide), 2);
  if (!before || !after) return null;
  const spread = Math.max(scatterOfTrace(trace), mean([before.spread, after.spread]) as number);
  return { before, after, noise: spread * Math.sqrt(1 / before.count + 1 / after.count) };
}
