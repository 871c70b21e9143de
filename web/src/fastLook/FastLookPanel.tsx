import { LONGEST_LOOK, type FastLook, type FastLookTrace } from '@loka/contract/fastLook';
import type { InstallationNode } from '@loka/contract/installation';
import { rampOf } from '@loka/core/fastLook';
import { printNumber } from '@loka/core/formats';
import { quantityInfo } from '@loka/core/quantities';
import { siteClock } from '@loka/core/time';
import Button from '@mui/material/Button';
import { lazy, Suspense, useMemo, useState } from 'react';
import { mutate } from 'swr';
import { useNow } from '../api/clock.js';
import { api } from '../api/client.js';
import { useFastLook, useFastLooks } from '../api/useApi.js';
import { fastLookOption } from '../charts/fastLook.js';
import { Figures } from '../shared/Figures.js';
import { useNotices } from '../shared/notices.js';
import { usePeriod } from '../shared/period.js';
import { useSheet } from '../theme/useSheet.js';
import styles from './FastLookPanel.module.css';

const Chart = lazy(() => import('../charts/Chart.js'));
const SECONDS = [5, 10, 20, LONGEST_LOOK];

/** For some seconds the device of a place is polled as fast as it answers, and what rises is drawn: a motor’s start. */
export function FastLookPanel({ node }: { node: InstallationNode }) {
  const { zone } = usePeriod();
  const { data } = useFastLooks(node.id);
  const { attempt, say } = useNotices();
  const [seconds, setSeconds] = useState(10);
  const [chosen, setChosen] = useState<number | null>(null);
  const running = data?.running ?? null;
  const kept = data?.kept ?? [];
  const id = running ? null : (chosen ?? kept[0]?.id ?? null);
  const { data: look } = useFastLook(id);
  const shown = running ?? (id === null ? null : (look ?? null));
  const again = () => mutate(`/fast-looks?node=${node.id}`);
  const start = () =>
    void attempt(async () => {
      setChosen(null);
      await api('/fast-looks', 'POST', { nodeId: node.id, seconds });
      await again();
    });
  const stop = () =>
    void attempt(async () => {
      await api(`/fast-looks/${node.id}/stop`, 'POST');
      await again();
    });
  const remove = (one: number) =>
    void attempt(async () => {
      await api(`/fast-looks/${one}`, 'DELETE');
      setChosen(null);
      await again();
      say('The fast look was removed.');
    });
  return (
    <section aria-label="Fast look" className={styles.look}>
      <div className={styles.head}>
        <h2>Fast look</h2>
        <span className="muted">its meter, asked as fast as it answers</span>
        <span className={styles.space} />
        {running ? (
          <>
            <Left until={running.endedAt} />
            <Button variant="outlined" onClick={stop}>
              Stop
            </Button>
          </>
        ) : (
          <>
            <label className="muted">
              for{' '}
              <select value={seconds} onChange={(e) => setSeconds(Number(e.target.value))}>
                {SECONDS.map((s) => (
                  <option key={s} value={s}>
                    {s} s
                  </option>
                ))}
              </select>
            </label>
            <Button variant="outlined" onClick={start}>
              Look
            </Button>
          </>
        )}
      </div>
      {shown && <Shown look={shown} />}
      {!running && kept.length > 0 && (
        <ul className={styles.kept} aria-label="Kept looks">
          {kept.map((one) => (
            <li key={one.id}>
              <button type="button" aria-pressed={one.id === id} onClick={() => setChosen(one.id)}>
                {siteClock(zone, one.startedAt, 'd LLL HH:mm:ss')},{' '}
                {((one.endedAt - one.startedAt) / 1000).toFixed(0)} s
              </button>
              {one.id === id && one.id !== null && (
                <button type="button" onClick={() => remove(one.id as number)} aria-label="Remove this look">
                  remove
                </button>
              )}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

function Left({ until }: { until: number }) {
  const now = useNow(500);
  return <span role="status">{Math.max(0, Math.ceil((until - now) / 1000))} s left</span>;
}

/** The traces of a look, strongest current first, with what was found in them. */
function Shown({ look }: { look: FastLook }) {
  const { sheet, series: colours } = useSheet();
  const { zone } = usePeriod();
  const traces = useMemo(() => tracesOf(look), [look]);
  const ramps = traces.map((trace) => ({ trace, ramp: rampOf(trace) }));
  const best = ramps.find((r) => r.ramp !== null);
  const unitOf = (trace: FastLookTrace) => quantityInfo(trace.quantity).unit;
  const text = (v: number | null, unit: string) => {
    if (v === null) return '–';
    const { digits, unit: printed } = printNumber(v, unit);
    return `${digits} ${printed}`;
  };
  return (
    <>
      {look.trouble && <p className="danger">It ended early: {look.trouble}</p>}
      {best?.ramp ? (
        <p className={styles.found} role="status">
          {best.trace.name}: peak <b className="measured">{text(best.ramp.peak, unitOf(best.trace))}</b>,{' '}
          <span className="measured">{(best.ramp.timeToPeak / 1000).toFixed(2)} s</span> after it began
          {best.ramp.settled !== null && (
            <>
              , settled at <b className="measured">{text(best.ramp.settled, unitOf(best.trace))}</b>
            </>
          )}
          {best.ramp.ratio !== null && (
            <>
              {' '}
              (<span className="measured">{best.ramp.ratio.toFixed(1)}</span> times that)
            </>
          )}
          . <span className="muted">One reading every {best.ramp.spacing.toFixed(0)} ms.</span>
        </p>
      ) : (
        <p className="muted" role="status">
          {traces.every((t) => t.t.length < 8)
            ? 'Waiting for its readings …'
            : 'Nothing has risen yet. Switch the load on while it looks.'}
        </p>
      )}
      <Suspense fallback={<div style={{ height: 180 }} />}>
        <Chart
          option={fastLookOption(
            traces,
            best ? { trace: best.trace, ramp: best.ramp } : null,
            sheet,
            colours,
          )}
          height={180}
          label={`Fast look of ${siteClock(zone, look.startedAt, 'd LLL HH:mm:ss')}: the table below has the figures`}
        />
      </Suspense>
      <Figures
        caption="Fast look"
        head={['s', ...traces.map((t) => `${t.name}, ${unitOf(t)}#`)]}
        rows={(traces[0]?.t ?? [])
          .slice(0, 1000)
          .map((t, i) => [
            (t / 1000).toFixed(2),
            ...traces.map((trace) => trace.v[i]?.toPrecision(4) ?? '–'),
          ])}
      />
    </>
  );
}

/** Currents where there are any, else powers: what a start is seen in. */
function tracesOf({ traces }: FastLook): FastLookTrace[] {
  const currents = traces.filter((t) => t.quantity === 'current' && t.phase !== 'total');
  const chosen = currents.length > 0 ? currents : traces.filter((t) => t.quantity === 'active-power');
  const top = (t: FastLookTrace) => Math.max(0, ...t.v.map((v) => v ?? 0));
  return [...chosen].sort((a, b) => top(b) - top(a));
}
