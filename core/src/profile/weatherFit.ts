import { extent, group, least, mean, sum } from 'd3-array';
import { coverageFactor } from '../calibration/index.js';
import { degreesOf, type Side, type WeatherDay } from './weather.js';
import type { DayKind } from './workdays.js';

/** Days of one kind: how many, their mean energy, Wh, their mean degrees, K, and which share of them lies beyond the base. */
export interface WeatherGroup {
  kind: DayKind;
  days: number;
  energy: number;
  degrees: number;
  beyond: number;
}

/** How the energy of a day hangs on the temperature outside: so much, and so much more for each degree beyond a base. */
export interface WeatherFit {
  side: Side;
  /** °C. */
  base: number;
  /** Whether days lie on both sides of the base; else it may lie anywhere beyond them. */
  bends: boolean;
  /** How far it is uncertain, K (95 %); null where it does not bend. */
  baseUncertainty: number | null;
  /** Wh a day for each kelvin, and how far that is uncertain (95 %). */
  perKelvin: number;
  uncertainty: number;
  /** By how much days differ from it, Wh, and how many times as uncertain a mean of them is because days that follow one another are alike. */
  scatter: number;
  inflation: number;
  /** Times the squared scatter: variance of the slope, of what the base adds, and their covariance. */
  spread: { slope: number; base: number; both: number };
  /** Degrees of freedom. */
  free: number;
  /** Share of how days of a kind differ that it explains. */
  explains: number;
  /** How often chance alone would bring about so much. */
  chance: number;
  kinds: WeatherGroup[];
}

/** Fewer days, or days so nearly alike, give no answer. */
export const LEAST_DAYS = 10;
/** K. */
export const LEAST_RANGE = 3;
/** So many days lie beyond a base, and where the line bends there, on its other side as well. */
const LEAST_BESIDE = 4;
const BASE_STEP = 0.5;
/** Chance brings about what is claimed once in so many periods at most. */
const CHANCE = 0.001;
/** A bend is claimed where days of a straight line would look so bent once in so many periods at most. */
const BEND_CHANCE = 0.01;

/**
 * The straight line, or the one with a bend where the days show it, that fits the days best: the base is tried in steps of half a degree, heating and cooling; each kind
 * of day has its own constant. Uncertainty by least squares, of the slope together with the base (as if it were straight about it), widened for days that follow one another and are alike (effective
 * number of days n(1 − ρ)/(1 + ρ), ρ the correlation of the residuals from day to day; common practice for time series).
 * @returns null where too few or too similar days are known, or nothing stands out against chance
 */
export function weatherFit(days: readonly WeatherDay[]): WeatherFit | null {
  const kinds = [...group(days, (d) => d.kind).values()].filter((of) => of.length >= 2);
  const used = kinds.flat().sort((a, b) => a.start - b.start);
  const [low, high] = extent(used, (d) => d.celsius);
  if (used.length < LEAST_DAYS || low === undefined || high - low < LEAST_RANGE) return null;
  const lines = (['below', 'above'] as const).flatMap((side) =>
    basesOf(used, side).flatMap((base) => lineOf(used, base, side) ?? []),
  );
  const straight = tightest(lines.filter((line) => !line.bends));
  const bent = tightest(lines.filter((line) => line.bends));
  const isBent = bent && (!straight || byChance(leftBeside(bent, straight), bent.free) < BEND_CHANCE);
  const best = isBent ? bent : straight;
  return best && best.chance < CHANCE ? best : null;
}

const tightest = (lines: readonly WeatherFit[]): WeatherFit | undefined =>
  least(lines, (line) => line.scatter);

/** Which share of what one line leaves unexplained another one leaves, too. */
const leftBeside = (line: WeatherFit, beside: WeatherFit): number =>
  (1 - line.explains) / (1 - beside.explains);

/** The bases that can be told apart: where enough days lie on both sides, and where all lie beyond. */
function basesOf(days: readonly WeatherDay[], side: Side): number[] {
  const sorted = days.map((d) => d.celsius).sort((a, b) => (side === 'below' ? a - b : b - a));
  const [from, last, to] = [LEAST_BESIDE, -LEAST_BESIDE, -1].map((i) => sorted.at(i)) as [
    number,
    number,
    number,
  ];
  const by = side === 'below' ? BASE_STEP : -BASE_STEP;
  const first = (side === 'below' ? Math.ceil : Math.floor)(from / BASE_STEP) * BASE_STEP;
  const bases: number[] = [];
  for (let b = first; side === 'below' ? b <= last : b >= last; b += by) bases.push(b);
  // Beyond the last day every line is the same one.
  return [...bases, to];
}

/** The line with one base; null where it falls with the degrees, or nothing varies. */
export function lineOf(days: readonly WeatherDay[], base: number, side: Side): WeatherFit | null {
  const degrees = (d: WeatherDay) => degreesOf(d.celsius, base, side);
  const isBeyond = (d: WeatherDay) => (degrees(d) > 0 ? 1 : 0);
  const groups = [...group(days, (d) => d.kind)].map(([kind, of]) => ({
    kind,
    days: of.length,
    energy: mean(of, (d) => d.energy) as number,
    degrees: mean(of, degrees) as number,
    beyond: mean(of, isBeyond) as number,
  }));
  const centred = days.map((d) => {
    const own = groups.find((g) => g.kind === d.kind) as WeatherGroup;
    return { x: degrees(d) - own.degrees, h: isBeyond(d) - own.beyond, y: d.energy - own.energy };
  });
  const xx = sum(centred, ({ x }) => x * x);
  const total = sum(centred, ({ y }) => y * y);
  if (!(xx > 0) || !(total > 0)) return null;
  const perKelvin = sum(centred, ({ x, y }) => x * y) / xx;
  if (perKelvin <= 0) return null;
  const residuals = centred.map(({ x, y }) => y - perKelvin * x);
  const left = sum(residuals, (r) => r * r);
  const bends = days.some((d) => isBeyond(d) === 0 && d.celsius !== base);
  // The slope, and the base where the days tell it.
  const found = bends ? 2 : 1;
  const inflation = alikeness(residuals);
  const free = Math.floor((days.length - groups.length) / inflation) - found;
  if (free < 1) return null;
  const scatter = Math.sqrt(left / Math.max(1, days.length - groups.length - found));
  const hh = sum(centred, ({ h }) => h * h);
  const xh = sum(centred, ({ x, h }) => x * h);
  const spread =
    bends && xx * hh > xh * xh
      ? { slope: hh, base: xx, both: -xh, over: xx * hh - xh * xh }
      : { slope: 1, base: 0, both: 0, over: xx };
  const by = coverageFactor(free) * scatter * Math.sqrt(inflation / spread.over);
  return {
    side,
    base,
    bends,
    baseUncertainty: bends ? (by * Math.sqrt(spread.base)) / perKelvin : null,
    perKelvin,
    uncertainty: by * Math.sqrt(spread.slope),
    scatter,
    inflation,
    spread: {
      slope: spread.slope / spread.over,
      base: spread.base / spread.over,
      both: spread.both / spread.over,
    },
    free,
    explains: 1 - left / total,
    chance: byChance(left / total, free),
    kinds: groups,
  };
}

/** n over the effective number of days: at least 1. */
function alikeness(residuals: readonly number[]): number {
  const all = sum(residuals, (r) => r * r);
  if (!(all > 0)) return 1;
  const neighbours = sum(residuals.slice(1), (r, i) => r * (residuals[i] as number));
  const rho = Math.min(0.99, Math.max(0, neighbours / all));
  return (1 + rho) / (1 - rho);
}

/** Of how many periods without any link the best of all lines leaves no more than this share: the F distribution with 2 and n degrees, in closed form. */
const byChance = (left: number, free: number): number => left ** (free / 2);

/** How days compare with what a line found of other days tells of them. */
export interface AtSameTemperature {
  days: number;
  /** What they took a day, Wh, and what the line tells at their temperatures. */
  energy: number;
  expected: number;
  /** Of the difference (95 %), Wh a day. */
  uncertainty: number;
}

/** Days held against a line: at the temperatures that they had. Days of a kind that the line does not know are left out; null where none is left. */
export function atSameTemperature(fit: WeatherFit, days: readonly WeatherDay[]): AtSameTemperature | null {
  const degrees = (d: WeatherDay) => degreesOf(d.celsius, fit.base, fit.side);
  const groups = fit.kinds
    .map((known) => ({ known, of: days.filter((d) => d.kind === known.kind) }))
    .filter(({ of }) => of.length > 0);
  const count = sum(groups, ({ of }) => of.length);
  if (count === 0) return null;
  /** A mean over the days, less that of the days of which the line was found. */
  const apart = (own: (d: WeatherDay) => number, then: (k: WeatherGroup) => number) =>
    sum(groups, ({ known, of }) => sum(of, own) - of.length * then(known)) / count;
  const [dx, dh] = [
    apart(degrees, (k) => k.degrees),
    apart(
      (d) => (degrees(d) > 0 ? 1 : 0),
      (k) => k.beyond,
    ),
  ];
  const { slope, base, both } = fit.spread;
  const variance =
    1 / count +
    sum(groups, ({ known, of }) => (of.length / count) ** 2 / known.days) +
    (dx * dx * slope + 2 * dx * dh * both + dh * dh * base);
  return {
    days: count,
    energy: sum(groups, ({ of }) => sum(of, (d) => d.energy)) / count,
    expected: sum(groups, ({ known, of }) => of.length * known.energy) / count + fit.perKelvin * dx,
    uncertainty: coverageFactor(fit.free) * fit.scatter * Math.sqrt(fit.inflation * variance),
  };
}
