import type { Point } from '@loka/contract/points';
import type { InstallationNode } from '@loka/contract/installation';
import type { Series } from '@loka/contract/readings';
import { printNumber } from '@loka/core/formats';
import { QUANTITIES } from '@loka/core/quantities';
import { siteClock } from '@loka/core/time';
import { useEffect, useMemo, useState } from 'react';
import { onReadings } from '../api/live.js';
import { useSeries } from '../api/useApi.js';
import Chart, { chartBase } from '../shared/Chart.js';
import { nearestPoint, pointTitle, unitOf } from '../shared/nodes.js';
import { labelsOf } from '../shared/pointLabels.js';
import { usePeriod } from '../shared/period.js';
import { FailedState } from '../shared/states.js';
import type { Sheet } from '../theme/tokens.js';
import { useSheet } from '../theme/useSheet.js';
import styles from './TrendPanel.module.css';

const WIDTH = 900;

/** A trend of chosen quantities over the period, from the store, going on live. */
export default function TrendPanel({
  node,
  nodes,
  points,
}: {
  node: InstallationNode;
  nodes: InstallationNode[];
  points: Point[];
}) {
  const { span, zone, words } = usePeriod();
  const choices = useMemo(() => choicesOf(node, nodes, points), [node, nodes, points]);
  const [chosen, setChosen] = useState<number[] | null>(null);
  const ids = (chosen ?? node.powerPointIds).filter((id) => choices.some((p) => p.id === id));
  const { data, error, mutate } = useSeries(ids, span.start, span.end, { width: WIDTH });
  const series = useLiveSeries(data, ids, span.end);
  const { sheet, series: colours } = useSheet();
  const shown = choices.filter((p) => ids.includes(p.id));
  const option = useMemo(
    () => trendOption(series, shown, span, zone, sheet, colours),
    [series, shown, span, zone, sheet, colours],
  );
  const labels = labelsOf(choices);
  const toggle = (id: number) => setChosen(ids.includes(id) ? ids.filter((i) => i !== id) : [...ids, id]);
  return (
    <section className={styles.trend} aria-label="Trend">
      <div className={styles.chips} role="group" aria-label="Quantities">
        {choices.map((point, i) => {
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
                style={{
                  background: index >= 0 ? colours[index % colours.length] : 'transparent',
                }}
                aria-hidden
              />
              {labels[i]}
              {point.nodeId !== node.id ? `, ${point.deviceName}` : ''}
            </button>
          );
        })}
      </div>
      {error && !data ? (
        <FailedState error={error} retry={() => void mutate()} />
      ) : ids.length === 0 ? (
        <p className="muted">Choose a quantity above.</p>
      ) : (
        <Chart
          option={option}
          height={Math.max(260, 120 + 120 * new Set(shown.map(unitOf)).size)}
          label={`${shown.map(pointTitle).join('; ')}: ${words}`}
        />
      )}
      {series.length > 0 && series.every((s) => s.t.length === 0) && (
        <p className="muted">There are no readings in this period.</p>
      )}
    </section>
  );
}

/** The points of the node, and the voltage that it is measured against. */
function choicesOf(node: InstallationNode, nodes: InstallationNode[], points: Point[]): Point[] {
  const own = points.filter((p) => p.nodeId === node.id && p.definition.access !== 'write');
  const voltage = own.some((p) => p.definition.quantity === 'voltage')
    ? undefined
    : nearestPoint(nodes, points, node, 'voltage');
  const order = Object.keys(QUANTITIES);
  return [...own, ...(voltage ? [voltage] : [])].sort(
    (a, b) => order.indexOf(a.definition.quantity) - order.indexOf(b.definition.quantity),
  );
}

/** Appends what comes in live to what came from the store, while the period reaches up to now. */
function useLiveSeries(stored: Series[] | undefined, ids: number[], end: number): Series[] {
  const [tail, setTail] = useState<Map<number, { t: number; v: number | null }[]>>(new Map());
  const key = ids.join(',');
  useEffect(() => setTail(new Map()), [stored, key]);
  useEffect(() => {
    const wanted = new Set(key.split(',').map(Number));
    return onReadings((batch) => {
      const news = batch.filter((r) => wanted.has(r.pointId) && r.t < end);
      if (news.length === 0) return;
      setTail((before) => {
        const next = new Map(before);
        for (const r of news)
          next.set(r.pointId, [...(next.get(r.pointId) ?? []).slice(-3600), { t: r.t, v: r.v }]);
        return next;
      });
    });
  }, [key, end]);
  return useMemo(
    () =>
      (stored ?? []).map((s) => {
        const last = (s.t.at(-1) ?? 0) + s.step;
        const live = (tail.get(s.pointId) ?? []).filter((r) => r.t > last);
        const values = live.map((r) => r.v);
        return {
          ...s,
          t: [...s.t, ...live.map((r) => r.t)],
          mean: [...s.mean, ...values],
          min: [...s.min, ...values],
          max: [...s.max, ...values],
        };
      }),
    [stored, tail],
  );
}

/** One strip a unit, one below the other, on a common time axis; the band is from the lowest to the highest value. */
function trendOption(
  series: Series[],
  shown: Point[],
  span: { start: number; end: number },
  zone: string,
  sheet: Sheet,
  colours: string[],
) {
  const base = chartBase(sheet);
  const units = [...new Set(shown.map(unitOf))];
  const share = 100 / units.length;
  const long = span.end - span.start > 2 * 86_400_000;
  const format = long ? 'd LLL' : 'HH:mm';
  const x = base.xAxis as { axisLabel: object };
  const y = base.yAxis as { axisLabel: object };
  return {
    ...base,
    grid: units.map((_, i) => ({ left: 62, right: 12, top: `${i * share + 4}%`, height: `${share - 13}%` })),
    axisPointer: { link: [{ xAxisIndex: 'all' }] },
    tooltip: {
      ...(base.tooltip as object),
      formatter: (items: TooltipItem[]) => tooltip(items, shown, zone),
    },
    xAxis: units.map((_, i) => ({
      ...x,
      type: 'time',
      gridIndex: i,
      min: span.start,
      max: span.end,
      splitLine: { show: false },
      axisLabel: { ...x.axisLabel, hideOverlap: true, formatter: (t: number) => siteClock(zone, t, format) },
    })),
    yAxis: units.map((unit, i) => ({
      ...y,
      type: 'value',
      gridIndex: i,
      scale: unit === 'V' || unit === 'Hz',
      splitNumber: 3,
      axisLabel: { ...y.axisLabel, formatter: (v: number) => axisText(v, unit) },
    })),
    series: series.flatMap((s) => {
      const point = shown.find((p) => p.id === s.pointId);
      if (!point) return [];
      const colour = colours[shown.indexOf(point) % colours.length];
      const axis = units.indexOf(unitOf(point));
      const common = {
        type: 'line',
        xAxisIndex: axis,
        yAxisIndex: axis,
        showSymbol: false,
        connectNulls: false,
        step: s.step === 0 ? 'end' : false,
      };
      const line = {
        ...common,
        name: String(point.id),
        lineStyle: { width: 1.3, color: colour },
        itemStyle: { color: colour },
        data: s.t.map((t, i) => [t + s.step / 2, s.mean[i]]),
      };
      if (s.step === 0) return [line];
      const edge = (values: (number | null)[]) => ({
        ...common,
        name: '',
        silent: true,
        tooltip: { show: false },
        lineStyle: { width: 0.6, color: colour, opacity: 0.35 },
        itemStyle: { color: colour },
        data: s.t.map((t, i) => [t + s.step / 2, values[i]]),
      });
      return [line, edge(s.min), edge(s.max)];
    }),
  };
}

function axisText(value: number, unit: string): string {
  if (unit === 'W' || unit === 'Wh')
    return Math.abs(value) >= 1000 ? `${value / 1000} k${unit}` : `${value} ${unit}`;
  return `${value} ${unit}`.trim();
}

interface TooltipItem {
  seriesName: string;
  color: string;
  value: [number, number | null];
}

function tooltip(items: TooltipItem[], shown: Point[], zone: string): HTMLElement {
  const box = document.createElement('div');
  const named = items.filter((item) => item.seriesName !== '' && item.value[1] !== null);
  const head = document.createElement('div');
  head.textContent = items[0] ? siteClock(zone, items[0].value[0], 'ccc d LLL HH:mm:ss') : '';
  box.append(head);
  for (const item of named) {
    const point = shown.find((p) => String(p.id) === item.seriesName);
    const row = document.createElement('div');
    const { digits, unit } = printNumber(item.value[1] as number, point ? unitOf(point) : '');
    row.textContent = `${point?.definition.name ?? ''}  ${digits} ${unit}`;
    row.style.color = item.color;
    box.append(row);
  }
  return box;
}
