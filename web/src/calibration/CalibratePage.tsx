import type { InstallationNode } from '@loka/contract/installation';
import type { Point } from '@loka/contract/points';
import type { Quantity } from '@loka/core/quantities';
import { useSearchParams } from 'react-router';
import { ConductorMarks } from '../shared/ConductorMarks.js';
import { EmptyState } from '../shared/states.js';
import { CalibrationBench } from './CalibrationBench.js';
import { isCorrectable, isCounted } from './isCorrectable.js';
import styles from './BenchPage.module.css';

/** What is usually corrected first: the current of a clamp. */
const ORDER: Quantity[] = ['current', 'active-power', 'voltage', 'temperature', 'frequency', 'power-factor'];

/** What is not named comes last. */
const rankOf = ({ definition }: Point): number => {
  const at = ORDER.indexOf(definition.quantity);
  return at < 0 ? ORDER.length : at;
};

/** The corrections of the points of a circuit. */
export default function CalibratePage({ node, points }: { node: InstallationNode; points: Point[] }) {
  const [search, setSearch] = useSearchParams();
  const candidates = points
    .filter((p) => p.nodeId === node.id && (isCorrectable(p) || isCounted(p)))
    .sort((a, b) => rankOf(a) - rankOf(b));
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
    <>
      <div className={styles.title}>
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
                {p.calibrated ? ', corrected' : p.copied ? ', copied' : ''}
              </option>
            ))}
          </select>
        </label>
      </div>
      <CalibrationBench key={point.id} point={point} node={node} points={points} />
    </>
  );
}
