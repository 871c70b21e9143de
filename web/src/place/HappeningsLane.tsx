import type { Happening, HappeningKind } from '@loka/contract/happenings';
import type { InstallationNode } from '@loka/contract/installation';
import { siteClock } from '@loka/core/time';
import { serverNow } from '../api/clock.js';
import { useHappenings } from '../api/useApi.js';
import { TREND_LEFT, TREND_RIGHT } from '../charts/lane.js';
import { usePeriod } from '../shared/period.js';
import { HappeningMark, HAPPENING_WORDS } from './HappeningMark.js';
import { useCommentEditor } from './useCommentEditor.js';
import styles from './HappeningsLane.module.css';

/** Rows of the lane: what lasts above, what is of an instant below. */
const ROWS: Record<HappeningKind, number> = {
  alert: 0,
  gap: 1,
  switched: 2,
  correction: 2,
  fitting: 2,
  comment: 3,
};

/** Below a trend: alerts, gaps with their reason, switch operations, corrections, and what people say; a click puts a comment there. */
export function HappeningsLane({ node }: { node: InstallationNode }) {
  const { span, zone, words } = usePeriod();
  const { data = [] } = useHappenings(node.id, span.start, span.end);
  const comments = useCommentEditor(node);
  const share = (t: number) => (t - span.start) / (span.end - span.start);
  const told = (h: Happening) =>
    `${siteClock(zone, h.t, 'd LLL HH:mm:ss')}: ${h.says}${h.who ? `, ${h.who}` : ''}`;
  const at = (event: React.MouseEvent<HTMLElement>) => {
    const { left, width } = event.currentTarget.getBoundingClientRect();
    return Math.round(span.start + ((event.clientX - left) / width) * (span.end - span.start));
  };
  return (
    <section aria-label="What happened" className={styles.section}>
      <div className={styles.head}>
        <h2>What happened</h2>
        <span className="muted">{data.length === 0 ? `nothing, ${words}` : `${data.length}, ${words}`}</span>
        <span className={styles.space} />
        <button type="button" className={styles.add} onClick={() => comments.add()}>
          Add a comment
        </button>
      </div>
      {/* The keyboard's way to the same is the button above. */}
      {/* eslint-disable-next-line jsx-a11y/click-events-have-key-events, jsx-a11y/no-static-element-interactions */}
      <div
        className={styles.lane}
        style={{ marginLeft: TREND_LEFT, marginRight: TREND_RIGHT }}
        title="Click to put a comment at this instant"
        onClick={(e) => e.target === e.currentTarget && comments.add(at(e))}
      >
        {data.map((h, i) => {
          const from = Math.max(0, share(h.t));
          const to = Math.min(1, share(h.until ?? (h.kind === 'alert' ? serverNow() : h.t)));
          const top = ROWS[h.kind] * 15;
          return h.kind === 'alert' || h.kind === 'gap' ? (
            <span
              key={i}
              className={styles.stretch}
              data-kind={h.kind}
              style={{ left: `${from * 100}%`, width: `max(3px, ${Math.max(0, to - from) * 100}%)`, top }}
              title={told(h)}
            />
          ) : (
            <button
              key={i}
              type="button"
              className={styles.mark}
              data-level={h.level}
              style={{ left: `${from * 100}%`, top }}
              title={told(h)}
              aria-label={`${HAPPENING_WORDS[h.kind]}, ${told(h)}`}
              onClick={() => h.kind === 'comment' && comments.edit(h)}
            >
              <HappeningMark kind={h.kind} />
            </button>
          );
        })}
      </div>
      {comments.dialog}
    </section>
  );
}
