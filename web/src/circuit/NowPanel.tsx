import { isReadable } from '@loka/core/points';
import type { Point } from '@loka/contract/points';
import type { InstallationNode } from '@loka/contract/installation';
import type { Quantity } from '@loka/core/quantities';
import { siteClock } from '@loka/core/time';
import { Link } from 'react-router';
import { useLargest, useSum } from '../api/live.js';
import { LoadMark } from '../frame/Spine.js';
import { Measured } from '../shared/Measured.js';
import { isReversed, nearestPoint } from '../shared/nodes.js';
import { labelsOf } from '../shared/pointLabels.js';
import { usePeriod } from '../shared/period.js';
import { Reading } from '../shared/Reading.js';
import styles from './NowPanel.module.css';

const SHOWN: Quantity[] = ['voltage', 'current', 'power-factor', 'frequency', 'temperature'];

/** What flows now: power in large, then the other quantities. Voltage and frequency may come from further up the tree. */
export function NowPanel({
  node,
  nodes,
  points,
}: {
  node: InstallationNode;
  nodes: InstallationNode[];
  points: Point[];
}) {
  const { zone } = usePeriod();
  const power = useSum(node.powerPointIds);
  const amperes = useLargest(node.currentPointIds);
  const rows = SHOWN.flatMap((quantity) => {
    const own = points.filter(
      (p) => p.nodeId === node.id && p.definition.quantity === quantity && isReadable(p.definition),
    );
    if (own.length > 0) return own.map((point) => ({ point, from: null as string | null }));
    const near =
      quantity === 'voltage' || quantity === 'frequency'
        ? nearestPoint(nodes, points, node, quantity)
        : undefined;
    return near ? [{ point: near, from: near.deviceName }] : [];
  });
  const labels = labelsOf(rows.map((row) => row.point));
  return (
    <section className={styles.now}>
      <h2>Power now</h2>
      <div className={styles.power}>
        {power === null ? <span className="danger">no data</span> : <Measured value={power} unit="W" />}
      </div>
      <LoadMark node={node} />
      {node.ratedCurrent && amperes !== null && (
        <p className="muted">
          <Measured value={amperes} unit="A" /> of {node.ratedCurrent} A
        </p>
      )}
      {node.wiringFault && node.wiringFaultSince !== null && (
        <p className={styles.reversed} role="status">
          Uncertain since {siteClock(zone, node.wiringFaultSince, 'd LLL HH:mm')}: {node.wiringFault}{' '}
          <Link to={`/bench?at=${node.id}&do=verify`}>Verify</Link>
        </p>
      )}
      {isReversed(nodes, node.id, power) && (
        <p className={styles.reversed} role="status">
          The power is negative: the clamp may be the wrong way round. Turn it so that its arrow points to the
          load. Where something feeds in, say so with Change.
        </p>
      )}
      <dl>
        {rows.map(({ point, from }, i) => (
          <div key={point.id}>
            <dt>
              {labels[i]}
              {from && <span className={styles.from}> from {from}</span>}
            </dt>
            <dd>
              <Reading point={point} />
            </dd>
          </div>
        ))}
      </dl>
    </section>
  );
}
