import type { Dashboard } from '@loka/contract/dashboards';
import { EMPTY_CONTENT, type DashboardElement, type ReadyDashboard } from '@loka/core/dashboards';
import { siteClock } from '@loka/core/time';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { useKept } from '../frame/WorkAreas.js';
import { Confirm } from '../shared/Confirm.js';
import { useNotices } from '../shared/notices.js';
import { usePeriod } from '../shared/period.js';
import styles from './DashboardsPage.module.css';
import { ImportDialog } from './ImportDialog.js';
import { Sketch } from './Sketch.js';

/** All dashboards: those that people made, and those that are ready. */
export function DashboardList({ made, ready }: { made: Dashboard[]; ready: ReadyDashboard[] }) {
  const { zone } = usePeriod();
  const navigate = useNavigate();
  const { attempt, say } = useNotices();
  const [removing, setRemoving] = useState<Dashboard | null>(null);
  const [importing, setImporting] = useState(false);
  const create = () =>
    void attempt(async () => {
      const { id } = await api<Dashboard>('/dashboards', 'POST', {
        name: 'New dashboard',
        content: EMPTY_CONTENT,
      });
      await mutate('/dashboards');
      await navigate(`/dashboards/${id}?edit`);
    });
  const remove = (one: Dashboard) =>
    void attempt(async () => {
      await api(`/dashboards/${one.id}`, 'DELETE');
      await mutate('/dashboards');
      say(`${one.name} was removed.`, () =>
        api('/dashboards', 'POST', { name: one.name, content: one.content }).then(() =>
          mutate('/dashboards'),
        ),
      );
    });
  const loads = ready.filter((d) => d.key.startsWith('load-'));
  return (
    <div className={styles.page}>
      <div className={styles.head}>
        <h1>Dashboards</h1>
        <span className={styles.space} />
        <Button variant="outlined" onClick={() => setImporting(true)}>
          Import
        </Button>
        <Button variant="contained" onClick={create}>
          New dashboard
        </Button>
      </div>
      <ul className={styles.list} aria-label="Made here">
        {made.map((one) => (
          <li key={one.id}>
            <Entry to={`/dashboards/${one.id}`} name={one.name} elements={one.content.elements} />
            <p className="muted">
              {one.content.elements.length} elements, changed {siteClock(zone, one.changedAt, 'd LLL HH:mm')}
            </p>
            <button type="button" className={styles.remove} onClick={() => setRemoving(one)}>
              Remove<span className="spoken"> {one.name}</span>
            </button>
          </li>
        ))}
      </ul>
      {made.length === 0 && (
        <p className="muted">None has been made yet. Start with one of those below, or with an empty one.</p>
      )}
      <h2 className={styles.title}>Ready, from what is there</h2>
      <ul className={styles.list} aria-label="Ready">
        {ready
          .filter((d) => !loads.includes(d))
          .map((d) => (
            <li key={d.key}>
              <Entry to={`/dashboards/${d.key}`} name={d.name} elements={d.content.elements} />
            </li>
          ))}
      </ul>
      <p className={styles.loads}>
        For one load that is being commissioned:{' '}
        {loads.map((d, i) => (
          <span key={d.key}>
            {i > 0 && ' · '}
            <KeptLink to={`/dashboards/${d.key}`}>{d.name.replace(/, being commissioned$/, '')}</KeptLink>
          </span>
        ))}
      </p>
      {importing && <ImportDialog onClose={() => setImporting(false)} />}
      {removing && (
        <Confirm
          title={`Remove “${removing.name}”?`}
          verb="Remove it"
          danger
          onConfirm={() => remove(removing)}
          onClose={() => setRemoving(null)}
        >
          Its earlier versions go as well. For a few seconds it can be brought back, without them.
        </Confirm>
      )}
    </div>
  );
}

function KeptLink({
  to,
  children,
  className,
}: {
  to: string;
  children: React.ReactNode;
  className?: string;
}) {
  const kept = useKept();
  return (
    <Link to={to + kept} className={className}>
      {children}
    </Link>
  );
}

function Entry({ to, name, elements }: { to: string; name: string; elements: DashboardElement[] }) {
  return (
    <KeptLink to={to} className={styles.entry ?? ''}>
      <Sketch elements={elements} />
      <span>{name}</span>
    </KeptLink>
  );
}
