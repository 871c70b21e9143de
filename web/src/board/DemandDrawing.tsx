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
  const { span, zone, words, into, beside } = usePeriod();
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
  const { data: then } = useSeries(
    beside ? phases.map((p) => p.point?.id ?? 0) : [],
    beside?.span.start ?? 0,
    beside?.span.end ?? 0,
    { block },
  );
  const compared = useMemo(
    () =>
      beside && then
        ? {
            name: beside.words,
            blocks: demandBlocks(then).map(({ t, watts }) => ({
              t: beside.alongside(t + block * 30_000),
              watts,
            })),
          }
        : null,
    [beside, then, block],
  );
  const blocks = useMemo(() => demandBlocks(series), [series]);
  const option = useMemo(
    () =>
      demandOption(
        phases.map(({ line, point }) => ({ line, series: series.find((s) => s.pointId === point?.id) })),
        span,
        zone,
        sheet,
        compared,
      ),
    [series, span, zone, phases, sheet, compared],
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
        {compared && (
          <p className="muted">
            beside {compared.name}{' '}
            <Measured value={compared.blocks.reduce((most, b) => Math.max(most, b.watts), 0)} unit="W" />
          </p>
        )}
        {highest && <p className="muted">{siteClock(zone, highest.t, 'd LLL HH:mm')}</p>}
      </div>
      <Chart option={option} onBrush={into} height={138} label={`Site demand per phase, ${words}`} />
    </section>
  );
}
