import type { EChartsCoreOption } from 'echarts/core';
import type { Sheet } from '../theme/tokens.js';

/** An axis as every chart begins with it. */
export interface BaseAxis {
  axisLine: object;
  axisTick: object;
  axisLabel: { color: string; fontFamily: string; fontSize: number };
  splitLine: object;
}

/** What every chart shares: type, hairlines, quiet grid. */
export function chartBase(
  sheet: Sheet,
): EChartsCoreOption & { xAxis: BaseAxis; yAxis: BaseAxis; tooltip: object } {
  const axis: BaseAxis = {
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
