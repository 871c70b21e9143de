import type { InstallationNode } from '@loka/contract/installation';
import { siteClock } from '@loka/core/time';
import Button from '@mui/material/Button';
import { lazy, Suspense, useMemo, useState } from 'react';
import { useNow } from '../api/clock.js';
import { useSeries } from '../api/useApi.js';
import { TREND_LEFT as LEFT, TREND_RIGHT as RIGHT } from '../charts/lane.js';
import { trendOption } from '../charts/trend.js';
import { tooltipBox } from '../charts/tooltip.js';
import { usePeriod } from '../shared/period.js';
import { useSheet } from '../theme/useSheet.js';
import styles from './InstantBar.module.css';

const Chart = lazy(() => import('../charts/Chart.js'));
const MINUTE = 60_000;

/** The power of the bar over the period, along which an instant is chosen; Live goes back to now. */
export function InstantBar({
  supply,
  instant,
  onChange,
}: {
  supply: InstallationNode;
  instant: number | null;
  onChange: (t: number | null) => void;
}) {
  const { span, zone, words, beside } = usePeriod();
  const { sheet, series: colours } = useSheet();
  const now = useNow(MINUTE);
  const end = Math.min(span.end, now);
  const ids = supply.powerPointIds;
  const { data } = useSeries(ids, span.start, span.end, { width: 900 }, 60_000);
  const { data: then } = useSeries(beside ? ids : [], beside?.span.start ?? 0, beside?.span.end ?? 0, {
    width: 900,
  });
  // What is under the finger while it drags; the request follows it.
  const [dragged, setDragged] = useState<number | null>(null);
  const option = useMemo(
    () =>
      trendOption(
        data ?? [],
        ids.map((id) => ({ id, name: supply.name, unit: 'W' })),
        span,
        zone,
        sheet,
        colours,
        tooltipBox,
        beside ? (then ?? []).map((s) => ({ ...s, t: s.t.map(beside.alongside) })) : [],
      ),
    [data, then, beside, ids, supply.name, span, zone, sheet, colours],
  );
  const t = dragged ?? instant ?? end;
  const steps = Math.max(1, Math.floor((end - span.start) / MINUTE));
  const share = (Math.min(t, end) - span.start) / (span.end - span.start);
  if (end <= span.start) return null;
  return (
    <div className={styles.bar}>
      <div className={styles.head}>
        <span>
          {supply.name} · {words}
        </span>
        <span className="muted">
          {instant === null ? 'drag to see an instant' : siteClock(zone, t, 'ccc d LLL HH:mm')}
        </span>
        <span className={styles.space} />
        <Button onClick={() => onChange(null)} disabled={instant === null}>
          Live
        </Button>
      </div>
      <div className={styles.trend}>
        <Suspense fallback={null}>
          <Chart option={option} height={110} label={`Power of ${supply.name}, ${words}`} />
        </Suspense>
        <span
          className={styles.cursor}
          style={{ left: `calc(${LEFT}px + (100% - ${LEFT + RIGHT}px) * ${share})` }}
          aria-hidden
        />
        <input
          type="range"
          className={styles.slider}
          style={{
            left: LEFT,
            width: `calc((100% - ${LEFT + RIGHT}px) * ${(end - span.start) / (span.end - span.start)})`,
          }}
          min={0}
          max={steps}
          value={Math.round((Math.min(t, end) - span.start) / MINUTE)}
          aria-label="Instant"
          aria-valuetext={siteClock(zone, t, 'ccc d LLL HH:mm')}
          onChange={(e) => {
            const chosen = span.start + Number(e.target.value) * MINUTE;
            setDragged(chosen);
            onChange(chosen);
          }}
          onPointerUp={() => setDragged(null)}
          onBlur={() => setDragged(null)}
        />
      </div>
    </div>
  );
}
