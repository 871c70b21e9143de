import {
  bestClass,
  CLASS_LABELS,
  classLimit,
  expandedOf,
  isExact,
  isGoodEnough,
  judgeClass,
  judgedLoads,
  type AccuracyClass,
  type Fit,
} from '@loka/core/calibration';
import type { Line } from '@loka/core/series';
import { Measured } from '../shared/Measured.js';
import { referenceOf, toCompare, type TakenPoint } from './takenPoint.js';
import styles from './BenchPage.module.css';

/** What the points are evidence for, in words: the class that is asked for, the best one, and what is missing. */
export function Evidence({
  taken,
  fit,
  classes,
  rated,
  unit,
  accuracy,
  onAccuracy,
}: {
  taken: TakenPoint[];
  fit: Fit & Line;
  /** Those that say something of the quantity. */
  classes: readonly AccuracyClass[];
  /** The load of which they count shares; null where it is not known. */
  rated: number | null;
  unit: string;
  accuracy: AccuracyClass;
  onAccuracy: (accuracy: AccuracyClass) => void;
}) {
  const points = taken.map(toCompare);
  const judged = judgedLoads(fit, points);
  const exact = isExact(fit, points);
  const hasCheck = points.some((p) => p.check);
  const asked = rated === null ? null : judgeClass(accuracy, judged, rated);
  const best = rated === null ? null : bestClass(judged, rated, classes);
  const weak = rated === null ? undefined : taken.find((t) => isTooWeak(t, accuracy, rated));
  const loads = judged.map((j) => Math.abs(j.load));
  return (
    <section className={styles.evidence} aria-label="Evidence">
      <label className="muted">
        Judged by{' '}
        <select value={accuracy} onChange={(e) => onAccuracy(e.target.value as AccuracyClass)}>
          {classes.map((c) => (
            <option key={c} value={c}>
              {CLASS_LABELS[c]}
            </option>
          ))}
        </select>
      </label>
      {rated === null && (
        <p className="muted">A class needs the rated current of the circuit: enter it on the Board.</p>
      )}
      {exact && !hasCheck && (
        <p>
          {fit.method === 'offset'
            ? 'A zero says nothing about how a load is read. Take a load next.'
            : fit.method === 'pieces'
              ? 'A line from point to point leaves no error at any of them, by construction. Take check points between them.'
              : points.length === 1
                ? 'One load scales the reading and leaves no error, by construction. Take a zero, or a check point at another load.'
                : 'A line through two points leaves no error, by construction. Take a check point at another load, outside the fit.'}
        </p>
      )}
      {asked && judged.length > 0 && (
        <p>
          {asked.verdict === 'meets' ? (
            <strong className="ok">
              Meets {CLASS_LABELS[accuracy]}
              {asked.from === asked.to ? ' at ' : ' from '}
              <Measured value={asked.from} unit={unit} />
              {asked.from === asked.to ? null : (
                <>
                  {' '}
                  to <Measured value={asked.to} unit={unit} />
                </>
              )}
              .
            </strong>
          ) : asked.verdict === 'exceeds' ? (
            <strong className="danger">Does not meet {CLASS_LABELS[accuracy]}.</strong>
          ) : (
            <strong>Cannot tell whether it meets {CLASS_LABELS[accuracy]}.</strong>
          )}{' '}
          {best && best.accuracy !== accuracy && <>It is evidence for {CLASS_LABELS[best.accuracy]}. </>}
          {new Set(loads).size === 1 ? (
            'There is no evidence at any other load.'
          ) : (
            <>
              There is no evidence below <Measured value={Math.min(...loads)} unit={unit} /> and above{' '}
              <Measured value={Math.max(...loads)} unit={unit} />.
            </>
          )}
        </p>
      )}
      {weak && (
        <p className="warn">
          “{weak.label}” is not good enough as a reference for it: it is good to ±
          <Measured value={expandedOf(referenceOf(weak))} unit={unit} />, and should be to a quarter of the
          limit.
        </p>
      )}
    </section>
  );
}

/** Whether a reference is worse than a quarter of what the class allows there. */
function isTooWeak(taken: TakenPoint, accuracy: AccuracyClass, rated: number): boolean {
  const limit = classLimit(accuracy, Math.abs(taken.reference) / rated);
  return limit !== null && !isGoodEnough(referenceOf(taken), (limit / 100) * Math.abs(taken.reference));
}
