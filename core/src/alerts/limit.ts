import { isGood, QUALITY, type QualityCode } from '../series/index.js';

/** An alert's condition: a reading beyond a limit. */
export interface LimitCondition {
  direction: 'above' | 'below';
  /** Base unit of the point. */
  limit: number;
  /** How far the reading must come back before the condition ends. Not negative. */
  deadband: number;
  /** How long the reading must stay beyond before the alert is raised, ms. */
  onDelayMs: number;
  /** How long it must stay back before the alert returns, ms. */
  offDelayMs: number;
}

/** The life of an alert, after the alarm states of IEC 62682. */
export const ALERT_PHASES = ['normal', 'unacknowledged', 'acknowledged', 'returned-unacknowledged'] as const;
export type AlertPhase = (typeof ALERT_PHASES)[number];

export interface AlertState {
  phase: AlertPhase;
  /** Since when the condition has been about to change, or null. */
  pendingSince: number | null;
}

export type AlertEvent = 'raised' | 'returned';

export const QUIET: AlertState = { phase: 'normal', pendingSince: null };

export const isActive = (phase: AlertPhase): boolean =>
  phase === 'unacknowledged' || phase === 'acknowledged';

/**
 * Moves an alert on with a reading that came at instant t, by the monotonic clock. A reading that is not good
 * changes nothing and restarts the delays: what is not known neither raises an alert nor ends one. One at the end of its
 * sensor's range is known to be at least so large: it is above any limit.
 */
export function stepLimitAlert(
  condition: LimitCondition,
  state: AlertState,
  reading: { t: number; v: number | null; q: QualityCode },
): { state: AlertState; event: AlertEvent | null } {
  const { t, v, q } = reading;
  const saturated = q === QUALITY.saturated;
  if (v === null || !(isGood(q) || saturated))
    return { state: { ...state, pendingSince: null }, event: null };
  const active = isActive(state.phase);
  // Its sign is known, and so on which side of it the true value lies.
  const value = saturated ? Math.sign(v) * Infinity : v;
  const changing = active ? isBack(condition, value) : isBeyond(condition, value);
  if (!changing) return { state: { ...state, pendingSince: null }, event: null };
  const since = state.pendingSince ?? t;
  const delay = active ? condition.offDelayMs : condition.onDelayMs;
  if (t - since < delay) return { state: { ...state, pendingSince: since }, event: null };
  if (!active) return { state: { phase: 'unacknowledged', pendingSince: null }, event: 'raised' };
  const phase = state.phase === 'acknowledged' ? 'normal' : 'returned-unacknowledged';
  return { state: { phase, pendingSince: null }, event: 'returned' };
}

/** The state after a person has seen the alert. */
export function acknowledge(state: AlertState): AlertState {
  if (state.phase === 'unacknowledged') return { ...state, phase: 'acknowledged' };
  if (state.phase === 'returned-unacknowledged') return { ...state, phase: 'normal' };
  return state;
}

const isBeyond = ({ direction, limit }: LimitCondition, v: number): boolean =>
  direction === 'above' ? v > limit : v < limit;

const isBack = ({ direction, limit, deadband }: LimitCondition, v: number): boolean =>
  direction === 'above' ? v <= limit - deadband : v >= limit + deadband;
