import { phaseCount } from './node.js';

/** Ways to measure a circuit. */
export const FITTINGS = ['clamp', 'series-meter', 'three-phase-meter', 'plug-meter', 'dc-sensor'] as const;
export type Fitting = (typeof FITTINGS)[number];

export interface FitFinding {
  /** After IEC 60073: red danger, yellow abnormal, green normal. */
  level: 'danger' | 'warn' | 'ok';
  message: string;
}

export interface CircuitToFit {
  phases: string;
  /** Rated current of the protective device, A; null when it is not known. */
  ratedCurrent: number | null;
  /** A fuse or a plug between it and the load, which lets less through; missing where there is none. */
  nearest?: { what: string; amperes: number } | null;
  /** A that its loads draw by their plates; missing when nobody knows. */
  loadAmperes?: number | null;
}

/** Below this share of its rating a clamp reads mostly noise (trade). */
const CLAMP_NOISE = 0.02;
/** A clamp this many times the breaker's rating wastes its range (trade). */
const CLAMP_TOO_LARGE = 6;

/**
 * Whether a device's rating fits a circuit: the protective device lets its rated current through for hours, so
 * whatever is in that path must bear it; a clamp is not in the path, but saturates above its rating (trade).
 * @param rating rated current of the device or clamp, A; @param turns turns of the conductor through the clamp
 */
export function fitFindings(
  fitting: Fitting,
  rating: number,
  circuit: CircuitToFit,
  turns = 1,
): FitFinding[] {
  const { ratedCurrent, what } = limitOf(circuit);
  const phases = phaseCount(circuit.phases);
  const findings: FitFinding[] = [];
  const say = (level: FitFinding['level'], message: string) => findings.push({ level, message });
  if (!(rating > 0)) return [{ level: 'warn', message: 'Type the rated current that is printed on it.' }];
  if (fitting === 'plug-meter' && phases > 1)
    say(
      'danger',
      `A plug meter carries one line; this circuit has ${phases}. Use a meter for all of them, or a clamp on each.`,
    );
  if (fitting === 'three-phase-meter' && phases === 1)
    say(
      'ok',
      'Its other two channels can serve two more single-phase circuits of this board, if its voltage taps are on the same phases.',
    );
  if ((fitting === 'clamp' || fitting === 'series-meter' || fitting === 'dc-sensor') && phases > 1)
    say(
      'warn',
      `This circuit has ${phases} line conductors: one ${fitting === 'clamp' ? 'clamp on each of them' : 'such device for each'} is needed.`,
    );
  if (ratedCurrent === null)
    say(
      'warn',
      'The rating of the protective device is not known: look at it, and enter it for the circuit.',
    );
  else if (fitting === 'clamp') {
    const range = rating / turns;
    if (range < ratedCurrent)
      say(
        'danger',
        `It saturates at ${round(range)} A${turns > 1 ? ` (${turns} turns through it)` : ''}, and the circuit may carry ${ratedCurrent} A: above that it reads too little, and an overload stays unseen.`,
      );
    else if (range > ratedCurrent * CLAMP_TOO_LARGE)
      say(
        'warn',
        `It is large for ${ratedCurrent} A: below about ${round(range * CLAMP_NOISE)} A it reads noise. Take a smaller one, or put ${Math.floor(range / ratedCurrent)} turns through it.`,
      );
    else say('ok', `${round(range)} A covers the ${ratedCurrent} A of the ${what}.`);
  } else if (rating < ratedCurrent)
    say(
      'danger',
      `It is rated ${rating} A, and the ${what} lets ${ratedCurrent} A through: it may burn before the circuit is cut.`,
    );
  else say('ok', `${rating} A is enough for the ${ratedCurrent} A of the ${what}.`);
  const load = circuit.loadAmperes ?? null;
  if (load !== null && fitting !== 'clamp' && load > rating)
    say(
      'danger',
      `Its loads draw ${round(load)} A by their plates: more than the ${rating} A it is made for.`,
    );
  return findings;
}

/** What limits the current nearest to the load: a fuse in the plug or the plug itself, before the breaker of the way. */
export function limitOf({ ratedCurrent, nearest }: CircuitToFit): {
  ratedCurrent: number | null;
  what: string;
} {
  if (nearest && (ratedCurrent === null || nearest.amperes < ratedCurrent))
    return { ratedCurrent: nearest.amperes, what: nearest.what };
  return { ratedCurrent, what: 'protective device' };
}

const round = (value: number): number => Number(value.toPrecision(3));
