import type { InstallationNode } from '@loka/contract/installation';
import { ConductorMarks } from './ConductorMarks.js';
import { protectionOf, pathUp } from './nodes.js';

/** Where a place hangs, what protects it, and on which conductors: "Supply › Main board, C32". */
export function PlacePath({ node, nodes }: { node: InstallationNode; nodes: InstallationNode[] }) {
  const where = pathUp(nodes, node.parentId)
    .reverse()
    .map((n) => n.name)
    .join(' › ');
  const protection = protectionOf(node);
  return (
    <p className="muted">
      {[where, protection].filter(Boolean).join(', ')} <ConductorMarks phases={node.phases} />
    </p>
  );
}
