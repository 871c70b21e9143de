import type { DashboardElement } from '@loka/core/dashboards';
import { dayKindAt, WEEKENDS } from '@loka/core/profile';
import { useNow } from '../../api/clock.js';
import { inWords, isRefused } from '../../api/client.js';
import { useProfile } from '../../api/useApi.js';
import { DAY_TYPE_NAMES, TypicalDayDrawing } from '../../profile/TypicalDay.js';
import { useFacts } from '../facts.js';
import type { Shown } from '../shown.js';
import styles from './elements.module.css';
import { useSpan } from './useSpan.js';

/** Found again so often, ms. */
const EACH = 300_000;

/** A day of a place as it usually is, of the kind that today is, with today over it. */
export default function TypicalDayElement({ element, shown }: { element: DashboardElement; shown: Shown }) {
  const { zone, site } = useFacts();
  const { span, words } = useSpan(element.span);
  const now = useNow(60_000);
  const { data, error } = useProfile(shown.node?.id ?? null, span.start, Math.ceil(span.end / EACH) * EACH);
  if (error && (!data || isRefused(error))) return <p className="muted">{inWords(error)}</p>;
  if (!data || data.nodeId !== shown.node?.id) return <p className="muted">Loading …</p>;
  const today = dayKindAt(zone, now, site ?? WEEKENDS);
  const type = data.dayTypes.find((d) => d.name === today) ?? data.dayTypes[0];
  if (!type) return <p className="muted">No day of the period is over yet, so there is no typical day.</p>;
  return (
    <div className={styles.trend}>
      <p className={styles.legend}>
        <span>{words}</span>
        <span>
          {DAY_TYPE_NAMES[type.name]}, {type.rows.length}
        </span>
      </p>
      <div className={styles.drawing}>
        <TypicalDayDrawing profile={data} type={type} then={null} fills />
      </div>
    </div>
  );
}
