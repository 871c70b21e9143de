import type { Dashboard } from '@loka/contract/dashboards';
import type { DashboardContent, ReadyDashboard } from '@loka/core/dashboards';
import Button from '@mui/material/Button';
import { lazy, Suspense, useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { useDashboards } from '../api/useApi.js';
import { useKept } from '../frame/WorkAreas.js';
import { useNotices } from '../shared/notices.js';
import { EmptyState, FailedState, LoadingState } from '../shared/states.js';
import { DashboardList } from './DashboardList.js';
import styles from './DashboardsPage.module.css';
import { DeskSheet } from './DeskSheet.js';
import { download } from './exchange.js';
import { FactsProvider, readyOf, useFacts, useLoadedFacts, type Facts } from './facts.js';
import { PhoneSheet } from './PhoneSheet.js';
import { useNarrow } from './useNarrow.js';
import { WallDialog } from './WallDialog.js';

const DashboardEditor = lazy(() => import('./DashboardEditor.js'));

/** Pages that people make of what they want to see: all of them, one of them, or one being made. */
export default function DashboardsPage() {
  const { key } = useParams();
  const facts = useLoadedFacts();
  const { data, error, mutate: again } = useDashboards();
  if (error && !data) return <FailedState error={error} retry={() => void again()} />;
  if (!data || !facts) return <LoadingState />;
  return (
    <FactsProvider value={facts}>
      {key === undefined ? (
        <DashboardList made={data} ready={readyOf(facts)} />
      ) : (
        <One of={key} made={data} facts={facts} />
      )}
    </FactsProvider>
  );
}

function One({ of, made, facts }: { of: string; made: Dashboard[]; facts: Facts }) {
  const [search] = useSearchParams();
  const own = made.find((d) => String(d.id) === of);
  const ready = readyOf(facts);
  if (own)
    return search.has('edit') ? (
      <Suspense fallback={<LoadingState />}>
        <DashboardEditor key={own.id} dashboard={own} />
      </Suspense>
    ) : (
      <Shown name={own.name} content={own.content} own={own} at={of} made={made} ready={ready} />
    );
  const one = ready.find((d) => d.key === of);
  if (one)
    return <Shown name={one.name} content={one.content} own={null} at={of} made={made} ready={ready} />;
  return (
    <EmptyState
      title="This dashboard is not there"
      action={
        <Button variant="outlined" component={Link} to="/dashboards">
          To the dashboards
        </Button>
      }
    >
      It was removed, or the place that it was made from was.
    </EmptyState>
  );
}

/** One to be looked at; its phone arrangement on a phone. */
function Shown({
  name,
  content,
  own,
  at,
  made,
  ready,
}: {
  name: string;
  content: DashboardContent;
  own: Dashboard | null;
  at: string;
  made: Dashboard[];
  ready: ReadyDashboard[];
}) {
  const [wall, setWall] = useState(false);
  const facts = useFacts();
  const narrow = useNarrow();
  const navigate = useNavigate();
  const kept = useKept();
  const { attempt } = useNotices();
  const copy = () =>
    void attempt(async () => {
      const made = await api<Dashboard>('/dashboards', 'POST', {
        name: own ? `${name}, copy`.slice(0, 80) : name,
        content,
      });
      await mutate('/dashboards');
      await navigate(`/dashboards/${made.id}?edit`);
    });
  return (
    <div className={styles.page}>
      <div className={styles.head}>
        <Link to={`/dashboards${kept}`} className={styles.back}>
          Dashboards
        </Link>
        <h1>{name}</h1>
        {!own && <span className="muted">ready made; change a copy of it</span>}
        <span className={styles.space} />
        {!narrow && (
          <Button variant="outlined" onClick={() => setWall(true)}>
            On a wall
          </Button>
        )}
        <Button variant="outlined" onClick={() => download(name, content, facts)}>
          Export
        </Button>
        <Button variant="outlined" onClick={copy}>
          {own ? 'Copy' : 'Make a copy to change'}
        </Button>
        {own && (
          <Button variant="contained" component={Link} to={`/dashboards/${own.id}?edit`}>
            Change
          </Button>
        )}
      </div>
      {content.elements.length === 0 ? (
        <EmptyState title="Nothing is on it yet">Press Change and add what you want to see.</EmptyState>
      ) : narrow ? (
        <PhoneSheet content={content} />
      ) : (
        <DeskSheet
          elements={content.elements}
          onChoose={own ? (id) => void navigate(`/dashboards/${own.id}?edit&element=${id}`) : undefined}
        />
      )}
      {wall && <WallDialog first={at} made={made} ready={ready} onClose={() => setWall(false)} />}
    </div>
  );
}
