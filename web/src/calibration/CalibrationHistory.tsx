import type { Calibration } from '@loka/contract/calibration';
import type { Point } from '@loka/contract/points';
import { CLASS_LABELS, correctionInWords, fitInWords } from '@loka/core/calibration';
import { printError } from '@loka/core/formats';
import { siteClock } from '@loka/core/time';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { mutate } from 'swr';
import { serverNow } from '../api/clock.js';
import { api } from '../api/client.js';
import { useAlike } from '../api/useApi.js';
import { useNotices } from '../shared/notices.js';
import { usePeriod } from '../shared/period.js';
import { CopyDialog } from './CopyDialog.js';
import styles from './BenchPage.module.css';

/** The calibrations of a point, newest first; the newest can be taken back, and what holds copied to like devices. */
export function CalibrationHistory({
  point,
  points,
  calibrations,
  unit,
}: {
  point: Point;
  points: Point[];
  calibrations: Calibration[];
  unit: string;
}) {
  const { attempt, say } = useNotices();
  const { zone } = usePeriod();
  const { data: alike = [] } = useAlike(point.id);
  const [copying, setCopying] = useState<Calibration | null>(null);
  if (calibrations.length === 0) return <p className="muted">This point has never been calibrated.</p>;
  const undo = (id: number) =>
    void attempt(async () => {
      await api(`/calibrations/${id}/undo`, 'POST');
      await mutate((key) => typeof key === 'string' && key.startsWith('/calibrations'));
      say('The calibration was undone; readings are being recalculated.');
    });
  return (
    <section style={{ marginTop: 14 }} aria-label="Calibrations">
      <h2>Calibrations</h2>
      <ul className={styles.history}>
        {calibrations.map((c) => (
          <li key={c.id} className={c.superseded ? 'muted' : ''}>
            <div>
              <strong className="measured">
                {c.fit ? fitInWords(c.fit, unit, c) : correctionInWords(c, unit)}
              </strong>
              <div className="muted">
                Made {siteClock(zone, c.madeAt, 'd LLL yyyy HH:mm')}
                {c.who && `, ${c.who}`}; holds from{' '}
                {c.validFrom === 0 ? 'the first reading' : siteClock(zone, c.validFrom, 'd LLL yyyy HH:mm')}.
              </div>
              <div>
                {c.copiedFrom ? (
                  <span className="warn">Copied from {c.copiedFrom.device}, not measured.</span>
                ) : (
                  <>
                    As found {worst(c.points.map((p) => p.asFound))}, as left{' '}
                    {worst(c.points.map((p) => p.asLeft))};{' '}
                    {c.best ? CLASS_LABELS[c.best.accuracy] : 'evidence for no class'}.
                    {c.dueAt !== null && !c.superseded && (
                      <span className={isPast(c) ? 'warn' : ''}>
                        {' '}
                        {isPast(c) ? 'Was due again' : 'Due again'} {siteClock(zone, c.dueAt, 'd LLL yyyy')}.
                      </span>
                    )}
                  </>
                )}
              </div>
            </div>
            <div className={styles.actions}>
              {!c.superseded && !c.copiedFrom && alike.length > 0 && (
                <Button onClick={() => setCopying(c)}>Copy</Button>
              )}
              {c.undoable ? (
                <Button onClick={() => undo(c.id)}>Take back</Button>
              ) : (
                c.superseded && 'no longer holds'
              )}
            </div>
          </li>
        ))}
      </ul>
      {copying && (
        <CopyDialog
          calibration={copying}
          point={point}
          alike={points.filter((p) => alike.includes(p.id))}
          onClose={() => setCopying(null)}
        />
      )}
    </section>
  );
}

const isPast = ({ dueAt, superseded, copiedFrom }: Calibration): boolean =>
  !superseded && !copiedFrom && dueAt !== null && dueAt < serverNow();

function worst(errors: (number | null)[]): string {
  const known = errors.filter((e) => e !== null);
  return known.length === 0 ? '–' : printError(known.reduce((a, b) => (Math.abs(b) > Math.abs(a) ? b : a)));
}
