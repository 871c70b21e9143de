import { isReadable } from '@loka/core/points';
import type { Doubt } from '@loka/contract/doubts';
import type { Point } from '@loka/contract/points';
import { printAge } from '@loka/core/formats';
import { siteClock } from '@loka/core/time';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { api } from '../api/client.js';
import { useDoubts } from '../api/useApi.js';
import { useNotices } from '../shared/notices.js';
import { unitOf } from '../shared/nodes.js';
import { doubtInWords } from './doubtInWords.js';
import { CounterDialog } from './CounterDialog.js';
import { ExchangeDialog } from './ExchangeDialog.js';
import styles from './EnergyPanel.module.css';

/** So many are shown before one asks for more. */
const FIRST = 4;

/** What did not count as it was read, with a person's say in it; and what a person knows of the counters. */
export function DoubtsPanel({
  points,
  counters,
  span,
  zone,
}: {
  points: Point[];
  counters: Point[];
  span: { start: number; end: number };
  zone: string;
}) {
  const { data: doubts = [] } = useDoubts(
    points.filter((p) => isReadable(p.definition)).map((p) => p.id),
    span.start,
    span.end,
  );
  const [all, setAll] = useState(false);
  const [dialog, setDialog] = useState<'exchange' | 'counter' | null>(null);
  const shown = all ? doubts : doubts.slice(0, FIRST);
  return (
    <>
      {doubts.length > 0 && (
        <>
          <h3>Not counted as read</h3>
          <ul className={styles.doubts}>
            {shown.map((doubt) => (
              <Row
                key={`${doubt.pointId} ${doubt.t} ${doubt.kind}`}
                doubt={doubt}
                point={points.find((p) => p.id === doubt.pointId)}
                zone={zone}
                onExchange={() => setDialog('exchange')}
              />
            ))}
          </ul>
          {doubts.length > FIRST && (
            <Button onClick={() => setAll(!all)}>{all ? 'Show fewer' : `Show all ${doubts.length}`}</Button>
          )}
        </>
      )}
      {counters.length > 0 && (
        <div className={styles.actions}>
          <Button onClick={() => setDialog('exchange')}>Meter exchanged…</Button>
          <Button onClick={() => setDialog('counter')}>Counter…</Button>
        </div>
      )}
      {dialog === 'exchange' && (
        <ExchangeDialog
          counters={counters}
          zone={zone}
          found={doubts.find((d) => d.kind === 'exchange' && d.verdict === null)}
          onClose={() => setDialog(null)}
        />
      )}
      {dialog === 'counter' && <CounterDialog counters={counters} onClose={() => setDialog(null)} />}
    </>
  );
}

function Row({
  doubt,
  point,
  zone,
  onExchange,
}: {
  doubt: Doubt;
  point: Point | undefined;
  zone: string;
  onExchange: () => void;
}) {
  const { say, attempt } = useNotices();
  const unit = point ? unitOf(point) : '';
  const judge = (counts: boolean) =>
    void attempt(async () => {
      const { id } = await api<{ id: number }>('/verdicts', 'POST', {
        pointId: doubt.pointId,
        from: doubt.t,
        to: doubt.until + 1,
        counts,
      });
      say(counts ? 'It is counted now.' : 'It is no longer counted.', () => api(`/verdicts/${id}`, 'DELETE'));
    });
  const takeBack = (id: number) =>
    void attempt(async () => {
      await api(`/verdicts/${id}`, 'DELETE');
      say('Loka’s decision stands.');
    });
  const lasted = doubt.until - doubt.t;
  return (
    <li>
      <div>
        <span className={styles.when}>
          {siteClock(zone, doubt.t, 'd LLL HH:mm:ss')}
          {lasted >= 1000 ? `, for ${printAge(lasted)}` : ''}
        </span>
        <span>{point?.definition.name}</span>
      </div>
      <p>{doubtInWords(doubt, unit)}</p>
      <div className={styles.actions}>
        {doubt.verdict ? (
          <>
            <span className="muted">
              {doubt.verdict.counts ? 'Counts' : 'Struck out'}, by {doubt.verdict.who}.
            </span>
            <Button onClick={() => takeBack((doubt.verdict as { id: number }).id)}>Take that back</Button>
          </>
        ) : (
          <>
            {doubt.kind === 'exchange' && <Button onClick={onExchange}>Enter the exchange</Button>}
            {mayCount(doubt) && <Button onClick={() => judge(true)}>Count it</Button>}
            {(doubt.kind === 'implausible' || doubt.kind === 'glitch') && (
              <Button onClick={() => judge(false)}>Do not count it</Button>
            )}
          </>
        )}
      </div>
    </li>
  );
}

/** What rose and was not believed can be let count; what fell cannot. */
const mayCount = ({ kind, before, after }: Doubt): boolean =>
  kind === 'implausible' || ((kind === 'glitch' || kind === 'exchange') && (after ?? 0) > (before ?? 0));
