import { ACCURACY_CLASSES, classLimit, type AccuracyClass } from './classes.js';

/** A point that says something of a correction: outside of the fit, or one of more points than the fit has unknowns. */
export interface JudgedLoad {
  /** What flowed, by the reference, base unit. */
  load: number;
  /** Percent of the reference that the corrected reading is off. */
  error: number;
  /** Expanded uncertainty of that, 95 %, percent of the reference. */
  uncertainty: number;
}

/** What the points say of a class. */
export interface ClassVerdict {
  accuracy: AccuracyClass;
  /** `cannot-tell`: the error may lie on either side of a limit, or there is no evidence where the class asks for some. */
  verdict: 'meets' | 'exceeds' | 'cannot-tell';
  /** Loads between which there is evidence that it holds; null where it is not met. */
  from: number | null;
  to: number | null;
}

/**
 * How the points stand to a class. A point is inside when its error and its uncertainty together are, outside when even the
 * uncertainty does not bring it in (JCGM 106:2012, 8.3, guarded acceptance and rejection).
 * @param rated reference current of the class, base unit
 */
export function judgeClass(
  accuracy: AccuracyClass,
  points: readonly JudgedLoad[],
  rated: number,
): ClassVerdict {
  const asked = points
    .flatMap((p) => {
      const limit = classLimit(accuracy, Math.abs(p.load) / rated);
      return limit === null ? [] : [{ ...p, limit }];
    })
    .sort((a, b) => Math.abs(a.load) - Math.abs(b.load));
  const nothing = { accuracy, from: null, to: null };
  if (asked.some((p) => Math.abs(p.error) - p.uncertainty > p.limit))
    return { ...nothing, verdict: 'exceeds' };
  const [first, last] = [asked[0], asked.at(-1)];
  if (!first || !last || asked.some((p) => Math.abs(p.error) + p.uncertainty > p.limit))
    return { ...nothing, verdict: 'cannot-tell' };
  return { accuracy, verdict: 'meets', from: Math.abs(first.load), to: Math.abs(last.load) };
}

/**
 * The best class that the points are evidence for; null where they are for none.
 * @param among in their order of strictness, the best first
 */
export function bestClass(
  points: readonly JudgedLoad[],
  rated: number,
  among: readonly AccuracyClass[] = ACCURACY_CLASSES,
): ClassVerdict | null {
  for (const accuracy of among) {
    const verdict = judgeClass(accuracy, points, rated);
    if (verdict.verdict === 'meets') return verdict;
  }
  return null;
}
