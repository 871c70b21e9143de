import { siteClock } from '@loka/core/time';
import Button from '@mui/material/Button';
import { Link } from 'react-router';
import { mutate } from 'swr';
import type { KeptReport } from '@loka/contract/report';
import { api } from '../api/client.js';
import { useKeptReports } from '../api/useApi.js';
import { useNotices } from '../shared/notices.js';
import { PlainTable } from '../shared/PlainTable.js';
import { usePeriod } from '../shared/period.js';
import styles from './Report.module.css';

/** Reports that are kept: one of each month by itself, and those that somebody kept. */
export function KeptReports() {
  const { data: kept } = useKeptReports();
  const { zone } = usePeriod();
  const { say, attempt } = useNotices();
  const changed = () => mutate('/reports');
  const remove = ({ id, place }: KeptReport) =>
    void attempt(async () => {
      await api(`/reports/${id}`, 'DELETE');
      await changed();
      say(`The report of “${place}” was removed.`, async () => {
        await api(`/reports/${id}/restore`, 'POST');
        await changed();
      });
    });
  if (!kept) return null;
  const day = (t: number) => siteClock(zone, t, 'd LLL yyyy');
  return (
    <section aria-label="Kept reports" className={styles.kept}>
      <h2>Kept reports</h2>
      {kept.length === 0 ? (
        <p className="muted">None yet. One of each month is made by itself when the month is over.</p>
      ) : (
        <PlainTable head={['Of', 'From', 'To', 'Made', 'By', '']}>
          {kept.map((report) => (
            <tr key={report.id}>
              <td>
                <Link to={`/report/${report.id}`}>{report.place}</Link>
              </td>
              <td className="measured">{day(report.from)}</td>
              <td className="measured">{day(report.to - 1)}</td>
              <td className="measured">{siteClock(zone, report.madeAt, 'd LLL yyyy HH:mm')}</td>
              <td>{report.who ?? 'itself'}</td>
              <td>
                <Button
                  size="small"
                  aria-label={`Remove the report of ${report.place}, ${day(report.from)}`}
                  onClick={() => remove(report)}
                >
                  Remove
                </Button>
              </td>
            </tr>
          ))}
        </PlainTable>
      )}
    </section>
  );
}
