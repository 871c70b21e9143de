import type { Calibration } from '@loka/contract/calibration';
import type { Point } from '@loka/contract/points';
import type { Fit } from '@loka/core/calibration';
import { printAge } from '@loka/core/formats';
import { fromSiteClock, siteClock, siteDay } from '@loka/core/time';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { useState } from 'react';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { useNotices } from '../shared/notices.js';
import { unitOf } from '../shared/nodes.js';
import { usePeriod } from '../shared/period.js';
import { serverNow } from '../api/clock.js';
import type { TakenPoint } from './takenPoint.js';
import { correctionInWords } from './correctionInWords.js';
import styles from './BenchPage.module.css';

type From = 'now' | 'today' | 'beginning' | 'other';

/** The proposed correction, from when on it holds, what that changes, and the button. */
export function ProposalBar({
  point,
  taken,
  fit,
  points,
  inForce,
  onDone,
}: {
  point: Point;
  taken: TakenPoint[];
  fit: Fit | null;
  points: Point[];
  inForce: Calibration | null;
  onDone: () => void;
}) {
  const { zone } = usePeriod();
  const { attempt, say } = useNotices();
  const [from, setFrom] = useState<From>('now');
  const [other, setOther] = useState('');
  const [withPower, setWithPower] = useState(true);
  const [busy, setBusy] = useState(false);
  const unit = unitOf(point);
  const power =
    point.definition.quantity === 'current'
      ? points.find(
          (p) =>
            p.deviceId === point.deviceId &&
            p.nodeId === point.nodeId &&
            p.phase === point.phase &&
            p.definition.quantity === 'active-power',
        )
      : undefined;
  const validFrom = startOf(from, other, zone);
  const apply = async () => {
    setBusy(true);
    await attempt(async () => {
      const points_ = taken.map(({ label, from: start, to, reference }) => ({
        label,
        from: start,
        to,
        reference,
      }));
      const made = await api<Calibration>('/calibrations', 'POST', {
        pointId: point.id,
        points: points_,
        validFrom: validFrom ?? serverNow(),
        withPower: withPower && power !== undefined,
      });
      await mutate(
        (key) =>
          typeof key === 'string' &&
          (key.startsWith('/calibrations') || key.startsWith('/points') || key.startsWith('/installation')),
      );
      onDone();
      say('The correction holds. Earlier readings follow.', () =>
        api(`/calibrations/${made.id}/undo`, 'POST'),
      );
    });
    setBusy(false);
  };
  return (
    <div className={styles.foot}>
      <div>
        <span>{fit ? 'Correction proposed' : inForce ? 'Correction in force' : 'No correction'}</span>
        <b className={styles.law}>
          {fit ? correctionInWords(fit, unit) : inForce ? correctionInWords(inForce, unit) : 'reading = raw'}
        </b>
      </div>
      <div>
        <span>Applies from</span>
        <select value={from} onChange={(e) => setFrom(e.target.value as From)} aria-label="Applies from">
          <option value="now">now</option>
          <option value="today">the start of today</option>
          <option value="beginning">the first reading</option>
          <option value="other">another instant</option>
        </select>{' '}
        {from === 'other' && (
          <input
            type="datetime-local"
            value={other}
            max={siteClock(zone, serverNow(), "yyyy-MM-dd'T'HH:mm")}
            onChange={(e) => setOther(e.target.value)}
            aria-label="Instant from which it applies"
          />
        )}
      </div>
      <div>
        <span>Changes the past</span>
        {from === 'now'
          ? 'no'
          : from === 'beginning'
            ? 'all readings'
            : validFrom === null
              ? 'choose an instant'
              : `readings of the last ${printAge(serverNow() - validFrom)}`}
      </div>
      {power && (
        <FormControlLabel
          control={
            <Checkbox size="small" checked={withPower} onChange={(e) => setWithPower(e.target.checked)} />
          }
          label={`Same gain for ${power.definition.name.toLowerCase()}`}
        />
      )}
      <span className={styles.space} />
      <div className={styles.actions}>
        <Button variant="outlined" disabled={taken.length === 0} onClick={onDone}>
          Discard
        </Button>
        <Button
          variant="contained"
          disabled={!fit || busy || validFrom === null}
          onClick={() => void apply()}
        >
          Apply correction
        </Button>
      </div>
    </div>
  );
}

function startOf(from: From, other: string, zone: string): number | null {
  if (from === 'now') return serverNow();
  if (from === 'today') return siteDay(zone, serverNow()).start;
  if (from === 'beginning') return 0;
  try {
    return other === '' ? null : fromSiteClock(zone, other);
  } catch {
    return null; // an instant that is still being typed
  }
}
