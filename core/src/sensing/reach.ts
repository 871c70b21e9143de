import { classError, powerErrorOf, type AccuracyClass, type ClassError } from './accuracy.js';
import type { Sensing } from './sensing.js';

/** A transformer carries 120 % of its rating within its class (IEC 61869-2, extended ratings apart). */
const UP_TO = 1.2;
/** Scatter of a split-core clamp, as a share of its rating (trade). */
const CLAMP_NOISE = 0.001;
/** A load is told from noise when it stands out of it by this many standard deviations of a difference. */
const STANDS_OUT = 3;

/** What can be said of a transducer on its conductor. */
export interface SensingReach {
  /** A in the conductor at its rating: less with more turns. */
  rated: number;
  /** A above which it saturates or is beyond its class. */
  upTo: number;
  /** A that can just be told from noise. */
  smallest: number;
}

/**
 * How far a transducer reaches on its conductor: its rating over the turns, 120 % of that, and the smallest current that
 * stands out of its scatter and of the resolution of the device (step/√12 as a standard uncertainty, GUM F.2.2.1).
 * Null where its rating is not known.
 * @param step resolution of the reading, A in the conductor; 0 where it is not known
 */
export function reachOf(
  { kind, ratedCurrent, turns }: Pick<Sensing, 'kind' | 'ratedCurrent' | 'turns'>,
  step = 0,
): SensingReach | null {
  if (ratedCurrent === null || !(ratedCurrent > 0)) return null;
  const rated = ratedCurrent / turns;
  const noise = kind === 'direct' ? 0 : CLAMP_NOISE * rated;
  return {
    rated,
    upTo: kind === 'current-transformer' ? UP_TO * rated : rated,
    smallest: STANDS_OUT * Math.SQRT2 * Math.hypot(noise, step / Math.sqrt(12)),
  };
}

/**
 * A in the conductor above which a transducer is at the end of its range; null where its rating is not known, and for a meter
 * through which the current itself passes: what is too much for that is for its fuse.
 */
export const saturatesAt = (sensing: Pick<Sensing, 'kind' | 'ratedCurrent' | 'turns'>): number | null =>
  sensing.kind === null || sensing.kind === 'direct' || sensing.kind === 'voltage-transformer'
    ? null
    : (reachOf(sensing)?.upTo ?? null);

/** The error that is to be expected of a reading before it is calibrated. */
export interface ExpectedError extends ClassError {
  /** Percent of active power at a power factor; null where the displacement is not known. */
  power: number | null;
}

/** The error at a load by the class; null where no class is known, or the load is outside of it. */
export function expectedError(
  { accuracyClass, ratedCurrent, turns }: Pick<Sensing, 'accuracyClass' | 'ratedCurrent' | 'turns'>,
  amperes: number,
  powerFactor = 1,
): ExpectedError | null {
  if (accuracyClass === null || ratedCurrent === null || !(ratedCurrent > 0)) return null;
  const error = classError(accuracyClass, (amperes * turns) / ratedCurrent);
  if (!error) return null;
  return {
    ...error,
    power: error.minutes === null ? null : error.ratio + powerErrorOf(error.minutes, powerFactor),
  };
}

/** Ratings in which clamps are made, A (trade). */
export const CLAMP_RATINGS = [
  5, 10, 15, 20, 25, 30, 40, 50, 60, 75, 80, 100, 120, 150, 200, 250, 300, 400, 600, 800, 1000,
];
/** Turns that go through a window by hand (trade). */
const MOST_TURNS = 5;
/** Below this share of its rating a clamp of class 1 promises nothing (IEC 61869-2). */
const PROMISED = 0.05;

export interface ClampChoice {
  /** A */
  rating: number;
  turns: number;
  why: string[];
}

/**
 * The clamp for a circuit: the smallest rating that what protects it cannot drive beyond, so that an overload is still
 * seen, and, where its usual load would be below what the class promises, as many turns as still fit.
 * @param limit A that the nearest fuse or breaker lets through for hours; @param usual A that the loads draw, null where
 * nobody knows
 */
export function chooseClamp(
  limit: number,
  usual: number | null,
  accuracy: AccuracyClass = '1',
  ratings: readonly number[] = CLAMP_RATINGS,
): ClampChoice | null {
  const rating = ratings.find((r) => r >= limit);
  if (rating === undefined) return null;
  const why = [`${rating} A is the smallest that the ${show(limit)} A before it cannot saturate.`];
  if (usual === null)
    return {
      rating,
      turns: 1,
      why: [
        ...why,
        'What its loads draw is not known: enter their plates to see how small a load it still reads well.',
      ],
    };
  const share = usual / rating;
  // More turns through a larger clamp cover the same limit, and read a small load on more of its range.
  const turns = Math.min(MOST_TURNS, Math.max(1, Math.floor(rating / limit)));
  if (turns > 1 && share < PROMISED)
    why.push(`${turns} turns use the range that the ${show(limit)} A leave.`);
  const error = classError(accuracy, (usual * turns) / rating);
  why.push(
    error
      ? `Its usual ${show(usual)} A are ${Math.round((100 * usual * turns) / rating)} % of that: class ${accuracy} allows ±${show(error.ratio)} %.`
      : `Its usual ${show(usual)} A are below 5 % of that, where class ${accuracy} promises nothing: calibrate it there, or measure the load on its own.`,
  );
  return { rating, turns: share < PROMISED ? turns : 1, why };
}

const show = (value: number): string => String(Number(value.toPrecision(3)));
