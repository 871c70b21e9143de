import type { Point } from '@loka/contract/points';
import type { InstallationNode } from '@loka/contract/installation';
import { isSteady, summariseCapture, type Capture } from '@loka/core/calibration';
import { currentOfLoad } from '@loka/core/power';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import TextField from '@mui/material/TextField';
import { useEffect, useRef, useState } from 'react';
import { api, inWords } from '../api/client.js';
import { useReading } from '../api/live.js';
import { Measured } from '../shared/Measured.js';
import { nearestPoint, unitOf } from '../shared/nodes.js';
import { serverNow } from '../api/clock.js';
import type { TakenPoint } from './takenPoint.js';
import { LiveLine } from './LiveLine.js';
import { useRawTrace } from './useRawTrace.js';
import styles from './BenchPage.module.css';

const SECONDS = [5, 10, 20, 30];
type How = 'zero' | 'typed' | 'load';

/** Takes one point: averages the raw reading over some seconds against zero, a typed reference, or a known load. */
export function CapturePanel({
  point,
  node,
  points,
  number,
  onTaken,
}: {
  point: Point;
  node: InstallationNode;
  points: Point[];
  number: number;
  onTaken: (point: TakenPoint) => void;
}) {
  const [how, setHow] = useState<How>(number === 1 ? 'zero' : 'typed');
  const [typed, setTyped] = useState('');
  const [watts, setWatts] = useState('');
  const [volts, setVolts] = useState<string | null>(null);
  const [factor, setFactor] = useState('1');
  const [seconds, setSeconds] = useState(5);
  const [since, setSince] = useState<number | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const trace = useRawTrace(point.id, 30_000);
  const unit = unitOf(point);
  const voltage = useReading(
    nearestPoint([node], points, node, 'voltage')?.id ?? supplyVoltage(points, point)?.id,
  );
  const voltsNow = volts ?? (voltage?.v != null ? voltage.v.toFixed(1) : '');
  const reference = referenceOf(how, { typed, watts, volts: voltsNow, factor });
  const latest = trace.at(-1);
  const recent = trace.length > 0 ? summariseCapture(trace.slice(-8).map((r) => r.v)) : null;
  const steady = recent !== null && isSteady(recent, 0.02);
  const current = point.definition.quantity === 'current';

  useEffect(() => setHow(number === 1 ? 'zero' : 'typed'), [number]);

  const take = async (from: number) => {
    try {
      const to = serverNow();
      const capture = await api<Capture>(`/calibrations/capture?point=${point.id}&from=${from}&to=${to}`);
      onTaken({
        label: how === 'zero' ? 'Zero' : how === 'load' ? `${watts} W load` : `Load ${number}`,
        from,
        to,
        reference: reference.value as number,
        capture,
      });
      setTyped('');
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
  return (
    <div className={styles.capture}>
      <header>
        <span className="muted">Loka reads, raw</span>
        {trace.length > 0 && <span className={steady ? 'ok' : 'warn'}>{steady ? 'steady' : 'moving'}</span>}
      </header>
      <div className={styles.big} role="group" aria-label="Raw reading">
        <Measured value={latest?.v} unit={unit} />
      </div>
      <LiveLine trace={trace} />
      {recent && (
        <span className="muted">
          {since === null ? `last ${recent.count} readings` : `${captured.length} readings`} · spread{' '}
          <Measured
            value={(captured.length > 0 ? summariseCapture(captured.map((r) => r.v)) : recent).spread}
            unit={unit}
          />
        </span>
      )}
      <div className={styles.how} role="group" aria-label="Reference">
        {(['zero', 'typed', ...(current ? (['load'] as const) : [])] as How[]).map((h) => (
          <button key={h} type="button" aria-pressed={how === h} onClick={() => setHow(h)}>
            {h === 'zero' ? 'Zero' : h === 'typed' ? 'Instrument' : 'Known load'}
          </button>
        ))}
      </div>
      {how === 'typed' && (
        <TextField
          label={`The reference reads, ${unit}`}
          value={typed}
          inputMode="decimal"
          onChange={(e) => setTyped(e.target.value)}
          error={typed !== '' && reference.fault !== null}
          helperText={typed !== '' ? (reference.fault ?? ' ') : ' '}
        />
      )}
      {how === 'load' && (
        <>
          <div className={styles.reference}>
            <TextField
              label="Power, W"
              value={watts}
              inputMode="decimal"
              onChange={(e) => setWatts(e.target.value)}
            />
            <TextField
              label="Voltage, V"
              value={voltsNow}
              inputMode="decimal"
              onChange={(e) => setVolts(e.target.value)}
            />
            <TextField
              label="Power factor"
              value={factor}
              inputMode="decimal"
              onChange={(e) => setFactor(e.target.value)}
            />
          </div>
          <span className={reference.fault && watts !== '' ? 'danger' : 'muted'}>
            {watts === ''
              ? 'Type what the load draws.'
              : (reference.fault ?? (
                  <>
                    that is <Measured value={reference.value} unit={unit} />
                  </>
                ))}
          </span>
        </>
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
      <div className={styles.actions}>
        {since === null ? (
          <Button
            variant="contained"
            disabled={reference.value === null || !latest}
            onClick={() => {
              setFault(null);
              setSince(serverNow());
            }}
          >
            {how === 'zero' ? 'Take zero' : 'Take point'}
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
    </div>
  );
}

/** The voltage of the same conductor from wherever on the site it is measured. */
const supplyVoltage = (points: Point[], point: Point): Point | undefined =>
  points.find((p) => p.definition.quantity === 'voltage' && p.phase === point.phase);

function number(text: string): number | null {
  const value = Number(text.replace(',', '.'));
  return text.trim() === '' || !Number.isFinite(value) ? null : value;
}

/** The reference that is meant, or why there is none. */
function referenceOf(
  how: How,
  fields: { typed: string; watts: string; volts: string; factor: string },
): { value: number | null; fault: string | null } {
  if (how === 'zero') return { value: 0, fault: null };
  if (how === 'typed') {
    const value = number(fields.typed);
    return value === null
      ? { value, fault: 'Type the number that the reference shows, for example 11.35.' }
      : { value, fault: null };
  }
  const [watts, volts, factor] = [number(fields.watts), number(fields.volts), number(fields.factor)];
  if (watts === null || volts === null || factor === null)
    return { value: null, fault: 'Power, voltage and power factor are numbers.' };
  try {
    return { value: currentOfLoad(watts, volts, factor), fault: null };
  } catch (error) {
    return { value: null, fault: (error as Error).message };
  }
}
