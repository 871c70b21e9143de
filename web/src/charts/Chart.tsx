import { BarChart, LineChart, ScatterChart } from 'echarts/charts';
import {
  AriaComponent,
  GridComponent,
  MarkAreaComponent,
  MarkLineComponent,
  TooltipComponent,
} from 'echarts/components';
import * as echarts from 'echarts/core';
import type { EChartsCoreOption } from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';
import { useEffect, useRef, useState, type PointerEvent } from 'react';
import styles from './Chart.module.css';

echarts.use([
  BarChart,
  LineChart,
  ScatterChart,
  AriaComponent,
  GridComponent,
  TooltipComponent,
  MarkLineComponent,
  MarkAreaComponent,
  CanvasRenderer,
]);

/** A shorter stroke of the pointer is a click, px. */
const LEAST_DRAWN = 6;

/** A drawing by ECharts that follows its options and its size. `label` says in words what it shows. */
export default function Chart({
  option,
  height,
  label,
  onBrush,
  onPan,
  onPart,
}: {
  option: EChartsCoreOption;
  height: number | string;
  label: string;
  /** Called with the stretch of a time axis that was drawn over with the pointer, UTC ms. */
  onBrush?: (span: { start: number; end: number }) => void;
  /** Called with how far a time axis was drawn along with Shift held, ms. */
  onPan?: (ms: number) => void;
  /** Called with the part of a category axis that was clicked twice. */
  onPart?: (index: number) => void;
}) {
  const box = useRef<HTMLDivElement>(null);
  const chart = useRef<echarts.ECharts | null>(null);
  useEffect(() => {
    const element = box.current as HTMLDivElement;
    const made = echarts.init(element);
    chart.current = made;
    const watcher = new ResizeObserver(() => made.resize());
    watcher.observe(element);
    return () => {
      watcher.disconnect();
      made.dispose();
    };
  }, []);
  useEffect(() => {
    // What there are fewer of now goes: an axis that stayed without its counterpart could not be drawn.
    chart.current?.setOption(option, { replaceMerge: ['series', 'grid', 'xAxis', 'yAxis'] });
  }, [option]);
  const [drawn, setDrawn] = useState<{ from: number; to: number; pan: boolean } | null>(null);
  const at = (event: PointerEvent): number =>
    event.clientX - (box.current as HTMLDivElement).getBoundingClientRect().left;
  const end = () => {
    if (drawn && onBrush && Math.abs(drawn.to - drawn.from) > LEAST_DRAWN) {
      const [a, b] = [drawn.from, drawn.to]
        .sort((x, y) => (drawn.pan ? 0 : x - y))
        .map((x) => chart.current?.convertFromPixel({ xAxisIndex: 0 }, x) as unknown as number);
      if (Number.isFinite(a) && Number.isFinite(b)) {
        const [start, end] = [a as number, b as number];
        if (drawn.pan) onPan?.(start - end);
        else onBrush({ start, end });
      }
    }
    setDrawn(null);
  };
  const part = (event: PointerEvent | React.MouseEvent) => {
    const index = chart.current?.convertFromPixel(
      { xAxisIndex: 0 },
      at(event as PointerEvent),
    ) as unknown as number;
    if (Number.isInteger(index) && index >= 0) onPart?.(index);
  };
  return (
    <div
      className={styles.box}
      style={height === '100%' ? { height } : undefined}
      data-brush={onBrush !== undefined}
      onPointerDown={(e) => {
        if (!onBrush || e.button !== 0) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        setDrawn({ from: at(e), to: at(e), pan: e.shiftKey && onPan !== undefined });
      }}
      onPointerMove={(e) => {
        const to = at(e);
        setDrawn((before) => before && { ...before, to });
      }}
      onPointerUp={end}
      onPointerCancel={() => setDrawn(null)}
      onDoubleClick={onPart ? part : undefined}
    >
      <div ref={box} role="img" aria-label={label} style={{ height, width: '100%' }} />
      {drawn && !drawn.pan && Math.abs(drawn.to - drawn.from) > LEAST_DRAWN && (
        <span
          className={styles.drawn}
          style={{ left: Math.min(drawn.from, drawn.to), width: Math.abs(drawn.to - drawn.from) }}
          aria-hidden
        />
      )}
    </div>
  );
}
