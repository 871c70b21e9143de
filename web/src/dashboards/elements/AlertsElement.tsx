import { Link } from 'react-router';
import { conditionOf, whenOf } from '../../alerts/occurrence.js';
import { useAlertRules, useAlerts } from '../../api/useApi.js';
import { below } from '../../shared/nodes.js';
import { useFacts } from '../facts.js';
import type { Shown } from '../shown.js';
import styles from './elements.module.css';

/** What is open at a place and below it, the newest first; of the supply all that is open. */
export function AlertsElement({ shown }: { shown: Shown }) {
  const { nodes, points, zone } = useFacts();
  const { data, error } = useAlerts();
  const { data: rules = [] } = useAlertRules();
  if (error && !data) return <p className="danger">Alerts could not be loaded: {error.message}</p>;
  if (!data || !shown.node) return <p className="muted">Loading …</p>;
  const inside = new Set(below(nodes, shown.node.id).map((n) => n.id));
  const own = data.filter((alert) => {
    if (shown.node?.kind === 'supply') return true;
    const pointId = alert.pointId ?? rules.find((r) => r.id === alert.ruleId)?.pointId;
    const place = points.find((p) => p.id === pointId)?.nodeId;
    return place != null && inside.has(place);
  });
  if (own.length === 0) return <p className="ok">None open.</p>;
  return (
    <ul className={styles.alerts}>
      {[...own]
        .sort((a, b) => b.raisedAt - a.raisedAt)
        .map((alert) => (
          <li key={alert.id} data-seen={alert.acknowledgedAt !== null} data-over={alert.returnedAt !== null}>
            <Link to="/alerts">{alert.name}</Link>
            <span className="muted">
              {conditionOf(alert)} · {whenOf(alert, zone, 'HH:mm')}
            </span>
          </li>
        ))}
    </ul>
  );
}
