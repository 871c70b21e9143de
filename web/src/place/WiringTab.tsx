import type { InstallationNode } from '@loka/contract/installation';
import type { Point } from '@loka/contract/points';
import { lazy, Suspense } from 'react';
import { LoadingState } from '../shared/states.js';
import { FittingsPanel } from './FittingsPanel.js';
import styles from './PlacePage.module.css';
import { SensingPanel } from './SensingPanel.js';

const VerifyBench = lazy(() => import('../verify/VerifyBench.js'));

/** How a place is wired: the proof of it, what sits before its meter, and what was fitted when. */
export default function WiringTab({
  node,
  nodes,
  points,
}: {
  node: InstallationNode;
  nodes: InstallationNode[];
  points: Point[];
}) {
  return (
    <div className={styles.stack}>
      <div className={styles.halves}>
        <SensingPanel node={node} points={points} />
        <FittingsPanel node={node} />
      </div>
      <Suspense fallback={<LoadingState />}>
        <VerifyBench node={node} nodes={nodes} />
      </Suspense>
    </div>
  );
}
