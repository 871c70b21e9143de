import type { InstallationNode } from '@loka/contract/installation';
import { printNumber } from '@loka/core/formats';
import { siteClock } from '@loka/core/time';
import { useMemo } from 'react';
import { usePoints, useSeries } from '../api/useApi.js';
import Chart, { chartBase } from '../shared/Chart.js';
import { Measured } from '../shared/Measured.js';
import { usePeriod } from '../shared/period.js';
import { useSheet } from '../theme/useSheet.js';
import styles from './DemandDrawing.module.css';

/** Quarter-hours are what demand is charged by (trade); a month of them would be too fine to see. */
const blockFor = (ms: number): number => (ms > 20 * 86_400_000 ? 240 : ms > 3 * 86_400_000 ? 60 : 15);

const LINE_COLOUR = { L1: 'l1', L2: 'l2', L3: 'l3' } as const;

/** The site's demand over the chosen period in blocks of equal length, stacked by phase. */
export default function DemandDrawing({ supply }: { supply: InstallationNode }) {
  const { span, zone, words } = usePeriod();
  const { sheet } = useSheet();
  const { data: points = [] } = usePoints();
  const phases = (['L1', 'L2', 'L3'] as const)
    .map((line) => ({
      line,
      point: points.find(
        (p) => p.nodeId === supply.id && p.definition.quantity === 'active-power' && p.phase === line,
      ),
    }))
    .filter((p) => p.point !== undefined);
  const block = blockFor(span.end - span.start);
  const { data: series = [] } = useSeries(
    phases.map((p) => p.point?.id ?? 0),
    span.start,
    span.end,
    { block },
  );
  const blocks = useMemo(() => blocksOf(series), [series]);
  const option = useMemo(() => {
    const base = chartBase(sheet);
    return {
      ...base,
      grid: { left: 44, right: 8, top: 10, bottom: 22 },
      tooltip: {
        ...(base.tooltip as object),
        valueFormatter: (v: number) => printNumber(v, 'W').digits + ' ' + printNumber(v, 'W').unit,
      },
      xAxis: {
        ...(base.xAxis as object),
        type: 'time',
        min: span.start,
        max: span.end,
        splitLine: { show: false },
        axisLabel: {
          ...(base.xAxis as { axisLabel: object }).axisLabel,
          formatter: (t: number) =>
            siteClock(zone, t, span.end - span.start > 2 * 86_400_000 ? 'd LLL' : 'HH'),
        },
      },
      yAxis: {
        ...(base.yAxis as object),
        type: 'value',
        axisLabel: {
          ...(base.yAxis as { axisLabel: object }).axisLabel,
          formatter: (v: number) => `${v / 1000} kW`,
        },
      },
      series: phases.map(({ line, point }) => {
        const own = series.find((s) => s.pointId === point?.id);
        return {
          type: 'bar',
          name: line,
          stack: 'demand',
          barCategoryGap: '12%',
          barMinWidth: 1,
          itemStyle: {
            color: sheet[LINE_COLOUR[line]],
            borderColor: sheet.outline,
            borderWidth: sheet.outline === 'transparent' ? 0 : 0.5,
          },
          data: own ? own.t.map((t, i) => [t + own.step / 2, own.mean[i]]) : [],
        };
      }),
    };
  }, [series, span, zone, phases, sheet]);
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
      <Chart option={option} height={138} label={`Site demand per phase, ${words}`} />
    </section>
  );
}

/** Sums of the phases, block by block; a block in which a phase is missing has no sum. */
function blocksOf(series: { t: number[]; mean: (number | null)[] }[]): { t: number; watts: number }[] {
  const sums = new Map<number, { watts: number; count: number }>();
  for (const one of series)
    one.t.forEach((t, i) => {
      const mean = one.mean[i];
      if (mean == null) return;
      const before = sums.get(t) ?? { watts: 0, count: 0 };
      sums.set(t, { watts: before.watts + mean, count: before.count + 1 });
    });
  return [...sums].filter(([, s]) => s.count === series.length).map(([t, s]) => ({ t, watts: s.watts }));
}
