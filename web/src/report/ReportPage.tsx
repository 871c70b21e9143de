import type { InstallationNode } from '@loka/contract/installation';
import type { KeptReport } from '@loka/contract/report';
import Button from '@mui/material/Button';
import { Link } from 'react-router';
import { mutate } from 'swr';
import { api, isRefused } from '../api/client.js';
import { useInstallation, useKeptReports, useReport } from '../api/useApi.js';
import { InOrder, useWaits } from '../shared/InOrder.js';
import { useSelection } from '../shared/nodes.js';
import { useNotices } from '../shared/notices.js';
import { usePeriod } from '../shared/period.js';
import { EmptyState, FailedState, LoadingState } from '../shared/states.js';
import { KeptReports } from './KeptReports.js';
import styles from './Report.module.css';
import { ReportSheet } from './ReportSheet.js';

/** The energy report of a place over the period of the head: on screen as it is printed. */
export default function ReportPage() {
  const { data: nodes, error, mutate: again } = useInstallation();
  const [at] = useSelection();
  if (error && !nodes) return <FailedState error={error} retry={() => void again()} />;
  if (!nodes) return <LoadingState />;
  const node =
    nodes.find((n) => n.id === at) ?? (at === null ? nodes.find((n) => n.kind === 'supply') : undefined);
  return (
    <div className={styles.page}>
      <InOrder>
        {node ? (
          <ReportOf key={node.id} node={node} />
        ) : (
          <EmptyState title="This place is no longer there">
            Choose another one in the drawing on the left.
          </EmptyState>
        )}
        <KeptReports />
      </InOrder>
    </div>
  );
}

function ReportOf({ node }: { node: InstallationNode }) {
  const { name, words } = usePeriod();
  const { data, error, isLoading, mutate: again } = useReport(node.id, name);
  const { data: kept } = useKeptReports();
  const { say, attempt } = useNotices();
  const report = data?.nodeId === node.id && data.period === name && !isLoading ? data : undefined;
  useWaits(!report && !error);
  const keep = () =>
    void attempt(async () => {
      const made = await api<KeptReport>('/reports', 'POST', { nodeId: node.id, period: name });
      await mutate('/reports');
      say(`The report is kept.`, async () => {
        await api(`/reports/${made.id}`, 'DELETE');
        await mutate('/reports');
      });
    });
  const same =
    report && kept?.find((k) => k.nodeId === node.id && k.from === report.from && k.to === report.to);
  return (
    <>
      <header className={styles.actions}>
        <h1>Energy report</h1>
        <span className="muted">
          {node.name}, {words}
        </span>
        <span className={styles.space} />
        {same && <Link to={`/report/${same.id}`}>kept as it was made</Link>}
        <Button disabled={!report} onClick={keep}>
          Keep it
        </Button>
        <Button
          href={`/api/reports/now.csv?node=${node.id}&period=${encodeURIComponent(name)}`}
          disabled={!report}
        >
          CSV
        </Button>
        <Button variant="contained" disabled={!report} onClick={() => window.print()}>
          Print or save as PDF
        </Button>
      </header>
      {error && !isLoading && (!report || isRefused(error)) ? (
        isRefused(error) && error.problem.status === 409 ? (
          <EmptyState title="Nothing measures its power">
            A report is made of what was recorded of a place, or of what lies behind it. Choose one that has
            it in the drawing on the left.
          </EmptyState>
        ) : (
          <FailedState error={error} retry={() => void again()} />
        )
      ) : report ? (
        <ReportSheet report={report} />
      ) : (
        <p className="muted" role="status">
          The report is being made; of a month that takes some seconds.
        </p>
      )}
    </>
  );
}
