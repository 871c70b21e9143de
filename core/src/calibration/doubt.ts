import type { Fit } from './fit.js';

/** A zero above this share of the rating is hardly one: something flows. */
const ZERO_SHARE = 0.02;
/** A, where no rating is known. */
const ZERO_AMPERES = 0.5;
/** A transducer of the right rating is not off by more than this. */
const ODD_GAIN = 2;

export interface Doubt {
  kind: 'zero-with-load' | 'odd-gain' | 'turned' | 'high-floor';
  says: string;
}

/** A floor above this share of the largest load that was compared hides loads. */
const FLOOR_SHARE = 0.05;

/**
 * What is odd about a floor below which nothing is to flow: it hides loads. Null where it is not.
 * @param loads what the references said, base unit; @param rated as in {@link doubtsOf}
 */
export function doubtOfFloor(
  noLoad: number | null,
  loads: readonly number[],
  rated: number | null,
  unit: string,
): Doubt | null {
  if (!noLoad) return null;
  const most = Math.max(0, ...loads.map(Math.abs)) * FLOOR_SHARE || (rated === null ? 0 : ZERO_SHARE * rated);
  if (noLoad <= most) return null;
  return {
    kind: 'high-floor',
    says: `Below ${Number(noLoad.toPrecision(3))} ${unit} nothing would be read any more: a small load would not be seen, and no limit on it would act.`,
  };
}

/**
 * What is odd about a correction and may be meant anyway: it is asked about.
 * @param zeros raw readings that were taken as zero, base unit
 * @param rated rated current of the place, A, or what corresponds to it in the point's quantity; null where it is not known
 */
export function doubtsOf(
  { gain, method }: Pick<Fit, 'gain' | 'method'>,
  zeros: readonly number[],
  rated: number | null,
  unit: string,
): Doubt[] {
  const doubts: Doubt[] = [];
  const most = rated === null ? ZERO_AMPERES : ZERO_SHARE * rated;
  const zero = zeros.find((raw) => Math.abs(raw) > most);
  if (zero !== undefined)
    doubts.push({
      kind: 'zero-with-load',
      says: `The zero was taken at ${Number(zero.toPrecision(3))} ${unit}: something seems to flow.`,
    });
  if (method !== 'offset' && gain < 0)
    doubts.push({
      kind: 'turned',
      says: 'The gain is negative: the reading is turned round. If the clamp points the wrong way, turn the clamp.',
    });
  if (Math.abs(gain) > ODD_GAIN || Math.abs(gain) < 1 / ODD_GAIN)
    doubts.push({
      kind: 'odd-gain',
      says: `The gain is ${Number(gain.toPrecision(3))}: a ratio, a number of turns or a unit may be set wrongly, and belongs to the transducer.`,
    });
  return doubts;
}
