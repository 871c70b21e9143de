import type { Point } from '@loka/contract/points';
import type { Capture } from '@loka/core/calibration';
import { fromSiteClock, siteClock } from '@loka/core/time';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { api, inWords } from '../api/client.js';
import { serverNow } from '../api/clock.js';
import { useReading } from '../api/live.js';
import { Measured } from '../shared/Measured.js';
import { unitOf } from '../shared/nodes.js';
import { usePeriod } from '../shared/period.js';
import type { TakenPoint } from './takenPoint.js';
import { nothingTyped, saidReference } from './typedReference.js';
import styles from './BenchPage.module.css';
import { InstantField } from '../shared/DateFields.js';

const CLOCK = "yyyy-MM-dd'T'HH:mm";
const DAY = 86_400_000;

/** Takes one point of a counter: what it has counted between two instants, against what a better meter has. */
export function CountedPanel({
  point,
  number,
  onTaken,
}: {
  point: Point;
  number: number;
  onTaken: (point: TakenPoint) => void;
}) {
  const { zone } = usePeriod();
  const [from, setFrom] = useState(() => siteClock(zone, serverNow() - DAY, CLOCK));
  const [to, setTo] = useState(() => siteClock(zone, serverNow(), CLOCK));
  const [counted, setCounted] = useState('');
  const [name, setName] = useState('Reference meter');
  const [percent, setPercent] = useState('1');
  const [check, setCheck] = useState(false);
  const [busy, setBusy] = useState(false);
  const [fault, setFault] = useState<string | null>(null);
  const reading = useReading(point.id);
  const said = saidReference(
    {
      ...nothingTyped(230),
      kind: 'instrument',
      shows: /[a-z]/i.test(counted) ? counted : `${counted} kWh`,
      instrument: name,
      percent,
    },
    point.definition.quantity,
    null,
  );
  const take = async () => {
    if ('fault' in said) return setFault(said.fault);
    setBusy(true);
    try {
      const span = { from: fromSiteClock(zone, from), to: fromSiteClock(zone, to) };
      const capture = await api<Capture>(
        `/calibrations/capture?point=${point.id}&from=${span.from}&to=${span.to}`,
      );
      setFault(null);
      onTaken({ ...said, ...span, kind: 'instrument', label: `Count ${number}`, capture, check });
      setCounted('');
    } catch (error) {
      setFault(inWords(error));
    } finally {
      setBusy(false);
    }
  };
  const instant = (label: string, value: string, set: (value: string) => void) => (
    <InstantField label={label} value={value} onChange={set} />
  );
  return (
    <div className={styles.capture}>
      <header>
        <span className="muted">The counter stands at</span>
      </header>
      <div className={styles.big} role="group" aria-label="Counter">
        <Measured value={reading?.v} unit={unitOf(point)} />
      </div>
      <p className="muted" style={{ margin: 0 }}>
        A counter is compared by what it has counted: over hours or days, so that its last digit is small
        against it.
      </p>
      {instant('From', from, setFrom)}
      {instant('To', to, setTo)}
      <TextField
        label="The reference counted, kWh"
        value={counted}
        inputMode="decimal"
        onChange={(e) => setCounted(e.target.value)}
        error={counted !== '' && 'fault' in said}
        helperText={counted !== '' && 'fault' in said ? said.fault : undefined}
      />
      <div className={styles.pair}>
        <TextField label="Which" value={name} onChange={(e) => setName(e.target.value)} />
        <TextField
          label="Tolerance, ±%"
          value={percent}
          inputMode="decimal"
          onChange={(e) => setPercent(e.target.value)}
        />
      </div>
      {number > 1 && (
        <FormControlLabel
          control={<Checkbox size="small" checked={check} onChange={(e) => setCheck(e.target.checked)} />}
          label="A check point, outside the fit"
        />
      )}
      {fault && (
        <span className="danger" role="alert">
          {fault}
        </span>
      )}
      <div className={styles.actions}>
        <Button variant="contained" disabled={busy || 'fault' in said} onClick={() => void take()}>
          {check && number > 1 ? 'Take check point' : 'Take point'}
        </Button>
      </div>
    </div>
  );
}
