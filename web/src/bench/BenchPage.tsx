import { lazy, Suspense } from 'react';
import { NavLink, useSearchParams } from 'react-router';
import { useInstallation, usePoints, useSwitches } from '../api/useApi.js';
import { SwitchPanel } from '../control/SwitchPanel.js';
import { PlacePath } from '../shared/PlacePath.js';
import { LoadingState } from '../shared/states.js';
import { nodeTitle, useSelection } from '../shared/nodes.js';
import { BenchOverview } from './BenchOverview.js';
import styles from './BenchPage.module.css';

const VerifyBench = lazy(() => import('../verify/VerifyBench.js'));
const CircuitRecordPage = lazy(() => import('../record/CircuitRecordPage.js'));
const SiteRecordPage = lazy(() => import('../record/SiteRecordPage.js'));
const TrimPage = lazy(() => import('../trim/TrimPage.js'));
const ComparePage = lazy(() => import('../compare/ComparePage.js'));
const CalibratePage = lazy(() => import('../calibration/CalibratePage.js'));

const PARTS = [
  { part: 'verify', name: 'Verify' },
  { part: 'calibrate', name: 'Calibrate' },
  { part: 'trim', name: 'Trim' },
  { part: 'compare', name: 'Compare' },
  { part: 'record', name: 'Record' },
] as const;

/** Bench: one circuit's wiring is proved, then its readings are calibrated. */
export default function BenchPage() {
  const { data: nodes } = useInstallation();
  const { data: points } = usePoints();
  const { data: switches = [] } = useSwitches();
  const [at] = useSelection();
  const [search] = useSearchParams();
  if (!nodes || !points) return <LoadingState />;
  const node = nodes.find((n) => n.id === at);
  if (!node)
    return search.get('do') === 'record' ? (
      <Suspense fallback={<LoadingState />}>
        <SiteRecordPage />
      </Suspense>
    ) : (
      <BenchOverview nodes={nodes} points={points} />
    );
  const part = search.get('do') ?? (search.has('point') ? 'calibrate' : 'verify');
  return (
    <div className={styles.page}>
      <header className={styles.title}>
        <div>
          <h1>{nodeTitle(node)}</h1>
          <PlacePath node={node} nodes={nodes} />
        </div>
        <nav aria-label="Bench">
          {PARTS.map(({ part: name, name: words }) => (
            <NavLink
              key={name}
              to={`/bench?at=${node.id}&do=${name}`}
              aria-current={part === name ? 'page' : undefined}
              className={part === name ? styles.here : ''}
            >
              {words}
            </NavLink>
          ))}
        </nav>
      </header>
      {part !== 'record' &&
        switches.filter((s) => s.nodeId === node.id).map((s) => <SwitchPanel key={s.id} entity={s} />)}
      <Suspense fallback={<LoadingState />}>
        {part === 'calibrate' ? (
          <CalibratePage key={node.id} node={node} points={points} />
        ) : part === 'trim' ? (
          <TrimPage key={node.id} node={node} points={points} />
        ) : part === 'compare' ? (
          <ComparePage key={node.id} node={node} points={points} />
        ) : part === 'record' ? (
          <CircuitRecordPage key={node.id} node={node} />
        ) : (
          <VerifyBench key={node.id} node={node} nodes={nodes} />
        )}
      </Suspense>
    </div>
  );
}
