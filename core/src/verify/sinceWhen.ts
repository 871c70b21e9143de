import { quantile } from 'd3-array';
import type { Fault } from './faults.js';

/** An hour of a place's power, W; null where nothing was read. */
export interface HourOfPower {
  t: number;
  min: number | null;
  max: number | null;
}

export interface SinceWhen {
  /** UTC ms */
  t: number;
  /** How that is known. */
  because: 'last-right' | 'always';
}

const HOUR = 3_600_000;
/** What a reading may differ from the usual before it counts as another, relative. */
const BETWEEN = 0.5;

/**
 * When a fault began, as far as its own readings tell: after the last hour in which power was read as it is right. For a
 * clamp that is turned round that is power towards the load; for what reads too little or too much, the highest power of an
 * hour, which is compared with that of the latest hours. 'always' where no hour was right.
 * @param hours whole hours in time order, up to when the fault was seen
 */
export function sinceWhen(hours: readonly HourOfPower[], fault: Fault): SinceWhen {
  const first = hours.find((h) => h.max !== null)?.t ?? hours[0]?.t ?? 0;
  const last = hours.findLastIndex((hour) => isRight(hour, hours, fault));
  const hour = hours[last];
  if (!hour) return { t: first, because: 'always' };
  return { t: hour.t + HOUR, because: 'last-right' };
}

function isRight({ min, max }: HourOfPower, hours: readonly HourOfPower[], fault: Fault): boolean {
  if (min === null || max === null) return false;
  if (fault.kind === 'reversed') return max > 20 && min > -max / 2;
  const usual = highOf(hours.slice(-LATEST));
  if (usual === null) return false;
  const factor = fault.factor ?? (fault.kind === 'clipped' ? 0.8 : 0.4);
  if (factor < 1) return max > usual * (1 + (1 / Math.max(factor, 0.02) - 1) * BETWEEN);
  return max < usual * (1 - (1 - 1 / factor) * BETWEEN) && max > usual / factor / 2;
}

/** Hours that show what a fault makes of the readings: two days. */
const LATEST = 48;

/** What power comes up to, W: high hours, without the odd peak. */
function highOf(hours: readonly HourOfPower[]): number | null {
  const sizes = hours.flatMap((h) =>
    h.max === null ? [] : [Math.max(Math.abs(h.max), Math.abs(h.min ?? 0))],
  );
  return quantile(sizes, 0.95) ?? null;
}
