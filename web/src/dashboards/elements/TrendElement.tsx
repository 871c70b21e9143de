import type { DashboardElement } from '@loka/core/dashboards';
import type { Point } from '@loka/contract/points';
import { useMemo } from 'react';
import { useSeries } from '../../api/useApi.js';
import Chart from '../../charts/Chart.js';
import { tooltipBox } from '../../charts/tooltip.js';
import { trendOption, type Trended } from '../../charts/trend.js';
import { unitOf } from '../../shared/nodes.js';
import { TAKE_OVER, useLiveSeries } from '../../shared/useLiveSeries.js';
import { useSheet } from '../../theme/useSheet.js';
import { useFacts } from '../facts.js';
import { titleOf, type Shown } from '../shown.js';
import styles from './elements.module.css';
import { Lane } from './Lane.js';
import { useSpan } from './useSpan.js';

const WIDTH = 700;
/** What comes in is drawn no more often than this: a trend of hours does not move within a second, ms. */
const DRAWN_EVERY = 5000;

/** Up to four quantities over time, and below them what happened. */
export default function TrendElement({ element, shown }: { element: DashboardElement; shown: Shown[] }) {
  const facts = useFacts();
  const { span, words } = useSpan(element.span);
  const { sheet, series: colours } = useSheet();
  const lines = useMemo(() => linesOf(shown, facts.points), [shown, facts.points]);
  const points = useMemo(() => lines.map((l) => l.point), [lines]);
  const { data } = useSeries(
    points.map((p) => p.id),
    span.start,
    span.end,
    { width: WIDTH },
    TAKE_OVER,
  );
  const series = useLiveSeries(data, points, span.end, DRAWN_EVERY);
  const option = useMemo(
    () =>
      trendOption(
        series,
        lines.map((l) => l.trended),
        span,
        facts.zone,
        sheet,
        colours,
        tooltipBox,
      ),
    [series, lines, span, facts.zone, sheet, colours],
  );
  const place = shown.find((s) => s.node)?.node;
  if (points.length === 0) return <p className="muted">Nothing measures this yet.</p>;
  return (
    <div className={styles.trend}>
      <p className={styles.legend}>
        {lines.map((l, i) => (
          <span key={l.point.id}>
            <i style={{ background: colours[i % colours.length] }} aria-hidden />
            {l.trended.name}
          </span>
        ))}
      </p>
      <div className={styles.drawing}>
        <Chart option={option} height="100%" label={`${titleOf(element, facts)}, ${words}`} />
      </div>
      {place && <Lane nodeId={place.id} span={span} />}
    </div>
  );
}

/** One line a point: of a place the points that its power comes from. */
function linesOf(shown: readonly Shown[], points: readonly Point[]): { point: Point; trended: Trended }[] {
  return shown.flatMap(({ groups, name }) => {
    const own = groups.flat().flatMap((id) => points.find((p) => p.id === id) ?? []);
    return own.slice(0, MOST_LINES).map((point) => ({
      point,
      trended: {
        id: point.id,
        name: own.length === 1 ? name : `${name} ${point.phase ?? point.definition.name}`,
        unit: unitOf(point),
      },
    }));
  });
}

/** So many lines of one place can be told apart. */
const MOST_LINES = 6;
