import type { TimeSpan } from '@loka/core/time';
import { siteClock } from '@loka/core/time';
import { serverNow } from '../../api/clock.js';
import { useHappenings } from '../../api/useApi.js';
import { TREND_LEFT, TREND_RIGHT } from '../../charts/lane.js';
import { HAPPENING_WORDS, HappeningMark } from '../../place/HappeningMark.js';
import { useFacts } from '../facts.js';
import styles from './elements.module.css';

/** Below a trend, on its time axis: alerts, gaps, and operations of the switch. */
export function Lane({ nodeId, span }: { nodeId: number; span: TimeSpan }) {
  const { zone } = useFacts();
  const { data = [] } = useHappenings(nodeId, span.start, span.end);
  const left = (t: number) => `${(100 * (t - span.start)) / (span.end - span.start)}%`;
  return (
    <div className={styles.lane} style={{ marginLeft: TREND_LEFT, marginRight: TREND_RIGHT }}>
      {data.map((h, i) => {
        const told = `${HAPPENING_WORDS[h.kind]}, ${siteClock(zone, h.t, 'HH:mm:ss')}: ${h.says}`;
        if (h.kind !== 'alert' && h.kind !== 'gap')
          return (
            <span
              key={i}
              className={styles.happened}
              style={{ left: left(h.t) }}
              data-level={h.level}
              title={told}
            >
              <HappeningMark kind={h.kind} />
            </span>
          );
        const end = Math.min(span.end, h.until ?? (h.kind === 'alert' ? serverNow() : h.t));
        const start = Math.max(span.start, h.t);
        return (
          <span
            key={i}
            className={styles.stretch}
            data-kind={h.kind}
            style={{
              left: left(start),
              width: `max(3px, ${(100 * (end - start)) / (span.end - span.start)}%)`,
            }}
            title={told}
          />
        );
      })}
    </div>
  );
}
