import type { Point } from '@loka/contract/points';
import type { InstallationNode } from '@loka/contract/installation';
import { Link } from 'react-router';
import { PlainTable } from '../shared/PlainTable.js';
import { JobMarks } from '../installation/JobMarks.js';
import { nodeTitle } from '../shared/nodes.js';
import { Reading } from '../shared/Reading.js';
import { EmptyState } from '../shared/states.js';
import { isCorrectable } from './isCorrectable.js';

/** All circuits that have something to calibrate: what has been corrected, and what has not. */
export function BenchOverview({ nodes, points }: { nodes: InstallationNode[]; points: Point[] }) {
  const rows = nodes
    .map((node) => ({ node, own: points.filter((p) => p.nodeId === node.id && isCorrectable(p)) }))
    .filter(({ own }) => own.length > 0);
  if (rows.length === 0)
    return (
      <EmptyState title="Nothing to calibrate yet">
        Connect a device in Field, and assign its points to a circuit.
      </EmptyState>
    );
  return (
    <div>
      <h1>Bench</h1>
      <p className="muted">
        Readings are off until they have been compared with a better instrument. Choose a circuit.
      </p>
      <PlainTable head={['Circuit', 'Point', 'Reads#', 'Correction', 'Job']}>
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
                {own.some((p) => p.calibrated) ? (
                  `${own.filter((p) => p.calibrated).length} of ${own.length} points corrected`
                ) : (
                  <span className="warn">none</span>
                )}
              </td>
              <td>
                <JobMarks node={node} />
              </td>
            </tr>
          );
        })}
      </PlainTable>
    </div>
  );
}
