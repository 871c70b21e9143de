import { linesIn, voltageAngles, type SupplySystem } from '../installation/system.js';
import { lagOf, wrapAngle, type Line, type LineReading } from './phasors.js';

/** What is known of how the loads of a line make its current lag, degrees: one angle, or between two. */
export interface KnownLag {
  from: number;
  to: number;
  /** It may as well lead by as much: known by power and current alone. */
  eitherSign?: boolean;
}

/** A heater, a lamp with a filament: cos φ 1. */
export const RESISTIVE: KnownLag = { from: 0, to: 0 };
/** Any load: from a lamp with a capacitive front end to an idling motor (common practice). */
export const ANY_LOAD: KnownLag = { from: -45, to: 80 };

/** The lag of a load whose power factor is known; without its sign an inductive one is assumed. */
export function lagOfPowerFactor(powerFactor: number): KnownLag {
  const degrees = (Math.acos(Math.max(0, Math.min(1, powerFactor))) * 180) / Math.PI;
  return { from: degrees, to: degrees };
}

/** One of the ways in which the clamps may have been fitted. */
export interface Way {
  /** The conductor that each clamp is really on, in the order of the readings. */
  on: Line[];
  /** Whether each clamp is turned round. */
  turned: boolean[];
  /** The conductor whose voltage each is multiplied with: its label's, but for a single clamp with its tap elsewhere. */
  tap: Line[];
  /** How far the readings are from what this way would give, degrees (root mean square over the clamps). */
  off: number;
}

export interface WaysTried {
  /** The way it should be: each clamp on its own conductor, arrow to the load. */
  asItShouldBe: Way;
  /** All ways, best first; those that fit alike stand together. */
  ways: Way[];
  /** Degrees between the best and the next that fits differently; Infinity with one. */
  apart: number;
  /** Ways that fit as well as the best: the readings cannot tell them apart. */
  equal: Way[];
}

/** Ways this near to the best one are not told apart, degrees. */
export const ALIKE = 6;
/** So that a wrong magnitude counts like a wrong angle of at most this, degrees. */
const MOST_BY_MAGNITUDE = 60;
const DEGREES = 180 / Math.PI;

/** What is known, apart from the clamps' readings. */
export interface KnownOfLines {
  known: Readonly<Record<Line, KnownLag>>;
  /** A by line, as a meter above sees them; missing where none does. */
  trueAmperes?: Partial<Record<Line, number>> | undefined;
  /** W of all lines, where the meter gives only their sum. */
  totalWatts?: number | null;
  /** How the lines stand to one another; missing: three-phase. */
  system?: SupplySystem;
}

/**
 * Tries all ways to fit the clamps on the readings: three clamps on three conductors in two directions are 48; one clamp on
 * one of three conductors in two directions 6. A way is judged by the angle between what it would have read and what was
 * read, and, where the true currents of the lines are known, by their ratio (the logarithm of a complex ratio has both).
 * Of a load whose lag lies between two angles the one that fits best is taken, the same for all clamps, because it is
 * one load.
 */
export function tryWays(readings: readonly LineReading[], lines: KnownOfLines): WaysTried {
  const ways = waysFor(readings, lines).map((way): Way => ({ ...way, off: distance(readings, way, lines) }));
  const asItShouldBe = ways.find((w) => isRight(w, readings)) as Way;
  // Where several fit alike, the right one is believed first.
  const rank = (w: Way) => (w === asItShouldBe ? 0 : 1);
  ways.sort((a, b) => a.off - b.off || rank(a) - rank(b));
  const best = ways[0] as Way;
  const equal = ways.filter((w) => w.off <= best.off + ALIKE);
  const next = ways[equal.length];
  return { asItShouldBe, ways, apart: next ? next.off - best.off : Infinity, equal };
}

/**
 * Every way that is tried. A single clamp has a voltage of its own, which may be another line's; that clamp and tap are both
 * on another line than the label says is seen only by a meter above.
 */
function waysFor(
  readings: readonly LineReading[],
  { trueAmperes, system = 'three-phase' }: KnownOfLines,
): Omit<Way, 'off'>[] {
  const labels = readings.map((r) => r.line);
  const [label] = labels;
  const directions = (on: Line[], tap: Line[]) =>
    Array.from({ length: 2 ** readings.length }, (_, bits) => ({
      on,
      tap,
      turned: readings.map((_r, i) => (bits & (1 << i)) !== 0),
    }));
  if (readings.length > 1) return ordersOf(labels).flatMap((on) => directions(on, labels));
  const lines = linesIn(system);
  return lines.flatMap((on) =>
    lines.filter((tap) => (trueAmperes ? true : tap === label)).flatMap((tap) => directions([on], [tap])),
  );
}

/** Whether a way is the one on the label. */
export const isRight = (way: Omit<Way, 'off'>, readings: readonly Pick<LineReading, 'line'>[]): boolean =>
  way.on.every((line, i) => line === readings[i]?.line && way.tap[i] === line) && !way.turned.includes(true);

/** Angles of a common lag that are tried, degrees apart. */
const STEP = 2.5;
/** Meters and clamps that are not calibrated yet make P over U·I off by this much (common practice). */
const FACTOR_SLACK = 0.04;
/** The same for an angle by active and reactive power, degrees. */
const ANGLE_SLACK = 2;

function distance(
  readings: readonly LineReading[],
  way: Omit<Way, 'off'>,
  { known, trueAmperes, totalWatts = null, system = 'three-phase' }: KnownOfLines,
): number {
  const angles = voltageAngles(system);
  const { from, to, eitherSign } = known[way.on[0] as Line];
  const isCommon = way.on.every((line) => known[line].from === from && known[line].to === to);
  const tried = isCommon ? anglesBetween(from, to) : [null];
  let best = Infinity;
  for (const common of tried)
    for (const sign of eitherSign || way.on.some((line) => known[line].eitherSign) ? [1, -1] : [1]) {
      const lagOn = (line: Line): number => sign * (common ?? (known[line].from + known[line].to) / 2);
      const slackOn = (line: Line): number => (common === null ? (known[line].to - known[line].from) / 2 : 0);
      const would = readings.map((_, i) => {
        const [line, tap] = [way.on[i] as Line, way.tap[i] as Line];
        return wrapAngle(angles[tap] - angles[line] + lagOn(line) + (way.turned[i] ? 180 : 0));
      });
      const offs = readings.flatMap((reading, i) => {
        const line = way.on[i] as Line;
        const byAngle = angleOff(reading, would[i] as number);
        const byMagnitude = trueAmperes ? magnitudeOff(reading.amperes, trueAmperes[line]) : null;
        if (byAngle === null && byMagnitude === null) return [];
        return [Math.hypot(Math.max(0, (byAngle ?? 0) - slackOn(line)), byMagnitude ?? 0)];
      });
      if (totalWatts !== null && readings.every((r) => r.watts === null))
        offs.push(totalOff(readings, would, totalWatts));
      if (offs.length > 0)
        best = Math.min(best, Math.sqrt(offs.reduce((sum, off) => sum + off ** 2, 0) / offs.length));
    }
  return best;
}

/** Degrees between the angle that was read and the one that would have been. */
function angleOff(reading: LineReading, would: number): number | null {
  const read = lagOf(reading);
  if (read === null) return null;
  if (read.signed) return Math.max(0, Math.abs(wrapAngle(read.degrees - would)) - ANGLE_SLACK);
  return factorOff(Math.cos(read.degrees / DEGREES), Math.cos(would / DEGREES));
}

/** Degrees between two power factors, beyond what an uncalibrated meter may be off. */
function factorOff(read: number, would: number): number {
  if (Math.abs(read - would) <= FACTOR_SLACK) return 0;
  const nearest = read + Math.sign(would - read) * FACTOR_SLACK;
  return DEGREES * Math.abs(Math.acos(clip(nearest)) - Math.acos(clip(would)));
}

function magnitudeOff(read: number, truth: number | undefined): number | null {
  if (truth === undefined) return null;
  if (!(truth > 0) || !(read > 0)) return MOST_BY_MAGNITUDE;
  return Math.min(MOST_BY_MAGNITUDE, DEGREES * Math.abs(Math.log(read / truth)));
}

/** Where only the power of all lines is read: degrees between its power factor and the one that would have been. */
function totalOff(readings: readonly LineReading[], would: readonly number[], totalWatts: number): number {
  const apparents = readings.map((r) => r.volts * r.amperes);
  const all = apparents.reduce((a, b) => a + b, 0);
  if (!(all > 0)) return 0;
  const expected = apparents.reduce((sum, s, i) => sum + s * Math.cos((would[i] as number) / DEGREES), 0);
  return factorOff(totalWatts / all, expected / all);
}

const clip = (factor: number): number => Math.max(-1, Math.min(1, factor));

function anglesBetween(from: number, to: number): number[] {
  const angles = [];
  for (let angle = from; angle < to; angle += STEP) angles.push(angle);
  angles.push(to);
  return angles;
}

function ordersOf(lines: readonly Line[]): Line[][] {
  if (lines.length <= 1) return [[...lines]];
  return lines.flatMap((line) =>
    ordersOf(lines.filter((other) => other !== line)).map((rest) => [line, ...rest]),
  );
}
