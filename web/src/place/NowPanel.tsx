import type { InstallationNode } from '@loka/contract/installation';
import type { Point } from '@loka/contract/points';
import { printInUnit } from '@loka/core/formats';
import { isReadable } from '@loka/core/points';
import type { Quantity } from '@loka/core/quantities';
import { siteClock } from '@loka/core/time';
import { Link } from 'react-router';
import { useBetween, useLargest, useReading, useSumOfEach } from '../api/live.js';
import { useSite } from '../api/useApi.js';
import { LoadMark } from '../frame/Spine.js';
import { Measured } from '../shared/Measured.js';
import { isReversed, meteredParts, nearestPoint } from '../shared/nodes.js';
import { labelsOf } from '../shared/pointLabels.js';
import { usePeriod } from '../shared/period.js';
import { Reading, ReadingsOrigin } from '../shared/Reading.js';
import { usualScale, type Scale } from '../shared/usualScale.js';
import { Level } from './Level.js';
import styles from './NowPanel.module.css';

const SHOWN: Quantity[] = [
  'voltage',
  'current',
  'power-factor',
  'frequency',
  'temperature',
  'state-of-charge',
];

/** What flows now: power in large, then the other quantities on their scales. Voltage and frequency may come from further up the tree. */
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
  const site = useSite().data?.site ?? null;
  const own = node.powerPointIds;
  // A board without a meter is the sum of what is metered on it.
  const parts = own.length > 0 ? [] : meteredParts(nodes, node.id);
  const groups = own.length > 0 ? [own] : parts.map((p) => p.powerPointIds);
  const sums = useSumOfEach(groups);
  const known = sums.filter((v) => v !== null);
  const power = known.length === 0 ? null : known.reduce((a, b) => a + b, 0);
  const between = useBetween(groups.flat());
  const amperes = useLargest(node.currentPointIds);
  const isBar = node.kind === 'supply' || node.kind === 'board';
  const rows = SHOWN.flatMap((quantity) => {
    const here = points.filter(
      (p) =>
        p.nodeId === node.id &&
        p.definition.quantity === quantity &&
        isReadable(p.definition) &&
        // The lines of a bar stand in its table of phases.
        !(isBar && (p.phase === 'L1' || p.phase === 'L2' || p.phase === 'L3')),
    );
    if (here.length > 0) return here.map((point) => ({ point, from: null as string | null }));
    const near =
      !isBar && (quantity === 'voltage' || quantity === 'frequency')
        ? nearestPoint(nodes, points, node, quantity)
        : undefined;
    return near ? [{ point: near, from: near.deviceName }] : [];
  });
  const labels = labelsOf(rows.map((row) => row.point));
  const sources = groups.flat().flatMap((id) => points.find((p) => p.id === id) ?? []);
  return (
    <section className={styles.now} aria-label="Power now">
      <h2>Power now</h2>
      <div className={styles.power}>
        {groups.length === 0 ? (
          <span className={styles.none}>not measured</span>
        ) : power === null ? (
          <span className="danger">no data</span>
        ) : (
          <ReadingsOrigin points={sources} label={`Where the power of ${node.name} comes from`}>
            <Measured value={power} unit="W" />
          </ReadingsOrigin>
        )}
      </div>
      {between && power !== null && (
        <p className="warn">
          {printInUnit(between[0], 'W')} to {printInUnit(between[1], 'W')}: a voltage is not read now, and the
          nominal one stands in for it
        </p>
      )}
      {parts.length > 0 && (
        <p className="muted">
          sum of{' '}
          {known.length === parts.length
            ? `its ${parts.length} metered ways`
            : `${known.length} of its ${parts.length} metered ways`}
        </p>
      )}
      <LoadMark node={node} />
      {node.ratedCurrent && node.currentPointIds.length > 0 && (
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
      {own.length > 0 && isReversed(nodes, node.id, power) && (
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
            <PointLevel point={point} scale={usualScale(point, node, site)} label={labels[i] ?? ''} />
          </div>
        ))}
      </dl>
    </section>
  );
}

function PointLevel({ point, scale, label }: { point: Point; scale: Scale | null; label: string }) {
  const reading = useReading(point.id);
  if (scale === null) return null;
  const value = reading?.v ?? null;
  return (
    <dd className={styles.level}>
      <Level
        value={value !== null && point.definition.quantity === 'power-factor' ? Math.abs(value) : value}
        scale={scale}
        label={label}
      />
    </dd>
  );
}
