import type { HappeningKind } from '@loka/contract/happenings';
import type { InstallationNode } from '@loka/contract/installation';
import { siteClock } from '@loka/core/time';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { Link } from 'react-router';
import { useHappenings } from '../api/useApi.js';
import { durationInWords } from '../shared/duration.js';
import { PlainTable } from '../shared/PlainTable.js';
import { usePeriod } from '../shared/period.js';
import { EmptyState, FailedState, LoadingState } from '../shared/states.js';
import { HappeningMark, HAPPENING_WORDS } from './HappeningMark.js';
import { useCommentEditor } from './useCommentEditor.js';
import styles from './PlacePage.module.css';

/** All that happened at a place within the period, newest first; each kind can be left out. */
export default function HistoryTab({ node }: { node: InstallationNode }) {
  const { span, zone, words } = usePeriod();
  const { data, error, mutate } = useHappenings(node.id, span.start, span.end);
  const [without, setWithout] = useState<ReadonlySet<HappeningKind>>(new Set());
  const comments = useCommentEditor(node);
  if (error && !data) return <FailedState error={error} retry={() => void mutate()} />;
  if (!data) return <LoadingState />;
  const kinds = [...new Set(data.map((h) => h.kind))];
  const shown = data.filter((h) => !without.has(h.kind)).reverse();
  const toggle = (kind: HappeningKind) => {
    const next = new Set(without);
    if (!next.delete(kind)) next.add(kind);
    setWithout(next);
  };
  return (
    <section aria-label="History">
      <div className={styles.bar}>
        <h2>{words}</h2>
        <span role="group" aria-label="Kinds" className={styles.steps}>
          {kinds.map((kind) => (
            <button key={kind} type="button" aria-pressed={!without.has(kind)} onClick={() => toggle(kind)}>
              {HAPPENING_WORDS[kind]}
            </button>
          ))}
        </span>
        <span className={styles.space} />
        <Button component={Link} to={`/bench?at=${node.id}&do=record`}>
          Record
        </Button>
        <Button variant="outlined" onClick={() => comments.add()}>
          Add a comment
        </Button>
      </div>
      {shown.length === 0 ? (
        <EmptyState title="Nothing happened">
          No alert, no operation, no correction, no gap and no comment in this period.
        </EmptyState>
      ) : (
        <PlainTable head={['When', '', 'What', 'For', 'By', '']}>
          {shown.map((h, i) => (
            <tr key={i}>
              <td className="measured">{siteClock(zone, h.t, 'd LLL yyyy HH:mm:ss')}</td>
              <td className={h.level === 'danger' ? 'danger' : ''} style={{ whiteSpace: 'nowrap' }}>
                <HappeningMark kind={h.kind} /> {HAPPENING_WORDS[h.kind]}
              </td>
              <td>{h.says}</td>
              <td className="measured">
                {h.until === null ? (h.kind === 'alert' ? 'still' : '') : durationInWords(h.until - h.t)}
              </td>
              <td>{h.who ?? ''}</td>
              <td>
                {h.kind === 'comment' && (
                  <Button size="small" onClick={() => comments.edit(h)}>
                    Change
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </PlainTable>
      )}
      {comments.dialog}
    </section>
  );
}
