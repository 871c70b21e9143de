import { HOUR } from '../series/index.js';
import { levelAt, type Level, type Levels } from './levels.js';
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
/** On the way to a level it is not at it: less than this share below its lowest. */
const BELOW = 0.1;

/** When a load was at one of its levels, visit by visit; a gap ends one. @param index of the level */
export function visitsOf({ start, step, length, mean }: PowerSpans, found: Levels, index: number): Visit[] {
  const at = levelAt(found);
  const level = found.levels[index] as Level;
  const least = level.low - 2 * found.floor - BELOW * Math.abs(level.watts);
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
    const here = at(m) === index && m >= least;
    if (here) {
      if (open && away <= BRIEF) open.end = t + step;
      else visits.push((open = { start: t, end: t + step, energy: 0 }));
      open.energy += (m * step) / HOUR;
      away = 0;
    } else away++;
  }
  return visits;
}
