import type { Quantity } from '@loka/core/quantities';
import { useSearchParams } from 'react-router';
import { useInstallation, usePoints } from '../api/useApi.js';
import { ConductorMarks } from '../shared/ConductorMarks.js';
import { EmptyState, LoadingState } from '../shared/states.js';
import { nodeTitle, useSelection } from '../shared/nodes.js';
import { CalibrationBench } from './CalibrationBench.js';
import { BenchOverview } from './BenchOverview.js';
import { isCorrectable } from './isCorrectable.js';
import styles from './BenchPage.module.css';

/** What is usually corrected first: the current of a clamp. */
const ORDER: Quantity[] = ['current', 'active-power', 'voltage', 'temperature', 'frequency', 'power-factor'];

/** Bench: the corrections of the points of the selected circuit. */
export default function BenchPage() {
  const { data: nodes } = useInstallation();
  const { data: points } = usePoints();
  const [at] = useSelection();
  const [search, setSearch] = useSearchParams();
  if (!nodes || !points) return <LoadingState />;
  const node = nodes.find((n) => n.id === at);
  const candidates = points
    .filter((p) => p.nodeId === node?.id && isCorrectable(p))
    .sort((a, b) => ORDER.indexOf(a.definition.quantity) - ORDER.indexOf(b.definition.quantity));
  if (!node) return <BenchOverview nodes={nodes} points={points} />;
  const point = candidates.find((p) => p.id === Number(search.get('point'))) ?? candidates[0];
  if (!point)
    return (
      <EmptyState title={`Nothing to calibrate on ${node.name}`}>
        Only a circuit with a measured point can be calibrated. Choose one in the installation, or assign a
        point to this one in Field.
      </EmptyState>
    );
  const choose = (id: number) =>
    setSearch((s) => {
      s.set('point', String(id));
      return s;
    });
  return (
    <div className={styles.page}>
      <div className={styles.title}>
        <h1>Calibrate · {nodeTitle(node)}</h1>
        <span className="muted">
          {point.deviceName}{' '}
          {point.phase && <ConductorMarks phases={point.phase === 'total' ? node.phases : point.phase} />}
        </span>
        <span className={styles.space} />
        <label className="muted">
          Point{' '}
          <select value={point.id} onChange={(e) => choose(Number(e.target.value))}>
            {candidates.map((p) => (
              <option key={p.id} value={p.id}>
                {p.definition.name}
                {p.calibrated ? ', corrected' : ''}
              </option>
            ))}
          </select>
        </label>
      </div>
      <CalibrationBench key={point.id} point={point} node={node} points={points} />
    </div>
  );
}
