import { bisectRight } from 'd3-array';
import { HOUR } from '../series/index.js';
import type { Levels } from './levels.js';
import type { PowerSpans } from './powerSpans.js';

/** A stretch of time at one level. */
export interface Visit {
  /** UTC ms, to a span. */
  start: number;
  end: number;
  /** Wh. */
  energy: number;
}

/** At another level for no longer than so many spans, it has not left. */
const BRIEF = 2;

/** When a load was at one of its levels, visit by visit; a gap ends one. @param index of the level */
export function visitsOf(
  { start, step, length, mean }: PowerSpans,
  { levels, floor }: Levels,
  index: number,
): Visit[] {
  const axis = (watts: number) => Math.asinh(watts / floor);
  const borders = levels
    .slice(1)
    .map((l, i) => floor * Math.sinh((axis((levels[i] as (typeof levels)[0]).high) + axis(l.low)) / 2));
  const visits: Visit[] = [];
  let open: Visit | null = null;
  let away = 0;
  for (let i = 0; i < length; i++) {
    const m = mean[i] as number;
    if (Number.isNaN(m)) {
      open = null;
      continue;
    }
    const t = start + i * step;
    const level = levels[bisectRight(borders, m)] as (typeof levels)[0];
    const here = level === levels[index] && m >= level.low - 2 * floor - 0.1 * Math.abs(level.watts);
    if (here) {
      if (open && away <= BRIEF) open.end = t + step;
      else visits.push((open = { start: t, end: t + step, energy: 0 }));
      open.energy += (m * step) / HOUR;
      away = 0;
    } else away++;
  }
  return visits;
}
