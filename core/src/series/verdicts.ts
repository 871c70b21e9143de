import { QUALITY } from './quality.js';
import type { Sample } from './sample.js';

/** What a person has said of the readings of a span: that they count, or that they do not. */
export interface Verdict {
  /** UTC ms; `from` belongs to it, `to` does not. */
  from: number;
  to: number;
  counts: boolean;
}

/** The verdict in force at t: the latest of those that hold there. @param verdicts in the order in which they were given */
export const verdictAt = (verdicts: readonly Verdict[], t: number): Verdict | null =>
  verdicts.findLast((v) => v.from <= t && t < v.to) ?? null;

/** A sample as it counts after what people have said of it: put back it is uncertain, struck out it is bad. */
export function judge(sample: Sample, verdicts: readonly Verdict[]): Sample {
  const verdict = verdicts.length === 0 ? null : verdictAt(verdicts, sample.t);
  if (!verdict) return sample;
  if (!verdict.counts) return { ...sample, q: QUALITY.struckOut };
  return sample.q === QUALITY.implausible ? { ...sample, q: QUALITY.uncertain } : sample;
}
