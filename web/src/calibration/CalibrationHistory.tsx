import type { Calibration } from '@loka/contract/calibration';
import { CLASS_LABELS } from '@loka/core/calibration';
import { printError } from '@loka/core/formats';
import { siteClock } from '@loka/core/time';
import Button from '@mui/material/Button';
import { mutate } from 'swr';
import { PlainTable } from '../shared/PlainTable.js';
import { api } from '../api/client.js';
import { useNotices } from '../shared/notices.js';
import { usePeriod } from '../shared/period.js';
import { correctionInWords, fitInWords } from './correctionInWords.js';

/** The calibrations of a point, newest first; the newest can be taken back. */
export function CalibrationHistory({ calibrations, unit }: { calibrations: Calibration[]; unit: string }) {
  const { attempt, say } = useNotices();
  const { zone } = usePeriod();
  if (calibrations.length === 0) return <p className="muted">This point has never been calibrated.</p>;
  const undo = (id: number) =>
    void attempt(async () => {
      await api(`/calibrations/${id}/undo`, 'POST');
      await mutate((key) => typeof key === 'string' && key.startsWith('/calibrations'));
      say('The calibration was taken back; the readings follow.');
    });
  return (
    <section style={{ marginTop: 14 }}>
      <h2>Calibrations</h2>
      <PlainTable head={['Made', 'Holds from', 'Correction', 'As found#', 'As left#', 'Evidence', '']}>
        {calibrations.map((c) => (
          <tr key={c.id} className={c.superseded ? 'muted' : ''}>
            <td className="measured">{siteClock(zone, c.madeAt, 'd LLL HH:mm')}</td>
            <td className="measured">{siteClock(zone, c.validFrom, 'd LLL HH:mm')}</td>
            <td className="measured">{c.fit ? fitInWords(c.fit, unit) : correctionInWords(c, unit)}</td>
            <td className="number measured">{worst(c.points.map((p) => p.asFound))}</td>
            <td className="number measured">{worst(c.points.map((p) => p.asLeft))}</td>
            <td>{c.best ? CLASS_LABELS[c.best.accuracy] : <span className="muted">of no class</span>}</td>
            <td className="number">
              {c.undoable ? (
                <Button onClick={() => undo(c.id)}>Take back</Button>
              ) : c.superseded ? (
                'no longer holds'
              ) : (
                ''
              )}
            </td>
          </tr>
        ))}
      </PlainTable>
    </section>
  );
}

function worst(errors: (number | null)[]): string {
  const known = errors.filter((e) => e !== null);
  return known.length === 0 ? '–' : printError(known.reduce((a, b) => (Math.abs(b) > Math.abs(a) ? b : a)));
}
