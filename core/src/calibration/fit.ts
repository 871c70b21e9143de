import type { Knot } from '../series/index.js';
import type { Correction } from './correction.js';
import { coverageFactor, effectiveDegrees, type Part } from './student.js';

/** A raw reading and what the reference said at the same time. What is left out of the uncertainties counts as none. */
export interface CalibrationPoint {
  /** Mean of the raw readings, the point's base unit. */
  raw: number;
  /** Base unit. */
  reference: number;
  /** Standard deviation of one raw reading, and how many were averaged. */
  deviation?: number;
  count?: number;
  /** Smallest change of the raw reading; averaging does not help against it. */
  step?: number;
  /** Standard uncertainty of the reference that is this point's own, base unit. */
  own?: number;
  /** Which instrument said it, and the relative standard uncertainty that all it says shares. */
  key?: string;
  shared?: number;
}

export const FIT_METHODS = ['offset', 'gain', 'line', 'pieces'] as const;
export type FitMethod = (typeof FIT_METHODS)[number];

/** A place that a bent correction goes through, with its standard uncertainty, base unit. */
export interface FitKnot extends Knot {
  u: number;
}

export interface Fit extends Pick<Correction, 'gain' | 'offset'> {
  method: FitMethod;
  /** Of pieces: where they meet. Gain and offset are then those of the straight line nearest to the points. */
  knots?: FitKnot[] | null;
  /** Standard deviation of the residuals; null without degrees of freedom. */
  residualDeviation: number | null;
  /** Coefficient of determination; null with fewer than three points. */
  rSquared: number | null;
  /** Standard uncertainties of gain and offset, and their correlation. */
  uGain: number;
  uOffset: number;
  correlation: number;
  /** Effective degrees of freedom of the gain (of the offset, where that alone was found); null where nothing limits them. */
  degrees: number | null;
}

/** Thrown when the points do not determine a correction; `code` says why. */
export class FitError extends Error {
  override name = 'FitError';
  constructor(
    readonly code: 'no-points' | 'not-finite' | 'points-coincide' | 'points-too-close' | 'no-gain',
    message: string,
  ) {
    super(message);
  }
}

export interface FitOptions {
  /** Left out: a zero moves the offset, one load scales, two points and more make a line. */
  method?: FitMethod;
  /** A gain below 0 is meant: the clamp points the other way. */
  turned?: boolean;
}

/** A gain that the readings' own step and scatter leave uncertain by more than this (95 %) is none. */
const MOST_UNCERTAIN = 0.1;

/**
 * The correction that calibration points call for, by least squares, reference on raw, each point weighted by the inverse
 * square of its own uncertainty; with its uncertainty after the GUM (JCGM 100:2008, 5.1.2, G.4.1, and H.3 for a straight
 * line). What an instrument's readings share is not averaged away: it scales gain and offset together. Where the points
 * scatter more about the line than their uncertainties explain, that scatter is taken instead (Birge's ratio).
 * @throws FitError
 */
export function fitCorrection(points: readonly CalibrationPoint[], options: FitOptions = {}): Fit {
  if (points.length === 0) throw new FitError('no-points', 'take at least one point');
  for (const { raw, reference } of points)
    if (!Number.isFinite(raw) || !Number.isFinite(reference))
      throw new FitError('not-finite', 'a point has a value that is not a number');
  const method = options.method ?? methodFor(points);
  const fit = { offset: fitOffset, gain: fitGain, line: fitLine, pieces: fitPieces }[method](points);
  if (!(fit.gain > 0) && !(options.turned && fit.gain < 0)) throw noGain(points, method, fit.gain);
  return fit;
}

/** Standard uncertainty that a correction brings to a raw reading, base unit. */
export function correctionUncertainty(
  { uGain, uOffset, correlation, knots }: Pick<Fit, 'uGain' | 'uOffset' | 'correlation' | 'knots'>,
  raw: number,
): number {
  if (knots) return uncertaintyBetween(knots, raw);
  const variance = (raw * uGain) ** 2 + uOffset ** 2 + 2 * raw * correlation * uGain * uOffset;
  return Math.sqrt(Math.max(0, variance));
}

/** Factor to the expanded uncertainty of a fit, 95 %. */
export const coverageOf = ({ degrees }: Pick<Fit, 'degrees'>): number => coverageFactor(degrees ?? Infinity);

const methodFor = (points: readonly CalibrationPoint[]): FitMethod =>
  points.length > 1 ? 'line' : points[0]?.reference === 0 ? 'offset' : 'gain';

function noGain(points: readonly CalibrationPoint[], method: FitMethod, gain: number): FitError {
  const [only] = points;
  if (method === 'gain' && points.length === 1 && only)
    return new FitError(
      'no-gain',
      `a raw reading of ${only.raw} cannot be scaled to ${only.reference}: it reads nothing or the wrong way round`,
    );
  return new FitError(
    'no-gain',
    `the points give a gain of ${gain.toPrecision(4)}: the reading falls while the reference rises. Check which way the clamp points and which reference belongs to which point`,
  );
}

/** Standard uncertainty of a mean of raw readings by their scatter. */
const scatterOf = ({ deviation = 0, count = 1 }: CalibrationPoint): number =>
  deviation / Math.sqrt(Math.max(1, count));
/** By the step of the reading (JCGM 100:2008, F.2.2.1). */
const stepOf = ({ step = 0 }: CalibrationPoint): number => step / Math.sqrt(12);

const rawUncertainty = (point: CalibrationPoint): number => Math.hypot(scatterOf(point), stepOf(point));

/** By how much a point may be off the line by itself, base unit. */
const ownUncertainty = (point: CalibrationPoint, gain: number): number =>
  Math.hypot(point.own ?? 0, gain * rawUncertainty(point));

/** Weights by the inverse square; all alike where a point claims to be exact. */
function weightsOf(points: readonly CalibrationPoint[], gain: number): number[] {
  const uncertainties = points.map((p) => ownUncertainty(p, gain));
  const known = uncertainties.every((u) => u > 0);
  return uncertainties.map((u) => (known ? 1 / u ** 2 : 1));
}

function fitOffset(points: readonly CalibrationPoint[]): Fit {
  const weights = weightsOf(points, 1);
  const total = sum(weights);
  const h = weights.map((w) => w / total);
  const offset = sum(points.map((p, i) => (h[i] as number) * (p.reference - p.raw)));
  const zeros = points.map(() => 0);
  return withUncertainty(points, 'offset', { gain: 1, offset }, { gain: zeros, offset: h }, 1);
}

function fitGain(points: readonly CalibrationPoint[]): Fit {
  const start = sum(points.map((p) => p.raw * p.reference)) / sum(points.map((p) => p.raw ** 2));
  const weights = weightsOf(points, Number.isFinite(start) ? start : 1);
  const sxx = sum(points.map((p, i) => (weights[i] as number) * p.raw ** 2));
  if (!(sxx > 0)) return { ...noUncertainty, method: 'gain', gain: NaN, offset: 0 };
  const h = points.map((p, i) => ((weights[i] as number) * p.raw) / sxx);
  const gain = sum(points.map((p, i) => (h[i] as number) * p.reference));
  refuseTooClose(points, h, 'the reading is too small for its scatter and step');
  return withUncertainty(points, 'gain', { gain, offset: 0 }, { gain: h, offset: points.map(() => 0) }, 1);
}

/** Straight line in centred sums, so that no digits cancel. */
function fitLine(points: readonly CalibrationPoint[]): Fit {
  refuseCoinciding(points);
  const plain = line(
    points,
    points.map(() => 1),
  );
  // The weights need a gain; the one without weights is near enough.
  const { gain, offset, h } = line(points, weightsOf(points, plain.gain));
  refuseTooClose(points, h.gain, 'the readings are closer together than their scatter and step allow');
  return withUncertainty(points, 'line', { gain, offset }, h, 2);
}

/**
 * A line from point to point: every one is met, so that none says how good it is. Points that share a raw reading are one.
 */
function fitPieces(points: readonly CalibrationPoint[]): Fit {
  const straight = fitLine(points);
  const sorted = [...points].sort((a, b) => a.raw - b.raw);
  if (sorted.length < 3)
    throw new FitError('no-points', 'pieces need three points at least; two make a straight line');
  for (let i = 0; i + 1 < sorted.length; i++) {
    const [a, b] = [sorted[i] as CalibrationPoint, sorted[i + 1] as CalibrationPoint];
    const apart = b.raw - a.raw;
    const relative = (2 * Math.hypot(rawUncertainty(a), rawUncertainty(b))) / apart;
    if (!(relative <= MOST_UNCERTAIN))
      throw new FitError(
        'points-too-close',
        `the points at ${a.reference.toPrecision(4)} and ${b.reference.toPrecision(4)} are too close together for a piece between them (their readings are ${apart.toPrecision(2)} apart). Leave one of them out`,
      );
    if (!((b.reference - a.reference) / apart > 0))
      throw new FitError(
        'no-gain',
        `from ${a.reference.toPrecision(4)} to ${b.reference.toPrecision(4)} the reading goes the other way than the reference. Check which reference belongs to which point`,
      );
  }
  const knots = sorted.map((p) => ({
    raw: p.raw,
    value: p.reference,
    u: Math.hypot(ownUncertainty(p, straight.gain), (p.shared ?? 0) * p.reference),
  }));
  return { ...straight, method: 'pieces', knots, residualDeviation: null, rSquared: null };
}

/** Between two knots, and beyond the last, as if both were off together: on the safe side. */
function uncertaintyBetween(knots: readonly FitKnot[], raw: number): number {
  const last = knots.length - 2;
  let i = 0;
  while (i < last && raw > (knots[i + 1] as FitKnot).raw) i++;
  const [a, b] = [knots[i] as FitKnot, knots[i + 1] as FitKnot];
  const share = (raw - a.raw) / (b.raw - a.raw);
  return Math.abs(1 - share) * a.u + Math.abs(share) * b.u;
}

interface Influence {
  /** By how much each reference moves the gain, and the offset. */
  gain: number[];
  offset: number[];
}

function line(
  points: readonly CalibrationPoint[],
  weights: readonly number[],
): { gain: number; offset: number; h: Influence } {
  const total = sum(weights);
  const mean = (of: (p: CalibrationPoint) => number) =>
    sum(points.map((p, i) => (weights[i] as number) * of(p))) / total;
  const [meanX, meanY] = [mean((p) => p.raw), mean((p) => p.reference)];
  const sxx = sum(points.map((p, i) => (weights[i] as number) * (p.raw - meanX) ** 2));
  const ofGain = points.map((p, i) => ((weights[i] as number) * (p.raw - meanX)) / sxx);
  const gain = sum(points.map((p, i) => (ofGain[i] as number) * (p.reference - meanY)));
  const ofOffset = points.map((_, i) => (weights[i] as number) / total - meanX * (ofGain[i] as number));
  return { gain, offset: meanY - gain * meanX, h: { gain: ofGain, offset: ofOffset } };
}

const noUncertainty = {
  residualDeviation: null,
  rSquared: null,
  uGain: 0,
  uOffset: 0,
  correlation: 0,
  degrees: null,
};

/** @param unknowns how many numbers were found from the points */
function withUncertainty(
  points: readonly CalibrationPoint[],
  method: FitMethod,
  { gain, offset }: Pick<Fit, 'gain' | 'offset'>,
  h: Influence,
  unknowns: number,
): Fit {
  const residuals = points.map((p) => p.reference - (gain * p.raw + offset));
  const free = points.length - unknowns;
  const squares = sum(residuals.map((r) => r ** 2));
  const deviation = free > 0 ? Math.sqrt(squares / free) : null;
  const meanY = sum(points.map((p) => p.reference)) / points.length;
  const syy = sum(points.map((p) => (p.reference - meanY) ** 2));

  const claimed = points.map((p) => ownUncertainty(p, gain));
  const known = claimed.every((u) => u > 0);
  // What the points scatter about the line, against what their uncertainties explain.
  const ratio =
    known && free > 0 ? sum(residuals.map((r, i) => (r / (claimed[i] as number)) ** 2)) / free : 0;
  const isScattered = free > 0 && (!known || ratio > 1);
  const own = isScattered
    ? known
      ? claimed.map((u) => u * Math.sqrt(ratio))
      : claimed.map(() => deviation as number)
    : claimed;

  const shared = sharedOf(points, h);
  const variance = (a: readonly number[], b: readonly number[]) =>
    sum(own.map((u, i) => u ** 2 * (a[i] as number) * (b[i] as number)));
  const together = (a: keyof Shared, b: keyof Shared) => sum(shared.map((s) => s[a] * s[b]));
  const uGain = Math.sqrt(variance(h.gain, h.gain) + together('gain', 'gain'));
  const uOffset = Math.sqrt(variance(h.offset, h.offset) + together('offset', 'offset'));
  const covariance = variance(h.gain, h.offset) + together('gain', 'offset');

  const main = method === 'offset' ? 'offset' : 'gain';
  const parts: Part[] = isScattered
    ? [{ u: Math.sqrt(variance(h[main], h[main])), degrees: free }]
    : points.flatMap((p, i) => {
        const by = Math.abs(h[main][i] as number);
        return [
          { u: by * Math.abs(gain) * scatterOf(p), degrees: Math.max(1, (p.count ?? 1) - 1) },
          { u: by * Math.hypot(p.own ?? 0, gain * stepOf(p)), degrees: Infinity },
        ];
      });
  const degrees = effectiveDegrees([
    ...parts,
    ...shared.map((s) => ({ u: Math.abs(s[main]), degrees: Infinity })),
  ]);
  return {
    method,
    gain,
    offset,
    residualDeviation: deviation,
    rSquared: points.length > 2 && syy > 0 ? 1 - squares / syy : null,
    uGain,
    uOffset,
    correlation: uGain > 0 && uOffset > 0 ? covariance / (uGain * uOffset) : 0,
    degrees: Number.isFinite(degrees) ? degrees : null,
  };
}

interface Shared {
  gain: number;
  offset: number;
}

/** What each instrument's own error does to gain and offset: a reference that is 1 % too large makes both so, as far as it goes. */
function sharedOf(points: readonly CalibrationPoint[], h: Influence): Shared[] {
  const keys = new Set(points.map((p) => p.key ?? ''));
  return [...keys].map((key) => {
    const of = (influence: readonly number[]) =>
      sum(
        points.map((p, i) =>
          (p.key ?? '') === key ? (influence[i] as number) * p.reference * (p.shared ?? 0) : 0,
        ),
      );
    return { gain: of(h.gain), offset: of(h.offset) };
  });
}

function refuseCoinciding(points: readonly CalibrationPoint[]): void {
  const n = points.length;
  const mean = sum(points.map((p) => p.raw)) / n;
  const scale = Math.max(...points.map((p) => Math.abs(p.raw)));
  if (n > 1 && Math.sqrt(sum(points.map((p) => (p.raw - mean) ** 2)) / n) > scale * 1e-9) return;
  throw new FitError(
    'points-coincide',
    `all points have the raw reading ${mean.toPrecision(6)}; change the load so that the reading differs, then take the next point`,
  );
}

/** A gain that depends on the last digits of the readings is no gain. @param ofGain influence of each reference on the gain */
function refuseTooClose(points: readonly CalibrationPoint[], ofGain: readonly number[], says: string): void {
  // A raw reading that is off by d moves the gain by gain · h · d: relative, the gain falls out.
  const relative = 2 * Math.hypot(...points.map((p, i) => (ofGain[i] as number) * rawUncertainty(p)));
  if (relative <= MOST_UNCERTAIN) return;
  const scatter = Math.max(...points.map((p) => p.deviation ?? 0));
  const step = Math.max(...points.map((p) => p.step ?? 0));
  throw new FitError(
    'points-too-close',
    `${says} (they scatter by ${scatter.toPrecision(2)} and come in steps of ${step.toPrecision(2)}): the gain would be uncertain by ±${Math.round(100 * relative)} %. Take a larger load`,
  );
}

const sum = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0);
