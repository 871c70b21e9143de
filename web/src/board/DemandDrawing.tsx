import type { InstallationNode } from '@loka/contract/installation';
import { siteClock } from '@loka/core/time';
import { useMemo } from 'react';
import { usePoints, useSeries } from '../api/useApi.js';
import Chart from '../charts/Chart.js';
import { DEMAND_LINES, demandBlock, demandBlocks, demandOption } from '../charts/demand.js';
import { Measured } from '../shared/Measured.js';
import { usePeriod } from '../shared/period.js';
import { useSheet } from '../theme/useSheet.js';
import styles from './DemandDrawing.module.css';

/** The site's demand over the chosen period in blocks of equal length, stacked by phase. */
export default function DemandDrawing({ supply }: { supply: InstallationNode }) {
  const { span, zone, words, into } = usePeriod();
  const { sheet } = useSheet();
  const { data: points = [] } = usePoints();
  const phases = DEMAND_LINES.map((line) => ({
    line,
    point: points.find(
      (p) => p.nodeId === supply.id && p.definition.quantity === 'active-power' && p.phase === line,
    ),
  })).filter((p) => p.point !== undefined);
  const block = demandBlock(span.end - span.start);
  const { data: series = [] } = useSeries(
    phases.map((p) => p.point?.id ?? 0),
    span.start,
    span.end,
    { block },
  );
  const blocks = useMemo(() => demandBlocks(series), [series]);
  const option = useMemo(
    () =>
      demandOption(
        phases.map(({ line, point }) => ({ line, series: series.find((s) => s.pointId === point?.id) })),
        span,
        zone,
        sheet,
      ),
    [series, span, zone, phases, sheet],
  );
  if (phases.length === 0) return null;
  const highest = blocks.reduce<{ t: number; watts: number } | null>(
    (best, b) => (!best || b.watts > best.watts ? b : best),
    null,
  );
  return (
    <section className={styles.demand} aria-label="Site demand">
      <div>
        <h2>Site demand</h2>
        <p className="muted">{block}-min blocks, per phase</p>
        <p className="muted">Highest, {words.toLowerCase()}</p>
        <p className={styles.highest}>
          <Measured value={highest?.watts ?? null} unit="W" />
        </p>
        {highest && <p className="muted">{siteClock(zone, highest.t, 'd LLL HH:mm')}</p>}
      </div>
      <Chart option={option} onBrush={into} height={138} label={`Site demand per phase, ${words}`} />
    </section>
  );
}
