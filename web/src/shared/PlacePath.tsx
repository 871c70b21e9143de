import type { InstallationNode } from '@loka/contract/installation';
import { ConductorMarks } from './ConductorMarks.js';
import { pathUp } from './nodes.js';

/** Where a place hangs, what protects it, and on which conductors: "Supply › Main board, C32". */
export function PlacePath({ node, nodes }: { node: InstallationNode; nodes: InstallationNode[] }) {
  return (
    <p className="muted">
      {pathUp(nodes, node.parentId)
        .reverse()
        .map((n) => n.name)
        .join(' › ')}
      {node.protectiveDevice && node.ratedCurrent
        ? `, ${node.protectiveDevice.length === 1 ? node.protectiveDevice : ''}${node.ratedCurrent}`
        : ''}{' '}
      <ConductorMarks phases={node.phases} />
    </p>
  );
}
