import type { InstallationNode } from '@loka/contract/installation';
import type { Point } from '@loka/contract/points';
import { Link } from 'react-router';
import { driftInWords } from '@loka/core/calibration';
import { siteClock } from '@loka/core/time';
import { serverNow } from '../api/clock.js';
import { useDrifts, useDue } from '../api/useApi.js';
import { isCorrectable } from '../calibration/isCorrectable.js';
import { JobMarks } from '../installation/JobMarks.js';
import { nodeTitle } from '../shared/nodes.js';
import { usePeriod } from '../shared/period.js';
import { InstrumentsPanel } from '../instruments/InstrumentsPanel.js';
import { OutputsPanel } from './OutputsPanel.js';
import { PlainTable } from '../shared/PlainTable.js';
import { Reading } from '../shared/Reading.js';
import { EmptyState } from '../shared/states.js';
import styles from './BenchPage.module.css';

/** All circuits that have something to prove and to calibrate: what has been done, and what has not. */
export function BenchOverview({ nodes, points }: { nodes: InstallationNode[]; points: Point[] }) {
  const { data: drifts = [] } = useDrifts();
  const { data: due = [] } = useDue();
  const { zone } = usePeriod();
  const past = due.filter((d) => d.dueAt < serverNow());
  const rows = nodes
    .map((node) => ({ node, own: points.filter((p) => p.nodeId === node.id && isCorrectable(p)) }))
    .filter(({ own }) => own.length > 0);
  if (rows.length === 0)
    return (
      <EmptyState title="Nothing to verify yet">
        Connect a device in Field, and assign its points to a circuit.
      </EmptyState>
    );
  return (
    <div>
      <div className={styles.title}>
        <h1>Bench</h1>
        <nav aria-label="Bench">
          <Link to="/bench?do=record">Handover pack</Link>
        </nav>
      </div>
      <p className="muted">
        First prove that each meter is wired right, then compare its readings with a better instrument. Choose
        a circuit.
      </p>
      <PlainTable head={['Circuit', 'Point', 'Reads#', 'Wiring', 'Correction', 'Job']}>
        {rows.map(({ node, own }) => {
          const point = own.find((p) => p.definition.quantity === 'current') ?? (own[0] as Point);
          return (
            <tr key={node.id}>
              <td>
                <Link to={`/bench?at=${node.id}`}>{nodeTitle(node)}</Link>
              </td>
              <td>
                {point.deviceName}, {point.definition.name}
              </td>
              <td className="number">
                <Reading point={point} />
              </td>
              <td>
                <Link to={`/bench?at=${node.id}&do=verify`} className={wiringTone(node)}>
                  {node.wiringFault ?? (node.job.verified ? 'verified' : 'not verified')}
                </Link>
              </td>
              <td>
                <Link
                  to={`/bench?at=${node.id}&do=calibrate`}
                  className={own.some((p) => p.calibrated) ? '' : 'warn'}
                >
                  {own.some((p) => p.calibrated)
                    ? `${own.filter((p) => p.calibrated).length} of ${own.length} points corrected`
                    : own.some((p) => p.copied)
                      ? 'copied, not measured'
                      : 'none'}
                </Link>
                {past
                  .filter((d) => own.some((p) => p.id === d.pointId))
                  .map((d) => (
                    <div key={d.pointId}>
                      <Link className="warn" to={`/bench?at=${node.id}&do=calibrate&point=${d.pointId}`}>
                        to be calibrated again since {siteClock(zone, d.dueAt, 'd LLL yyyy')}
                      </Link>
                    </div>
                  ))}
                {drifts
                  .filter((d) => own.some((p) => p.id === d.pointId))
                  .map((d) => (
                    <div key={d.pointId}>
                      <Link
                        className="warn"
                        to={`/bench?at=${node.id}&do=compare&point=${d.pointId}&with=${d.neighbourId}&period=30-days`}
                      >
                        drifts from {d.neighbour}: {driftInWords(d)}
                      </Link>
                    </div>
                  ))}
              </td>
              <td>
                <JobMarks node={node} />
              </td>
            </tr>
          );
        })}
      </PlainTable>
      <OutputsPanel nodes={nodes} />
      <InstrumentsPanel />
    </div>
  );
}

const wiringTone = ({ wiringFault, job }: InstallationNode): string =>
  wiringFault ? 'danger' : job.verified ? '' : 'warn';
