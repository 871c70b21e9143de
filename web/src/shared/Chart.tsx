import { BarChart, LineChart, ScatterChart } from 'echarts/charts';
import { GridComponent, MarkAreaComponent, MarkLineComponent, TooltipComponent } from 'echarts/components';
import * as echarts from 'echarts/core';
import type { EChartsCoreOption } from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';
import { useEffect, useRef } from 'react';
import type { Sheet } from '../theme/tokens.js';

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

/** What every chart shares: type, hairlines, quiet grid. */
export function chartBase(sheet: Sheet): EChartsCoreOption {
  const axis = {
    axisLine: { lineStyle: { color: sheet.ink } },
    axisTick: { show: false },
    axisLabel: { color: sheet.ink2, fontFamily: 'IBM Plex Mono', fontSize: 11 },
    splitLine: { lineStyle: { color: sheet.rule } },
  };
  return {
    animation: false,
    textStyle: { fontFamily: 'Barlow Semi Condensed', color: sheet.ink },
    grid: { left: 56, right: 14, top: 16, bottom: 26 },
    tooltip: {
      trigger: 'axis',
      backgroundColor: sheet.sheet,
      borderColor: sheet.strongRule,
      textStyle: { color: sheet.ink, fontSize: 12 },
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
