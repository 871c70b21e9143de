import type { Point } from '@loka/contract/points';
import type { InstallationNode } from '@loka/contract/installation';
import {
  applyCorrection,
  classesOf,
  correctionInWords,
  displacementOf,
  errorUncertainty,
  fitCorrection,
  isExact,
  percentError,
  ratedLoad,
  type AccuracyClass,
  type Fit,
  type FitMethod,
} from '@loka/core/calibration';
import { lazy, Suspense, useState } from 'react';
import { useCalibrations, useHolding, useSite } from '../api/useApi.js';
import { Measured } from '../shared/Measured.js';
import { unitOf } from '../shared/nodes.js';
import { useUnsaved, type Survives } from '../shared/unsaved.js';
import { CalibrationHistory } from './CalibrationHistory.js';
import { CapturePanel } from './CapturePanel.js';
import { CountedPanel } from './CountedPanel.js';
import { ErrorTable } from './ErrorTable.js';
import { Evidence } from './Evidence.js';
import { isCounted } from './isCorrectable.js';
import { ProposalBar } from './ProposalBar.js';
import { typedNumber } from './typedReference.js';
import { reactiveBeside, toCompare, withPhase, type JudgedPoint, type TakenPoint } from './takenPoint.js';
import styles from './BenchPage.module.css';

const ErrorDrawing = lazy(() => import('./ErrorDrawing.js'));

const METHODS: Record<FitMethod | 'by-points', string> = {
  'by-points': 'what the points allow',
  line: 'gain and offset',
  pieces: 'a line from point to point',
  gain: 'the gain alone',
  offset: 'the offset alone',
};

/** Another place, or another of its points, begins with none. */
const samePoint: Survives = (to, from) => {
  const [a, b] = [new URLSearchParams(to.search), new URLSearchParams(from.search)];
  return to.pathname === from.pathname && ['at', 'point'].every((key) => a.get(key) === b.get(key));
};

/** Points are taken one by one; from the first one on, a correction is proposed and its effect shown. */
export function CalibrationBench({
  point,
  node,
  points,
}: {
  point: Point;
  node: InstallationNode;
  points: Point[];
}) {
  const [taken, setTaken] = useState<TakenPoint[]>([]);
  const { data: calibrations = [] } = useCalibrations(point.id);
  const inForce = calibrations.find((c) => !c.superseded) ?? null;
  const { data: holding } = useHolding(point.id);
  const correction = holding?.correction ?? null;
  const newest = calibrations.find((c) => c.undoable) ?? null;
  /** The newest calibration when the first point was taken: what others make meanwhile is seen. */
  const [basis, setBasis] = useState(0);
  const [accuracy, setAccuracy] = useState<AccuracyClass>('1');
  const unit = unitOf(point);
  const { data: site } = useSite();
  const { quantity } = point.definition;
  const lines = point.phase === 'total' ? node.phases.split(' ').length : 1;
  const rated = ratedLoad(quantity, node.ratedCurrent, site?.site?.nominalVoltage ?? 230, lines);
  useUnsaved(
    taken.length === 0
      ? null
      : `${taken.length === 1 ? 'a point' : `${taken.length} points`} taken for ${point.definition.name}`,
    samePoint,
  );
  const [method, setMethod] = useState<FitMethod | 'by-points'>('by-points');
  const [noLoad, setNoLoad] = useState('');
  const typedFloor = typedNumber(noLoad);
  const floor = typedFloor !== null && typedFloor > 0 ? typedFloor : null;
  const [displacement, setDisplacement] = useState('');
  const reactive = reactiveBeside(point, points);
  const minutes = reactive ? typedNumber(displacement) || null : null;
  const told = displacementOf(
    taken.flatMap((t) =>
      t.reactive === undefined || t.reference === 0
        ? []
        : [{ watts: t.capture.mean, vars: t.reactive, reference: t.reference }],
    ),
  );
  const isCounter = isCounted(point);
  const add = (t: TakenPoint) => {
    if (taken.length === 0) setBasis(newest?.id ?? 0);
    setTaken((before) => [...before, t]);
  };
  const turned = taken.map((t) => withPhase(t, minutes));
  const { fit, fault } = propose(turned, isCounter ? 'gain' : method === 'by-points' ? undefined : method);
  const judged: JudgedPoint[] = taken.map((t, i) => ({
    ...t,
    asFound: percentError(
      applyCorrection(correction, withPhase(t, correction?.displacement ?? null).capture.mean),
      t.reference,
    ),
    asLeft: fit
      ? percentError(
          applyCorrection({ ...fit, noLoad: floor }, (turned[i] as TakenPoint).capture.mean),
          t.reference,
        )
      : null,
    uncertainty: fit ? errorUncertainty(fit, toCompare(t)) : null,
  }));
  const wantsCheck = fit !== null && taken.length > 1 && isExact(fit, turned.map(toCompare));
  return (
    <>
      <div className={styles.columns}>
        <div>
          <ol className={styles.points}>
            {taken.map((t, i) => (
              <li key={t.from}>
                <span className={styles.step}>{i + 1}</span>
                <span>
                  {t.label}
                  {t.check && <span className="muted"> check</span>}
                </span>
                <span>
                  <Measured value={t.capture.mean} unit={unit} /> →{' '}
                  <Measured value={t.reference} unit={unit} />
                </span>
                <button
                  type="button"
                  aria-label={`Drop the point ${t.label}`}
                  onClick={() => setTaken(taken.filter((other) => other !== t))}
                >
                  ×
                </button>
              </li>
            ))}
            <li data-current="true">
              <span className={styles.step}>{taken.length + 1}</span>
              <span>
                {isCounter ? 'Next count' : taken.length === 0 ? 'Zero, or the first load' : 'Next load'}
              </span>
              <span className="muted">now</span>
            </li>
          </ol>
          {isCounter ? (
            <CountedPanel point={point} number={taken.length + 1} onTaken={add} />
          ) : (
            <CapturePanel
              point={point}
              node={node}
              points={points}
              number={taken.length + 1}
              wantsCheck={wantsCheck}
              onTaken={add}
            />
          )}
          {!isCounter && (
            <p className="muted" style={{ marginTop: 8 }}>
              Zero first, with nothing in the jaws or the load off. Then a load; then a check point at another
              one, which shows how good it is.
            </p>
          )}
        </div>
        <div>
          <div className={styles.chartTitle}>
            <h2>Error against load</h2>
            <span className={styles.legend}>
              <span>
                <i />
                as found
              </span>
              <span>
                <i data-left="true" />
                as left
              </span>
            </span>
          </div>
          <Suspense fallback={null}>
            <ErrorDrawing
              points={judged.length > 0 ? judged : (inForce?.points ?? [])}
              unit={unit}
              rated={rated}
              accuracy={rated === null ? null : accuracy}
            />
          </Suspense>
          <ErrorTable points={judged} unit={unit} />
          {taken.length > 0 && !isCounter && (
            <div className={styles.finds}>
              <label className="muted">
                Finds{' '}
                <select value={method} onChange={(e) => setMethod(e.target.value as FitMethod | 'by-points')}>
                  {(Object.keys(METHODS) as (keyof typeof METHODS)[]).map((m) => (
                    <option key={m} value={m}>
                      {METHODS[m]}
                    </option>
                  ))}
                </select>
              </label>
              <label className="muted">
                Nothing flows below{' '}
                <input
                  className="plain"
                  value={noLoad}
                  inputMode="decimal"
                  size={6}
                  onChange={(e) => setNoLoad(e.target.value)}
                  aria-invalid={noLoad !== '' && floor === null}
                />{' '}
                {unit}
              </label>
              {reactive && (
                <label className="muted">
                  Phase displaced by{' '}
                  <input
                    className="plain"
                    value={displacement}
                    inputMode="decimal"
                    size={5}
                    onChange={(e) => setDisplacement(e.target.value)}
                    aria-invalid={displacement !== '' && minutes === null}
                  />
                  ′{' '}
                  {told !== null && (
                    <button type="button" onClick={() => setDisplacement(told.toFixed(1))}>
                      the points say {told.toFixed(1)}′
                    </button>
                  )}
                </label>
              )}
            </div>
          )}
          {fit && (quantity === 'current' || quantity === 'active-power') && (
            <Evidence
              classes={classesOf(quantity)}
              taken={turned}
              fit={{ ...fit, noLoad: floor }}
              rated={rated}
              unit={unit}
              accuracy={accuracy}
              onAccuracy={setAccuracy}
            />
          )}
          {fault && taken.length > 0 && (
            <p className="danger" role="alert">
              {fault}
            </p>
          )}
          {correction?.with && (
            <p className="muted">
              It is corrected with the calibration of {correction.with}: {correctionInWords(correction, unit)}
              .
            </p>
          )}
          <CalibrationHistory point={point} points={points} calibrations={calibrations} unit={unit} />
        </div>
      </div>
      <ProposalBar
        point={point}
        node={node}
        taken={taken}
        fit={fit}
        method={method === 'by-points' ? null : method}
        noLoad={floor}
        displacement={minutes}
        points={points}
        inForce={inForce}
        correction={correction}
        basis={basis}
        newest={newest}
        onSeen={() => setBasis(newest?.id ?? 0)}
        onDone={() => setTaken([])}
      />
    </>
  );
}

function propose(
  taken: TakenPoint[],
  method: FitMethod | undefined,
): { fit: Fit | null; fault: string | null } {
  try {
    return {
      fit: fitCorrection(taken.filter((t) => !t.check).map(toCompare), {
        turned: true,
        ...(method && { method }),
      }),
      fault: null,
    };
  } catch (error) {
    return { fit: null, fault: `No correction yet: ${(error as Error).message}.` };
  }
}
