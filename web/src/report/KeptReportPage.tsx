import Button from '@mui/material/Button';
import { Link, useParams } from 'react-router';
import { isRefused } from '../api/client.js';
import { useKeptReport, useKeptReports } from '../api/useApi.js';
import { siteClock } from '@loka/core/time';
import { EmptyState, FailedState, LoadingState } from '../shared/states.js';
import styles from './Report.module.css';
import { ReportSheet } from './ReportSheet.js';

/** A report as it was made and kept. */
export default function KeptReportPage() {
  const id = Number(useParams()['id']);
  const { data: report, error, mutate } = useKeptReport(Number.isInteger(id) ? id : 0);
  const { data: kept } = useKeptReports();
  const who = kept?.find((k) => k.id === id)?.who;
  if (error && (isRefused(error) || !report))
    return isRefused(error) && error.problem.status === 404 ? (
      <EmptyState title="This report is not there">
        Someone has removed it. <Link to="/report">Reports</Link>
      </EmptyState>
    ) : (
      <FailedState error={error} retry={() => void mutate()} />
    );
  if (!report) return <LoadingState />;
  const { timeZone } = report.site;
  return (
    <div className={styles.page}>
      <header className={styles.actions}>
        <h1>Energy report</h1>
        <span className={`muted ${styles.note}`}>
          kept as it was made {siteClock(timeZone, report.madeAt, 'd LLL yyyy HH:mm')}
          {who === null ? ', by itself at the end of the month' : who ? ` by ${who}` : ''}; what was read or
          corrected later is not in it
        </span>
        <span className={styles.space} />
        <Link to={`/report?at=${report.nodeId}&period=${encodeURIComponent(report.period)}`}>
          as it is now
        </Link>
        <Button href={`/api/reports/${id}/report.csv`}>CSV</Button>
        <Button variant="contained" onClick={() => window.print()}>
          Print or save as PDF
        </Button>
      </header>
      <ReportSheet report={report} />
    </div>
  );
}
