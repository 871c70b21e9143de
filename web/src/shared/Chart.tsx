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

/** The value of a colour token on the sheet in use. */
export const ink = (name: string): string =>
  getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim();

/** What every chart shares: type, hairlines, quiet grid. */
export function chartBase(): EChartsCoreOption {
  const axis = {
    axisLine: { lineStyle: { color: ink('ink') } },
    axisTick: { show: false },
    axisLabel: { color: ink('ink2'), fontFamily: 'IBM Plex Mono', fontSize: 11 },
    splitLine: { lineStyle: { color: ink('rule') } },
  };
  return {
    animation: false,
    textStyle: { fontFamily: 'Barlow Semi Condensed', color: ink('ink') },
    grid: { left: 56, right: 14, top: 16, bottom: 26 },
    tooltip: {
      trigger: 'axis',
      backgroundColor: ink('sheet'),
      borderColor: ink('strong-rule'),
      textStyle: { color: ink('ink'), fontSize: 12 },
      extraCssText: 'box-shadow:none;border-radius:3px',
    },
    xAxis: { ...axis },
    yAxis: { ...axis, axisLine: { show: false } },
  };
}

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
