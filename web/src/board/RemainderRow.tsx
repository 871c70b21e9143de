import type { NodeEnergy } from '@loka/contract/energy';
import type { InstallationNode } from '@loka/contract/installation';
import { remainderOf } from '@loka/core/energy';
import { useSumOfEach } from '../api/live.js';
import { Measured } from '../shared/Measured.js';
import { meteredParts } from '../shared/nodes.js';
import styles from './ScheduleRow.module.css';

/**
 * What a board takes that no meter below it covers: its own power less that of its metered parts. The main board has
 * no meter of its own where the supply's is right before it, so that one stands for it.
 */
export function RemainderRow({
  nodes,
  board,
  energy,
}: {
  nodes: InstallationNode[];
  board: InstallationNode;
  energy: NodeEnergy[] | undefined;
}) {
  const whole = measuredBy(nodes, board);
  const parts = meteredParts(nodes, board.id);
  const sums = useSumOfEach([whole?.powerPointIds ?? [], ...parts.map((p) => p.powerPointIds)]);
  const [own = null, ...each] = sums;
  const power = remainderOf(own, each);
  const energyOf = (id: number | undefined) => energy?.find((e) => e.nodeId === id)?.net ?? null;
  const today = whole
    ? remainderOf(
        energyOf(whole.id),
        parts.map((p) => energyOf(p.id)),
      )
    : null;
  if (!whole || parts.length === 0) return null;
  return (
    <tr className={styles.remainder}>
      <td />
      <td />
      <td />
      <td>
        <span title="What this board takes and no meter below it covers">Not metered</span>
      </td>
      <td className="number">
        {power ? (
          <Measured value={power.value} unit="W" className={power.value < -20 ? 'warn' : ''} />
        ) : (
          <span className="muted">–</span>
        )}
      </td>
      <td className="muted">
        {power && !power.complete
          ? 'with a part missing'
          : power && power.value < -20
            ? 'parts read more than the whole'
            : ''}
      </td>
      <td className="number">
        {today ? <Measured value={today.value} unit="Wh" /> : <span className="muted">–</span>}
      </td>
      <td colSpan={3} />
    </tr>
  );
}

/** The place whose meter measures a board: its own, or the supply's when nothing else hangs on that. */
function measuredBy(nodes: InstallationNode[], board: InstallationNode): InstallationNode | null {
  if (board.powerPointIds.length > 0) return board;
  const parent = nodes.find((n) => n.id === board.parentId);
  const alone = nodes.filter((n) => n.parentId === board.parentId).length === 1;
  return parent && alone && parent.powerPointIds.length > 0 ? parent : null;
}
