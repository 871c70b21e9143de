import type { InstallationNode } from '@loka/contract/installation';
import type { FormerPoint, Point } from '@loka/contract/points';
import { isReadable } from '@loka/core/points';
import { siteDay } from '@loka/core/time';
import { lazy, Suspense } from 'react';
import { Link } from 'react-router';
import { useNow } from '../api/clock.js';
import { useEnergyOf, useSwitches } from '../api/useApi.js';
import { SwitchPanel } from '../control/SwitchPanel.js';
import { FastLookPanel } from '../fastLook/FastLookPanel.js';
import { JobMarks } from '../installation/JobMarks.js';
import { Measured } from '../shared/Measured.js';
import { childrenOf } from '../shared/nodes.js';
import { usePeriod } from '../shared/period.js';
import { LoadingState } from '../shared/states.js';
import { EstimatedPanel } from './EstimatedPanel.js';
import { LoadsRemainder } from './LoadsRemainder.js';
import { NowPanel } from './NowPanel.js';
import { PartsPanel } from './PartsPanel.js';
import { PhasesPanel } from './PhasesPanel.js';
import styles from './PlacePage.module.css';

const TrendPanel = lazy(() => import('./TrendPanel.js'));

/** What flows now against what should, and the trend with what happened. */
export function NowTab({
  node,
  nodes,
  points,
  former,
  bare = false,
}: {
  node: InstallationNode;
  nodes: InstallationNode[];
  points: Point[];
  former: FormerPoint[];
  /** Nothing is read here now: only what was read before, and its switch. */
  bare?: boolean;
}) {
  const { data: switches } = useSwitches();
  const switching = switches?.find((s) => s.nodeId === node.id);
  const loads = childrenOf(nodes, node.id).filter((n) => n.kind === 'load');
  const own = points.filter((p) => p.nodeId === node.id && isReadable(p.definition));
  if (bare)
    return (
      <>
        {switching && <SwitchPanel entity={switching} />}
        {former.length > 0 && (
          <Suspense fallback={<LoadingState />}>
            <TrendPanel node={node} nodes={nodes} points={points} former={former} />
          </Suspense>
        )}
      </>
    );
  return (
    <div className={styles.columns}>
      <div className={styles.side}>
        <NowPanel node={node} nodes={nodes} points={points} />
        <EstimatedPanel node={node} nodes={nodes} />
        <PhasesPanel
          node={node}
          points={points}
          lineByLine={node.kind === 'supply' || node.kind === 'board'}
        />
        <PartsPanel node={node} nodes={nodes} />
        <EnergyBrief node={node} />
        {switching && <SwitchPanel entity={switching} />}
        {(node.kind === 'circuit' || node.kind === 'load') && (
          <section aria-label="Job">
            <h2>Job</h2>
            <JobMarks node={node} words />
          </section>
        )}
        {loads.length > 0 && (
          <section aria-label="Loads">
            <h2>Loads</h2>
            <p>{loads.map((l) => l.name).join(', ')}</p>
            <LoadsRemainder nodes={nodes} node={node} />
          </section>
        )}
      </div>
      <div className={styles.main}>
        <div className={styles.trend}>
          <Suspense fallback={<LoadingState />}>
            <TrendPanel node={node} nodes={nodes} points={points} former={former} />
          </Suspense>
        </div>
        {own.length > 0 && <FastLookPanel node={node} />}
      </div>
    </div>
  );
}

/** Energy of today in a line; the rest is a part of its own. */
function EnergyBrief({ node }: { node: InstallationNode }) {
  const { zone, name } = usePeriod();
  const now = useNow(60_000);
  const { start, end } = siteDay(zone, now);
  const { data } = useEnergyOf(node.id, start, end);
  const today = data?.[0];
  // Its line is there from the start: what stands below it, such as a switch, must not move under the hand.
  if (data && today?.net == null) return null;
  return (
    <p role="group" aria-label="Energy today">
      Today <Measured value={today?.net} unit="Wh" />{' '}
      <Link to={`/board?at=${node.id}&tab=energy&period=${name}`}>Energy</Link>
    </p>
  );
}
