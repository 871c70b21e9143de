import { isReadable } from '@loka/core/points';
import { useSearchParams } from 'react-router';
import type { FormerPoint, Point } from '@loka/contract/points';
import type { InstallationNode } from '@loka/contract/installation';
import type { Series } from '@loka/contract/readings';
import { printNumber } from '@loka/core/formats';
import { QUANTITIES, quantityInfo } from '@loka/core/quantities';
import { siteClock } from '@loka/core/time';
import { useMemo } from 'react';
import { useSeries } from '../api/useApi.js';
import Chart from '../charts/Chart.js';
import { trendOption, type Trended } from '../charts/trend.js';
import { tooltipBox } from '../charts/tooltip.js';
import { Figures } from '../shared/Figures.js';
import { meteredParts, nearestPoint, pointTitle, unitOf } from '../shared/nodes.js';
import { labelsOf } from '../shared/pointLabels.js';
import { usePeriod } from '../shared/period.js';
import { FailedState } from '../shared/states.js';
import { TAKE_OVER, useLiveSeries } from '../shared/useLiveSeries.js';
import { useSheet } from '../theme/useSheet.js';
import { Between } from './Between.js';
import { HappeningsLane } from './HappeningsLane.js';
import styles from './TrendPanel.module.css';

const WIDTH = 900;

/** A trend of chosen quantities over the period, from the store, going on live. */
export default function TrendPanel({
  node,
  nodes,
  points,
  former,
}: {
  node: InstallationNode;
  nodes: InstallationNode[];
  points: Point[];
  /** What was read here before by devices that were removed. */
  former: FormerPoint[];
}) {
  const { span, zone, words, into, pan, beside } = usePeriod();
  const [search, setSearch] = useSearchParams();
  const asked = search.get('q');
  const chosen = useMemo(
    () => (asked === null ? null : asked.split(',').map(Number).filter(Boolean)),
    [asked],
  );
  const choices = useMemo(() => {
    const own = [...choicesOf(node, nodes, points), ...former];
    const others = (chosen ?? shownFirst(node, nodes)).flatMap((id) =>
      own.some((p) => p.id === id) ? [] : (points.find((p) => p.id === id) ?? []),
    );
    return [...own, ...others];
  }, [node, nodes, points, former, chosen]);
  const ids = (chosen ?? shownFirst(node, nodes)).filter((id) => choices.some((p) => p.id === id));
  const { data, error, mutate } = useSeries(ids, span.start, span.end, { width: WIDTH }, TAKE_OVER);
  const shown = useMemo(
    () => choices.filter((p) => ids.includes(p.id)),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the ids are a new array each time; what is in them counts
    [choices, ids.join(',')],
  );
  const series = useLiveSeries(data, shown, span.end);
  const { data: then } = useSeries(beside ? ids : [], beside?.span.start ?? 0, beside?.span.end ?? 0, {
    width: WIDTH,
  });
  const besideSeries = useMemo(
    () => (beside ? (then ?? []).map((s) => ({ ...s, t: s.t.map(beside.alongside) })) : []),
    [then, beside],
  );
  const { sheet, series: colours } = useSheet();
  const option = useMemo(
    () => trendOption(series, shown.map(trended), span, zone, sheet, colours, tooltipBox, besideSeries),
    [series, shown, span, zone, sheet, colours, besideSeries],
  );
  const labels = labelsOf(choices);
  const chip = (point: Point, label: string) => {
    const index = shown.indexOf(point);
    return (
      <button
        key={point.id}
        type="button"
        aria-pressed={index >= 0}
        onClick={() => toggle(point.id)}
        className={styles.chip}
      >
        <span
          style={{ background: index >= 0 ? colours[index % colours.length] : 'transparent' }}
          aria-hidden
        />
        {label}
      </button>
    );
  };
  const choose = (next: number[]) =>
    setSearch(
      (before) => {
        before.set('q', next.join(','));
        return before;
      },
      { replace: true },
    );
  const toggle = (id: number) => choose(ids.includes(id) ? ids.filter((i) => i !== id) : [...ids, id]);
  const elsewhere = points.filter((p) => !choices.some((c) => c.id === p.id) && isTrended(p));
  return (
    <section className={styles.trend} aria-label="Trend">
      <div className={styles.chips} role="group" aria-label="Quantities">
        {choices.map((point, i) =>
          isFormer(point)
            ? null
            : chip(point, `${labels[i]}${point.nodeId !== node.id ? `, ${placeOf(nodes, point)}` : ''}`),
        )}
        <select
          className={styles.more}
          value=""
          aria-label="Add a quantity of another place"
          onChange={(e) => choose([...ids, Number(e.target.value)])}
        >
          <option value="">of another place …</option>
          {elsewhere.map((p) => (
            <option key={p.id} value={p.id}>
              {placeOf(nodes, p)}: {p.definition.name}
            </option>
          ))}
        </select>
      </div>
      {byDevice(former).map(([first, ...more]) => (
        <details
          key={`${first.deviceId} ${first.removedAt}`}
          className={styles.former}
          open={choices.length === former.length}
        >
          <summary>
            Read here before: {first.deviceName}, until {siteClock(zone, first.removedAt, 'd LLL yyyy HH:mm')}
          </summary>
          <div className={styles.chips} role="group" aria-label={`Quantities of ${first.deviceName}`}>
            {[first, ...more].map((point) => chip(point, point.definition.name))}
          </div>
        </details>
      ))}
      {error && !data ? (
        <FailedState error={error} retry={() => void mutate()} />
      ) : ids.length === 0 ? (
        <p className="muted">Choose a quantity above.</p>
      ) : (
        <Chart
          option={option}
          onBrush={into}
          onPan={pan}
          height={Math.max(260, 120 + 120 * new Set(shown.map(unitOf)).size)}
          label={`${shown.map(pointTitle).join('; ')}: ${words}`}
        />
      )}
      <Between node={node} />
      {beside && ids.length > 0 && <p className={styles.beside}>Dashed: {beside.words}</p>}
      <HappeningsLane node={node} />
      {series.length > 0 && (
        <Figures
          caption={`Trend, ${words}`}
          head={['Time', ...shown.flatMap((p) => [`${p.definition.name}, mean#`, 'least#', 'most#'])]}
          rows={figureRows(series, shown, zone)}
        />
      )}
      {series.length > 0 && series.every((s) => s.t.length === 0) && (
        <p className="muted">There are no readings in this period.</p>
      )}
    </section>
  );
}

/** What is drawn until somebody chooses: its power, or of a board without a meter that of what hangs on it. */
function shownFirst(node: InstallationNode, nodes: InstallationNode[]): number[] {
  if (node.powerPointIds.length > 0) return node.powerPointIds;
  if (node.kind === 'board' || node.kind === 'supply')
    return meteredParts(nodes, node.id)
      .flatMap((p) => p.powerPointIds)
      .slice(0, MOST_FIRST);
  return node.currentPointIds;
}

/** So many lines can be told apart. */
const MOST_FIRST = 8;

const placeOf = (nodes: readonly InstallationNode[], point: Point): string =>
  nodes.find((n) => n.id === point.nodeId)?.name ?? point.deviceName;

const isTrended = ({ definition }: Point): boolean =>
  isReadable(definition) &&
  quantityInfo(definition.quantity).kind === 'instant' &&
  definition.quantity !== 'other';

/** At most so many lines of figures: more nobody reads. */
const MOST_ROWS = 400;

function figureRows(series: readonly Series[], shown: readonly Point[], zone: string): string[][] {
  const times = [...new Set(series.flatMap((s) => s.t))].sort((a, b) => a - b);
  const every = Math.ceil(times.length / MOST_ROWS);
  const columns = shown.map((p) => {
    const s = series.find((one) => one.pointId === p.id);
    return { unit: unitOf(p), s, at: new Map(s?.t.map((t, i) => [t, i])) };
  });
  const text = (v: number | null | undefined, unit: string) => {
    if (v == null) return '–';
    const { digits, unit: printed } = printNumber(v, unit);
    return `${digits} ${printed}`.trim();
  };
  return times
    .filter((_, i) => i % every === 0)
    .map((t) => [
      siteClock(zone, t, 'd LLL HH:mm:ss'),
      ...columns.flatMap(({ s, at, unit }) => {
        const i = at.get(t) ?? -1;
        return [s?.mean[i], s?.min[i], s?.max[i]].map((v) => text(v, unit));
      }),
    ]);
}

const isFormer = (point: Point): point is FormerPoint => 'removedAt' in point;

/** What was read before, device by device and each time that it was removed. */
function byDevice(former: readonly FormerPoint[]): [FormerPoint, ...FormerPoint[]][] {
  const groups = new Map<string, [FormerPoint, ...FormerPoint[]]>();
  for (const point of former) {
    const key = `${point.deviceId} ${point.removedAt}`;
    const group = groups.get(key);
    if (group) group.push(point);
    else groups.set(key, [point]);
  }
  return [...groups.values()];
}

/** The points of the node, and the voltage that it is measured against. */
function choicesOf(node: InstallationNode, nodes: InstallationNode[], points: Point[]): Point[] {
  const own = points.filter((p) => p.nodeId === node.id && isReadable(p.definition));
  const voltage = own.some((p) => p.definition.quantity === 'voltage')
    ? undefined
    : nearestPoint(nodes, points, node, 'voltage');
  const order = Object.keys(QUANTITIES);
  return [...own, ...(voltage ? [voltage] : [])].sort(
    (a, b) => order.indexOf(a.definition.quantity) - order.indexOf(b.definition.quantity),
  );
}

const trended = (point: Point): Trended => ({
  id: point.id,
  name: point.definition.name,
  unit: unitOf(point),
});
