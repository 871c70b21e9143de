import type { Calibration, CalibrationInput, CorrectionInForce } from '@loka/contract/calibration';
import type { Point } from '@loka/contract/points';
import type { InstallationNode } from '@loka/contract/installation';
import { correctionInWords, fitInWords, type Fit, type FitMethod } from '@loka/core/calibration';
import { fromSiteClock, siteClock, siteDay } from '@loka/core/time';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { useState } from 'react';
import { mutate } from 'swr';
import { api, ApiError } from '../api/client.js';
import { useFittings } from '../api/useApi.js';
import { useNotices } from '../shared/notices.js';
import { unitOf } from '../shared/nodes.js';
import { usePeriod } from '../shared/period.js';
import { serverNow } from '../api/clock.js';
import type { TakenPoint } from './takenPoint.js';
import { PastChange } from './PastChange.js';
import styles from './BenchPage.module.css';
import { InstantField } from '../shared/DateFields.js';

type From = 'now' | 'today' | 'installation' | 'beginning' | 'other';

/** After so many months it is due again. */
const DUE = [6, 12, 24, 36, 60];
const USUAL_DUE = 24;

/** The proposed correction, from when on it holds, what that changes, and the button. */
export function ProposalBar({
  point,
  node,
  taken,
  fit,
  method,
  noLoad,
  displacement,
  points,
  inForce,
  correction,
  basis,
  newest,
  onSeen,
  onDone,
}: {
  point: Point;
  node: InstallationNode;
  taken: TakenPoint[];
  fit: Fit | null;
  /** What is to be found; null: what the points allow. */
  method: FitMethod | null;
  /** Nearer to zero nothing flows, base unit; null where all counts. */
  noLoad: number | null;
  /** Minutes by which the phase is displaced, of a power; null where nothing is said. */
  displacement: number | null;
  points: Point[];
  inForce: Calibration | null;
  /** What corrects the point now, also by the calibration of another one. */
  correction: CorrectionInForce | null;
  /** The newest calibration when the first point was taken, 0 without one; and the newest now. */
  basis: number;
  newest: Calibration | null;
  /** Somebody has seen that another one was made meanwhile. */
  onSeen: () => void;
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
  const { data: fittings = [] } = useFittings(node.id);
  const installed = fittings.find((f) => f.kind === 'device' && f.at <= serverNow());
  const [dueMonths, setDueMonths] = useState(USUAL_DUE);
  const validFrom = from === 'installation' ? (installed?.at ?? null) : startOf(from, other, zone);
  const isStale = taken.length > 0 && (newest?.id ?? 0) !== basis;
  const inputFrom = (instant: number): CalibrationInput => ({
    pointId: point.id,
    points: taken.map(({ capture: _, own: __, reactive: ___, ...said }) => said),
    validFrom: instant,
    withPower: withPower && power !== undefined,
    basis,
    dueMonths,
    ...(method && { method }),
    ...(noLoad && { noLoad }),
    ...(displacement && { displacement }),
  });
  /** A change of wiring that the correction would reach back over, while somebody is asked. */
  const [across, setAcross] = useState<{ says: string; at: number | null } | null>(null);
  /** What is odd about it, while somebody is asked. */
  const [doubt, setDoubt] = useState<{ says: string; since: number | null; anyway: boolean } | null>(null);
  const apply = async (since = validFrom, { anyway = false, meant = false } = {}) => {
    setBusy(true);
    await attempt(async () => {
      const made = await api<Calibration>('/calibrations', 'POST', {
        ...inputFrom(since ?? serverNow()),
        ...(anyway ? { anyway } : {}),
        ...(meant ? { meant } : {}),
      }).catch((error: unknown) => {
        if (error instanceof ApiError && error.problem.type.endsWith('doubtful')) {
          setDoubt({ says: error.message, since, anyway });
          return null;
        }
        if (!(error instanceof ApiError && error.problem.type.endsWith('across-change'))) throw error;
        const at = error.at('validFrom');
        setAcross({ says: error.message, at: at === undefined ? null : Number(at) });
        return null;
      });
      if (made === null) return;
      await mutate(
        (key) =>
          typeof key === 'string' &&
          (key.startsWith('/calibrations') || key.startsWith('/points') || key.startsWith('/installation')),
      );
      onDone();
      say('Correction applied. Past readings are being recalculated.', () =>
        api(`/calibrations/${made.id}/undo`, 'POST'),
      );
    });
    setBusy(false);
  };
  return (
    <div className={styles.foot}>
      <div>
        <span>{fit ? 'Correction proposed' : correction ? 'Correction in force' : 'No correction'}</span>
        <b className={styles.law}>
          {lawOf(
            fit ?? inForce?.fit ?? null,
            correction,
            unit,
            fit ? { noLoad, displacement } : (inForce ?? {}),
          )}
        </b>
      </div>
      <div>
        <span>Applies from</span>
        <select value={from} onChange={(e) => setFrom(e.target.value as From)} aria-label="Applies from">
          <option value="now">now</option>
          <option value="today">the start of today</option>
          {installed && (
            <option value="installation">
              its installation, {siteClock(zone, installed.at, 'd LLL yyyy HH:mm')}
            </option>
          )}
          <option value="beginning">the first reading</option>
          <option value="other">another instant</option>
        </select>{' '}
        {from === 'other' && (
          <div className={styles.instant}>
            <InstantField
              label="Instant from which it applies"
              value={other}
              latest={siteClock(zone, serverNow(), "yyyy-MM-dd'T'HH:mm")}
              onChange={setOther}
            />
          </div>
        )}
      </div>
      {from !== 'now' && (
        <div>
          <span>Changes the past</span>
          {validFrom === null ? (
            'choose an instant'
          ) : (
            <PastChange input={fit ? inputFrom(validFrom) : null} />
          )}
        </div>
      )}
      {power && (
        <FormControlLabel
          control={
            <Checkbox size="small" checked={withPower} onChange={(e) => setWithPower(e.target.checked)} />
          }
          label="Its power as well"
        />
      )}
      <div>
        <span>Due again after</span>
        <select
          value={dueMonths}
          onChange={(e) => setDueMonths(Number(e.target.value))}
          aria-label="Due again after"
        >
          {DUE.map((m) => (
            <option key={m} value={m}>
              {m} months
            </option>
          ))}
        </select>
      </div>
      <span className={styles.space} />
      {isStale && (
        <div role="alert">
          <span>Someone else has calibrated this point in the meantime</span>
          <b className={styles.law}>{newest ? correctionInWords(newest, unit) : 'taken back'}</b>{' '}
          <Button onClick={onSeen}>Continue with mine</Button>
        </div>
      )}
      <div className={styles.actions}>
        <Button variant="outlined" disabled={taken.length === 0} onClick={onDone}>
          Discard
        </Button>
        <Button
          variant="contained"
          disabled={!fit || busy || validFrom === null || isStale}
          onClick={() => void apply()}
        >
          Apply correction
        </Button>
      </div>
      {doubt && (
        <Dialog open onClose={() => setDoubt(null)} maxWidth="xs" fullWidth>
          <DialogTitle>Is this intended?</DialogTitle>
          <DialogContent>
            <p>{doubt.says}</p>
          </DialogContent>
          <DialogActions>
            <Button variant="contained" onClick={() => setDoubt(null)}>
              Cancel
            </Button>
            <Button
              onClick={() => {
                setDoubt(null);
                void apply(doubt.since, { anyway: doubt.anyway, meant: true });
              }}
            >
              Apply it anyway
            </Button>
          </DialogActions>
        </Dialog>
      )}
      {across && (
        <Dialog open onClose={() => setAcross(null)} maxWidth="xs" fullWidth>
          <DialogTitle>Apply across a change?</DialogTitle>
          <DialogContent>
            <p>{across.says}</p>
            <p>What was found on one side of it says nothing about the other.</p>
          </DialogContent>
          <DialogActions>
            <Button onClick={() => setAcross(null)}>Cancel</Button>
            <Button
              onClick={() => {
                setAcross(null);
                void apply(validFrom, { anyway: true });
              }}
            >
              All the same
            </Button>
            {across.at !== null && (
              <Button
                variant="contained"
                onClick={() => {
                  setAcross(null);
                  void apply(across.at);
                }}
              >
                From {siteClock(zone, across.at, 'd LLL HH:mm')} on
              </Button>
            )}
          </DialogActions>
        </Dialog>
      )}
    </div>
  );
}

function lawOf(
  fit: Fit | null,
  correction: CorrectionInForce | null,
  unit: string,
  beside: Pick<Partial<Calibration>, 'noLoad' | 'displacement'>,
): string {
  if (fit) return fitInWords(fit, unit, beside);
  return correction ? correctionInWords(correction, unit) : 'reading = raw';
}

function startOf(from: Exclude<From, 'installation'>, other: string, zone: string): number | null {
  if (from === 'now') return serverNow();
  if (from === 'today') return siteDay(zone, serverNow()).start;
  if (from === 'beginning') return 0;
  try {
    return other === '' ? null : fromSiteClock(zone, other);
  } catch {
    return null; // an instant that is still being typed
  }
}
