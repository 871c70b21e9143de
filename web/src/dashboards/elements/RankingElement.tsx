import type { DashboardElement } from '@loka/core/dashboards';
import { Link } from 'react-router';
import { useBalance } from '../../api/useApi.js';
import { isConsumption, totalOf } from '../../balance/groups.js';
import { stepOf } from '../../balance/stepOf.js';
import { below } from '../../shared/nodes.js';
import { Measured } from '../../shared/Measured.js';
import { useFacts } from '../facts.js';
import type { Shown } from '../shown.js';
import styles from './elements.module.css';
import { useSpan } from './useSpan.js';

/** What took how much, the most first, with what nobody meters among it. */
export default function RankingElement({ element, shown }: { element: DashboardElement; shown: Shown }) {
  const { nodes } = useFacts();
  const { span, words } = useSpan(element.span);
  const { data } = useBalance(span.start, span.end, stepOf(span));
  if (!data || !shown.node) return <p className="muted">Loading …</p>;
  const inside = new Set(below(nodes, shown.node.id).map((n) => n.id));
  const rows = data.uses
    .filter((u) => inside.has(u.nodeId) && isConsumption(u, nodes))
    .map((u) => ({ ...u, wh: totalOf([u]), node: nodes.find((n) => n.id === u.nodeId) }))
    .filter((u) => u.wh >= 0.5)
    .sort((a, b) => b.wh - a.wh);
  const most = rows[0]?.wh ?? 1;
  return (
    <div className={styles.ranking}>
      <p className={styles.legend}>{words}</p>
      {rows.length === 0 && <p className="muted">Nothing was used.</p>}
      <ol>
        {rows.map((row) => (
          <li key={row.key} data-unmetered={row.kind === 'unmetered'}>
            <span>
              {row.kind === 'unmetered'
                ? `Not metered${row.node && row.node.kind !== 'supply' ? `, ${row.node.name}` : ''}`
                : row.node?.name}
            </span>
            <Measured value={row.wh} unit="Wh" />
            <i style={{ width: `${(100 * row.wh) / most}%` }} aria-hidden />
          </li>
        ))}
      </ol>
      <Link to={`/balance?at=${shown.node.id}`}>In the Balance</Link>
    </div>
  );
}
