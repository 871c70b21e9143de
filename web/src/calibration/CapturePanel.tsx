import type { ComparedMeter } from '@loka/contract/calibration';
import type { Point } from '@loka/contract/points';
import type { InstallationNode } from '@loka/contract/installation';
import {
  captureOfError,
  expandedOf,
  isSteady,
  standOf,
  steadySince,
  summariseCapture,
  type Capture,
  type Stand,
} from '@loka/core/calibration';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import LinearProgress from '@mui/material/LinearProgress';
import { useEffect, useRef, useState } from 'react';
import { api, ApiError, inWords } from '../api/client.js';
import { useReading } from '../api/live.js';
import { useInstallation, useSite } from '../api/useApi.js';
import { Measured } from '../shared/Measured.js';
import { nearestPoint, unitOf } from '../shared/nodes.js';
import { serverNow } from '../api/clock.js';
import { LiveLine } from './LiveLine.js';
import { BenchFields, InstrumentFields, LoadFields, MeterFields } from './ReferenceFields.js';
import { reactiveBeside, referenceOf, type TakenPoint } from './takenPoint.js';
import { nothingTyped, saidReference, type TypedReference } from './typedReference.js';
import { useRawTrace } from './useRawTrace.js';
import styles from './BenchPage.module.css';

const SECONDS = [5, 10, 20, 30];
/** Readings from which it is told since when it is steady: some devices give ten a second. */
const LOOKED_AT = 40;
const STANDS: Record<Stand, string> = {
  'too-few': 'waiting',
  falling: 'still falling',
  rising: 'still rising',
  moving: 'moving',
  steady: 'steady',
};
const KINDS = {
  zero: 'Zero',
  instrument: 'Instrument',
  load: 'Known load',
  meter: 'Other meter',
  bench: 'Test bench',
} as const;

/** Takes one point: averages the raw reading over some seconds against zero, an instrument, a known load, another meter. */
export function CapturePanel({
  point,
  node,
  points,
  number,
  wantsCheck,
  onTaken,
}: {
  point: Point;
  node: InstallationNode;
  points: Point[];
  number: number;
  /** The fit has as many points as it needs: the next one had better check it. */
  wantsCheck: boolean;
  onTaken: (point: TakenPoint) => void;
}) {
  const { data } = useSite();
  const { data: nodes = [] } = useInstallation();
  const [typed, setTyped] = useState<TypedReference>(() => nothingTyped(data?.site?.nominalVoltage ?? 230));
  const [check, setCheck] = useState(false);
  const [seconds, setSeconds] = useState(5);
  const [since, setSince] = useState<number | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  /** A point that was taken while the reading moved, until somebody says what becomes of it. */
  const [moved, setMoved] = useState<TakenPoint | null>(null);
  const trace = useRawTrace(point.id, 30_000);
  const unit = unitOf(point);
  const { quantity } = point.definition;
  const voltage = useReading(
    nearestPoint([node], points, node, 'voltage')?.id ?? supplyVoltage(points, point)?.id,
  );
  const volts = voltage?.v ?? null;
  const said = saidReference(typed, quantity, volts);
  const latest = trace.at(-1);
  const recent = trace.length > 0 ? summariseCapture(trace.slice(-8).map((r) => r.v)) : null;
  const stand = standOf(
    trace.slice(-8).map((r) => r.v),
    quantity,
  );
  const steadyFor = Math.round(steadySince(thinned(trace, LOOKED_AT), quantity) / 1000);
  const reactive = reactiveBeside(point, points);
  const knowsLoads = quantity === 'current' || quantity === 'active-power';

  useEffect(() => {
    if (number === 1) setTyped((t) => ({ ...t, kind: 'zero', shows: '' }));
  }, [number]);
  useEffect(() => setCheck(wantsCheck), [wantsCheck, number]);

  /** The next point begins with nothing typed; who enters the errors of a bench goes on with them. */
  const took = (taken: TakenPoint) => {
    setTyped((t) => ({
      ...t,
      kind: t.kind === 'bench' ? 'bench' : 'instrument',
      shows: '',
      benchLoad: '',
      benchError: '',
    }));
    onTaken(taken);
  };
  const take = async (from: number) => {
    if ('fault' in said) return setFault(said.fault);
    if (said.kind === 'bench' && said.error !== undefined) {
      // Nothing is read for it: the bench has.
      const capture = captureOfError(said.reference, said.error);
      took({
        ...said,
        label: `Bench ${typed.benchLoad} ${unit}`,
        from,
        to: from,
        capture,
        kind: 'bench',
        check,
      });
      return;
    }
    try {
      const to = serverNow();
      const span = `from=${from}&to=${to}`;
      const capture = await api<Capture>(`/calibrations/capture?point=${point.id}&${span}`);
      const kind = said.kind ?? 'instrument';
      // A zero has no error in percent, and checks nothing.
      const taken = {
        label: labelOf(typed, number),
        from,
        to,
        capture,
        kind,
        check: check && kind !== 'zero',
        ...(reactive && (await reactiveMean(reactive.id, span))),
      };
      const whole: TakenPoint =
        kind === 'meter'
          ? { ...said, ...taken, ...(await otherMeter(typed.meterId as number, span)) }
          : { ...said, ...taken };
      if (isSteady(capture, quantity)) took(whole);
      else setMoved(whole);
    } catch (error) {
      setFault(inWords(error));
    }
  };
  const done = useRef(take);
  useEffect(() => {
    done.current = take;
  });
  useEffect(() => {
    if (since === null) return;
    const timer = setTimeout(() => {
      setSince(null);
      void done.current(since);
    }, seconds * 1000);
    return () => clearTimeout(timer);
  }, [since, seconds]);

  const captured = since === null ? [] : trace.filter((r) => r.t >= since);
  const fields = { typed, onChange: setTyped, said, unit };
  return (
    <section className={styles.capture} aria-label="The point being taken">
      <header>
        <span className="muted">Loka reads, raw</span>
        {trace.length > 0 && (
          <span className={stand === 'steady' ? 'ok' : 'warn'}>
            {stand === 'steady' && steadyFor > 0 ? `steady for ${steadyFor} s` : STANDS[stand]}
          </span>
        )}
      </header>
      <div className={styles.big} role="group" aria-label="Raw reading">
        <Measured value={latest?.v} unit={unit} />
      </div>
      <LiveLine trace={trace} />
      {recent && (
        <span className="muted">
          {since === null ? `last ${readings(recent.count)}` : readings(captured.length)} · spread{' '}
          <Measured
            value={(captured.length > 0 ? summariseCapture(captured.map((r) => r.v)) : recent).spread}
            unit={unit}
          />
        </span>
      )}
      <div className={styles.how} role="group" aria-label="Reference">
        {(Object.keys(KINDS) as (keyof typeof KINDS)[])
          .filter((kind) => kind !== 'load' || knowsLoads)
          .map((kind) => (
            <button
              key={kind}
              type="button"
              aria-pressed={typed.kind === kind}
              onClick={() => setTyped({ ...typed, kind })}
            >
              {KINDS[kind]}
            </button>
          ))}
      </div>
      {typed.kind === 'instrument' && <InstrumentFields {...fields} />}
      {typed.kind === 'load' && <LoadFields {...fields} volts={volts} />}
      {typed.kind === 'bench' && <BenchFields {...fields} />}
      {typed.kind === 'meter' && <MeterFields {...fields} point={point} points={points} nodes={nodes} />}
      {!('fault' in said) && Number.isFinite(said.reference) && said.reference !== 0 && (
        <span className="muted">
          good to ±
          <Measured value={expandedOf(referenceOf(said))} unit={unit} /> (95 %)
        </span>
      )}
      {since !== null && (
        <LinearProgress
          variant="determinate"
          value={Math.min(
            100,
            (100 * (captured.length === 0 ? 0 : (latest?.t ?? since) - since)) / (seconds * 1000),
          )}
          aria-label="Capture"
        />
      )}
      {fault && (
        <span className="danger" role="alert">
          {fault}
        </span>
      )}
      {moved && (
        <div role="alert">
          <p className="warn">
            The reading moved by <Measured value={moved.capture.spread} unit={unit} /> while it was averaged.
            Wait until it is steady, and take it again.
          </p>
          <Button
            size="small"
            onClick={() => {
              setMoved(null);
              took(moved);
            }}
          >
            Take it anyway
          </Button>
        </div>
      )}
      {number > 1 && typed.kind !== 'zero' && (
        <FormControlLabel
          control={<Checkbox size="small" checked={check} onChange={(e) => setCheck(e.target.checked)} />}
          label="A check point, outside the fit"
        />
      )}
      <div className={styles.actions}>
        {since === null ? (
          <Button
            variant="contained"
            disabled={'fault' in said || (!latest && typed.kind !== 'bench')}
            onClick={() => {
              setFault(null);
              setMoved(null);
              if (typed.kind === 'bench') void take(serverNow());
              else setSince(serverNow());
            }}
          >
            {typed.kind === 'zero' ? 'Take zero' : check && number > 1 ? 'Take check point' : 'Take point'}
          </Button>
        ) : (
          <Button variant="outlined" onClick={() => setSince(null)}>
            Cancel
          </Button>
        )}
        <label className="muted">
          over{' '}
          <select
            value={seconds}
            disabled={since !== null}
            onChange={(e) => setSeconds(Number(e.target.value))}
          >
            {SECONDS.map((s) => (
              <option key={s} value={s}>
                {s} s
              </option>
            ))}
          </select>
        </label>
      </div>
    </section>
  );
}

/** The reactive power meanwhile. Where none arrived the point is one without: only a displaced phase asks for it. */
async function reactiveMean(pointId: number, span: string): Promise<{ reactive?: number }> {
  try {
    return { reactive: (await api<Capture>(`/calibrations/capture?point=${pointId}&${span}`)).mean };
  } catch (error) {
    if (error instanceof ApiError && error.problem.status === 422) return {};
    throw error;
  }
}

/** What another meter read over the same span. */
async function otherMeter(pointId: number, span: string) {
  const { value, own } = await api<ComparedMeter>(`/calibrations/compared?point=${pointId}&${span}`);
  return { reference: value, own, pointId };
}

/** At most so many readings of a trace, evenly, the newest among them. */
function thinned<T>(trace: readonly T[], most: number): T[] {
  const every = Math.ceil(trace.length / most);
  return trace.filter((_, i) => (trace.length - 1 - i) % every === 0);
}

const labelOf = (typed: TypedReference, number: number): string =>
  typed.kind === 'zero'
    ? 'Zero'
    : typed.kind === 'load'
      ? `${typed.load.trim() || 'Load'} ${/[a-z]/i.test(typed.watts) ? typed.watts.trim() : `${typed.watts} W`}`.slice(
          0,
          60,
        )
      : `Load ${number}`;

/** The voltage of the same conductor from wherever on the site it is measured. */
const supplyVoltage = (points: Point[], point: Point): Point | undefined =>
  points.find((p) => p.definition.quantity === 'voltage' && p.phase === point.phase);

const readings = (count: number): string => `${count} reading${count === 1 ? '' : 's'}`;
