import type { InstallationNode } from '@loka/contract/installation';
import type { Point } from '@loka/contract/points';
import { LEAVE_AFTER, trimAdvice, type TrimStep } from '@loka/core/calibration';
import { isReadable } from '@loka/core/points';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { useNow } from '../api/clock.js';
import { isCorrectable } from '../calibration/isCorrectable.js';
import { typedNumber } from '../calibration/typedReference.js';
import { Measured } from '../shared/Measured.js';
import { unitOf } from '../shared/nodes.js';
import { EmptyState } from '../shared/states.js';
import { TrimScale } from './TrimScale.js';
import { OLDEST, useDeviation } from './useDeviation.js';
import { useTone } from './useTone.js';
import styles from './TrimPage.module.css';
import { usePointTitle } from '../shared/usePointTitle.js';

const SAYS: Record<TrimStep, string> = {
  turn: 'Adjust a little',
  'same-way': 'Same way',
  'other-way': 'Other way',
  hold: 'Leave it',
  stop: 'Stop',
};

/** A transducer with a trimmer is set: the deviation from a reference, live, to be read from where the trimmer is. */
export default function TrimPage({ node, points }: { node: InstallationNode; points: Point[] }) {
  const titleOf = usePointTitle();
  const own = points.filter((p) => p.nodeId === node.id && isCorrectable(p));
  const [pointId, setPointId] = useState(
    (own.find((p) => p.definition.quantity === 'current') ?? own[0])?.id ?? null,
  );
  const [otherId, setOtherId] = useState<number | 'typed'>('typed');
  const [typed, setTyped] = useState('');
  const [tolerance, setTolerance] = useState('0.5');
  const [tone, setTone] = useState(false);
  const point = own.find((p) => p.id === pointId);
  const value = typedNumber(typed);
  const within = typedNumber(tolerance);
  const { recent, reading, against } = useDeviation(
    pointId ?? 0,
    otherId !== 'typed' ? { pointId: otherId } : value === null || value === 0 ? null : { value },
  );
  const isTold = within !== null && within > 0 && within < 10;
  const now = useNow(500);
  const newest = recent.at(-1);
  // What has stopped coming says nothing about how it stands now.
  const isLive =
    newest !== undefined && now - newest.t < Math.max(OLDEST, 2.5 * (point?.definition.intervalMs ?? 0));
  const last = isLive ? newest.percent : null;
  const { step, insideFor } = trimAdvice(isLive ? recent : [], isTold ? within : 0.5);
  useTone(tone ? last : null, isTold ? within : 0.5);
  if (!point)
    return (
      <EmptyState title={`Nothing to trim on ${node.name}`}>
        Assign a measured point to it in Field first.
      </EmptyState>
    );
  const others = points.filter(
    (p) =>
      p.id !== point.id && p.definition.quantity === point.definition.quantity && isReadable(p.definition),
  );
  const unit = unitOf(point);
  return (
    <div className={styles.page}>
      {point.calibrated && (
        <p className="warn">
          A correction holds for this point. The trimmer is set by what is read before it: take the correction
          back, or calibrate again, afterwards.
        </p>
      )}
      <div className={styles.big} data-inside={last !== null && isTold && Math.abs(last) <= within}>
        {last === null ? '–' : signed(last)}
        <span className="unit">%</span>
      </div>
      <p className={styles.step} data-step={step} role="status">
        {last === null ? waitingFor(otherId, value) : SAYS[step]}
      </p>
      <TrimScale percent={last} tolerance={isTold ? within : 0.5} />
      <div className={styles.squares} aria-label={`Steady for ${Math.floor(insideFor / 1000)} s`} role="img">
        {Array.from({ length: LEAVE_AFTER / 1000 }, (_, i) => (
          <i key={i} data-full={insideFor >= (i + 1) * 1000} />
        ))}
        <span className="muted">seconds inside</span>
      </div>
      <p className="muted">
        Reads <Measured value={reading} unit={unit} />, raw; reference{' '}
        <Measured value={against} unit={unit} />.
      </p>
      <div className={styles.fields}>
        <TextField
          select
          label="To be trimmed"
          value={point.id}
          onChange={(e) => setPointId(Number(e.target.value))}
        >
          {own.map((p) => (
            <MenuItem key={p.id} value={p.id}>
              {titleOf(p)}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          label="Reference"
          value={otherId}
          onChange={(e) => setOtherId(e.target.value === 'typed' ? 'typed' : Number(e.target.value))}
        >
          <MenuItem value="typed">a number that is held</MenuItem>
          {others.map((p) => (
            <MenuItem key={p.id} value={p.id}>
              {titleOf(p)}
            </MenuItem>
          ))}
        </TextField>
        {otherId === 'typed' && (
          <TextField
            label={`It is held at, ${unit}`}
            value={typed}
            inputMode="decimal"
            onChange={(e) => setTyped(e.target.value)}
            error={typed !== '' && (value === null || value === 0)}
            helperText={
              typed !== '' && (value === null || value === 0) ? 'A number other than 0.' : undefined
            }
          />
        )}
        <TextField
          label="Tolerance, ±%"
          value={tolerance}
          inputMode="decimal"
          onChange={(e) => setTolerance(e.target.value)}
          error={!isTold}
          helperText={isTold ? undefined : 'Above 0 and below 10.'}
        />
        <FormControlLabel
          control={<Checkbox size="small" checked={tone} onChange={(e) => setTone(e.target.checked)} />}
          label="With a tone"
        />
      </div>
    </div>
  );
}

const waitingFor = (other: number | 'typed', value: number | null): string =>
  other === 'typed' && value === null ? 'Type the value the reference is held at' : 'No reading to compare';

/** Two decimals near the reference, one far from it, with a sign. */
function signed(percent: number): string {
  const size = Math.abs(percent);
  const text = size.toFixed(size < 10 ? 2 : size < 100 ? 1 : 0);
  return `${Number(text) === 0 ? '' : percent > 0 ? '+' : '−'}${text}`;
}
