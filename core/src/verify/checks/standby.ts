import { mean } from 'd3-array';
import { pass, type Check } from '../check.js';
import type { Look } from '../circuit.js';
import type { SeenEvent } from '../events.js';
import { partOf, scatterOf, type Trace } from '../trace.js';
import { inWords } from '../words.js';

/** After a load was switched off until what is left is its standby, ms. */
const SETTLES = 4000;
/** Readings from which the level is taken. */
const LEAST = 5;
/** Less than this is nothing, W. */
const NOTHING = 0.5;
const HOURS_A_YEAR = 8766;

/**
 * What stays when the load has been switched off: the standby of the device itself, and of whatever else is on the circuit.
 * Null while no load has been seen to go.
 */
export function checkStandby({ own, offSpans }: Look, events: readonly SeenEvent[]): Check | null {
  const powers = own.total ? [own.total] : own.channels.map((c) => c.power);
  if (powers.length === 0 || powers.some((p) => p === null)) return null;
  const off = events.findLast((e) => !e.on && e.load !== null);
  if (!off) return null;
  const next = events.find((e) => e.t > off.t)?.t ?? Infinity;
  const parts = (powers as Trace[]).map((p) => partOf(p, off.t + SETTLES, next - SETTLES));
  // With its relay open nothing is left to draw: that is the zero.
  const isOpen = offSpans.some((s) => s.from < (parts[0]?.t.at(-1) ?? 0) && s.to > off.t + SETTLES);
  if (isOpen || parts.some((p) => p.v.length < LEAST)) return null;
  const watts = parts.reduce((sum, p) => sum + (mean(p.v) as number), 0);
  const scatter = Math.hypot(...parts.map((p) => scatterOf(p.v) / Math.sqrt(p.v.length)));
  const rests = `${inWords(watts, 'W')} after ${off.load?.name ?? 'the load'} was switched off`;
  if (Math.abs(watts) <= Math.max(NOTHING, 3 * scatter))
    return pass('standby', 'Switched off, it draws nothing.', rests);
  return pass(
    'standby',
    `Switched off, ${inWords(watts, 'W')} are still drawn: ${inWords(watts * HOURS_A_YEAR, 'Wh')} a year.`,
    rests,
  );
}
