import type { Point } from '@loka/contract/points';
import type { InstallationNode } from '@loka/contract/installation';
import { expectation } from '@loka/core/installation';
import { useReading } from '../api/live.js';
import { useSite } from '../api/useApi.js';
import { Reading } from '../shared/Reading.js';
import { pointTitle } from '../shared/nodes.js';
import styles from './FitPage.module.css';

/** The first readings of a circuit beside what one would expect. */
export function FitLive({ node, points }: { node: InstallationNode; points: Point[] }) {
  return (
    <div className={styles.live}>
      {points.map((point) => (
        <Row key={point.id} node={node} point={point} />
      ))}
    </div>
  );
}

function Row({ node, point }: { node: InstallationNode; point: Point }) {
  const reading = useReading(point.id);
  const { data } = useSite();
  const site = data?.site;
  const finding =
    reading?.v == null
      ? null
      : expectation(point.definition.quantity, point.phase, reading.v, {
          nominalVoltage: site?.nominalVoltage ?? 230,
          system: site?.supplySystem ?? 'three-phase',
          frequency: site?.frequency ?? 50,
          ratedCurrent: node.ratedCurrent,
          feedsIn: node.feedsIn,
        });
  return (
    <div>
      <span>{pointTitle(point)}</span>
      <Reading point={point} className={styles.big ?? ''} />
      <span className={finding?.level === 'warn' ? 'warn' : finding ? 'ok' : 'muted'}>
        {finding?.message ?? '–'}
      </span>
    </div>
  );
}
