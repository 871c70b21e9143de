import { BarChart, LineChart, ScatterChart } from 'echarts/charts';
import { GridComponent, MarkAreaComponent, MarkLineComponent, TooltipComponent } from 'echarts/components';
import * as echarts from 'echarts/core';
import type { EChartsCoreOption } from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';
import { useEffect, useRef } from 'react';

echarts.use([
  BarChart,
  LineChart,
  ScatterChart,
  GridComponent,
  TooltipComponent,
  MarkLineComponent,
  MarkAreaComponent,
  CanvasRenderer,
]);

/** A drawing by ECharts that follows its options and its size. `label` says in words what it shows. */
export default function Chart({
  option,
  height,
  label,
}: {
  option: EChartsCoreOption;
  height: number | string;
  label: string;
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
    chart.current?.setOption(option, { replaceMerge: ['series', 'yAxis'] });
  }, [option]);
  return <div ref={box} role="img" aria-label={label} style={{ height, width: '100%' }} />;
}
