import { siteClock } from '@loka/core/time';
import { useSite } from '../api/useApi.js';
import { usePeriod } from '../shared/period.js';
import styles from './Frame.module.css';

/** Says it where the period reaches over a change of the site's zone: its days are those of the present one. */
export function ZoneNote() {
  const { data } = useSite();
  const { span, zone } = usePeriod();
  const change = data?.zoneChanges?.find((c) => c.at > span.start && c.at < span.end);
  if (!change) return null;
  return (
    <p className={styles.note} role="status">
      On {siteClock(zone, change.at, 'd LLL yyyy HH:mm')} the site’s zone was changed from {change.zoneBefore}{' '}
      to {change.zoneAfter}. All days here are those of {zone}.
    </p>
  );
}
