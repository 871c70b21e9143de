/**
 * What a reading is compared with. Its value and its standard uncertainty are in the point's base unit; what the points of one
 * instrument have in common (its own gain error) is kept apart, because taking more of them does not average it away.
 */
export interface Reference {
  value: number;
  /** Standard uncertainty that is this comparison's own: digits, flutter, scatter. */
  own: number;
  /** Which instrument or load it is: those of the same key share their relative error. */
  key: string;
  /** Relative standard uncertainty that all comparisons with it share. */
  shared: number;
}

/** Half-width of a rectangular distribution to its standard uncertainty (JCGM 100:2008, 4.3.7). */
const RECTANGULAR = 1 / Math.sqrt(3);
/** Smallest digit to its standard uncertainty: half of it on either side (JCGM 100:2008, F.2.2.1). */
export const DIGIT = 1 / Math.sqrt(12);

/** Tolerance of a handheld clamp meter of which nothing is said, percent of what it shows (common practice). */
export const HANDHELD_PERCENT = 1.5;
/** Tolerance of a nameplate's power, percent: IEC 60335-1, clause 10 allows a heating appliance −10 % and +5 % (recalled). */
export const NAMEPLATE_PERCENT = 10;

/** Nothing flows: as certain as it gets. */
export const zeroReference = (): Reference => ({ value: 0, own: 0, key: 'zero', shared: 0 });

/**
 * What an instrument shows.
 * @param lowest and @param highest the same where it stands still; a fluttering one is taken for their middle
 * @param percent its tolerance, percent of what it shows; @param digit its smallest digit, base unit
 */
export function instrumentReference(
  key: string,
  lowest: number,
  highest: number,
  { percent, digit }: { percent: number; digit: number },
): Reference {
  return {
    value: (lowest + highest) / 2,
    own: Math.hypot((Math.abs(highest - lowest) / 2) * RECTANGULAR, digit * DIGIT),
    key,
    shared: (percent / 100) * RECTANGULAR,
  };
}

/**
 * A load whose power is known, as what it draws in `value`'s unit. The plate of a resistive load holds at its rated voltage.
 * @param percent how far the plate may be off
 */
export const loadReference = (key: string, value: number, percent: number): Reference => ({
  value,
  own: 0,
  key,
  shared: (percent / 100) * RECTANGULAR,
});

/** W that a resistive load takes at a voltage, from its plate: watts · (V / rated V)². */
export const resistiveWatts = (plateWatts: number, volts: number, ratedVolts: number): number =>
  plateWatts * (volts / ratedVolts) ** 2;

/** Another meter on the same conductor, over the same seconds. @param own standard uncertainty of its mean */
export const meterReference = (key: string, value: number, own: number, percent: number): Reference => ({
  value,
  own,
  key,
  shared: (percent / 100) * RECTANGULAR,
});

/** Expanded uncertainty of a reference on its own, k = 2. */
export const expandedOf = ({ value, own, shared }: Reference): number => 2 * Math.hypot(own, shared * value);

/**
 * Whether a reference is good enough to judge a tolerance by: not worse than a quarter of it (common practice, the
 * test-uncertainty ratio of 4 : 1).
 * @param tolerance base unit
 */
export const isGoodEnough = (reference: Reference, tolerance: number): boolean =>
  expandedOf(reference) <= tolerance / 4;

/** What a reading is compared with: nothing flowing, what an instrument shows, a load that is known, another meter; or the errors that a test bench has found. */
export const REFERENCE_KINDS = ['zero', 'instrument', 'load', 'meter', 'bench'] as const;
export type ReferenceKind = (typeof REFERENCE_KINDS)[number];

/** A reference as somebody said it. What is left out counts as none; a tolerance as that of a handheld. */
export interface SaidReference {
  kind?: ReferenceKind | undefined;
  /** Base unit. */
  reference: number;
  /** Which instrument or load. */
  name?: string | undefined;
  /** Tolerance, percent of what it shows. */
  percent?: number | undefined;
  /** By how much it fluttered to either side, base unit. */
  flutter?: number | undefined;
  /** Its smallest digit, base unit. */
  digit?: number | undefined;
}

/** A reference out of what was said of it; of another meter its mean has to be known already. */
export function referenceFrom({
  kind,
  reference,
  name = '',
  percent = HANDHELD_PERCENT,
  flutter = 0,
  digit = 0,
}: SaidReference): Reference {
  if (kind === 'zero' || (kind === undefined && reference === 0)) return zeroReference();
  if (kind === 'load') return loadReference(`load ${name}`, reference, percent);
  const [lowest, highest] = [reference - flutter, reference + flutter];
  return instrumentReference(`${kind ?? 'instrument'} ${name}`, lowest, highest, { percent, digit });
}
