import type { InstallationNode } from '@loka/contract/installation';
import { remainderOf } from '@loka/core/energy';
import { useSumOfEach } from '../api/live.js';
import { Measured } from '../shared/Measured.js';
import { meteredParts } from '../shared/nodes.js';

/** Of a circuit with metered loads behind it: what it takes that none of them does. */
export function LoadsRemainder({ nodes, node }: { nodes: InstallationNode[]; node: InstallationNode }) {
  const parts = meteredParts(nodes, node.id);
  const [own = null, ...each] = useSumOfEach([node.powerPointIds, ...parts.map((p) => p.powerPointIds)]);
  const remainder = remainderOf(own, each);
  if (!remainder) return null;
  return (
    <p>
      Not metered: <Measured value={remainder.value} unit="W" />
      {!remainder.complete && <span className="muted"> with a part missing</span>}
    </p>
  );
}
