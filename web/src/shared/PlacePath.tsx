import type { InstallationNode } from '@loka/contract/installation';
import { ConductorMarks } from './ConductorMarks.js';
import { pathUp } from './nodes.js';

/** Where a place hangs, what protects it, and on which conductors: "Supply › Main board, C32". */
export function PlacePath({ node, nodes }: { node: InstallationNode; nodes: InstallationNode[] }) {
  const where = pathUp(nodes, node.parentId)
    .reverse()
    .map((n) => n.name)
    .join(' › ');
  // A characteristic stands before its rating, C32; what is none, a switch or a fuse, has the rating alone.
  const { protectiveDevice, ratedCurrent } = node;
  const protection =
    protectiveDevice && ratedCurrent
      ? protectiveDevice.length === 1
        ? `${protectiveDevice}${ratedCurrent}`
        : `${ratedCurrent} A`
      : '';
  return (
    <p className="muted">
      {[where, protection].filter(Boolean).join(', ')} <ConductorMarks phases={node.phases} />
    </p>
  );
}
