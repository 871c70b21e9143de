import type { InstallationNode } from '@loka/contract/installation';
import { remainderOf } from '@loka/core/energy';
import { useMemo } from 'react';
import { useSumOfEach } from '../api/live.js';
import { light, useLit } from '../shared/lit.js';
import { Measured } from '../shared/Measured.js';
import { meteredParts, nodeTitle, useSelection } from '../shared/nodes.js';
import styles from './PartsPanel.module.css';

/** What hangs on a board, each with its share of what flows now, and what nobody meters of it. */
export function PartsPanel({ node, nodes }: { node: InstallationNode; nodes: InstallationNode[] }) {
  const parts = useMemo(() => meteredParts(nodes, node.id), [nodes, node.id]);
  const groups = useMemo(
    () => [node.powerPointIds, ...parts.map((p) => p.powerPointIds)],
    [node.powerPointIds, parts],
  );
  const [own = null, ...each] = useSumOfEach(groups);
  const [, select] = useSelection();
  const lit = useLit();
  if (parts.length === 0 || (node.kind !== 'supply' && node.kind !== 'board')) return null;
  const remainder = remainderOf(own, each);
  const most = Math.max(1, ...each.map((v) => Math.abs(v ?? 0)), Math.abs(remainder?.value ?? 0));
  return (
    <section aria-label={`On ${node.name}`}>
      <h2>On it</h2>
      <ul className={styles.parts}>
        {parts.map((part, i) => (
          <li
            key={part.id}
            data-lit={lit === part.id}
            onPointerEnter={() => light(part.id)}
            onPointerLeave={() => light(null)}
          >
            <button type="button" onClick={() => select(part.id)}>
              {nodeTitle(part)}
            </button>
            <Bar share={Math.abs(each[i] ?? 0) / most} />
            {each[i] == null ? (
              <span className="danger">no data</span>
            ) : (
              <Measured value={each[i]} unit="W" />
            )}
          </li>
        ))}
        {remainder && (
          <li>
            <em>Not metered</em>
            <Bar share={Math.abs(remainder.value) / most} hatched />
            <Measured value={remainder.value} unit="W" className={remainder.value < -20 ? 'warn' : ''} />
          </li>
        )}
      </ul>
      {remainder && !remainder.complete && (
        <p className="warn">A part has no value, so the remainder is too large.</p>
      )}
    </section>
  );
}

const Bar = ({ share, hatched = false }: { share: number; hatched?: boolean }) => (
  <span className={styles.bar} aria-hidden>
    <span data-hatched={hatched} style={{ width: `${100 * Math.min(1, share)}%` }} />
  </span>
);
